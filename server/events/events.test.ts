import { describe, expect, it, onTestFinished, vi } from 'vitest';

import { GRADED, openSchool, type School } from '../testing/fixture.ts';

/** Reads the stream of a user until `count` attempt events have come. */
async function listen(
  school: School,
  login: string,
): Promise<{ take(count: number): Promise<string[]>; close(): void }> {
  const controller = new AbortController();
  const response = await school.app.request('/api/events', {
    headers: { cookie: await school.cookieOf(login) },
    signal: controller.signal,
  });
  const reader = response.body?.getReader();
  if (!reader) throw new Error('no stream');
  let text = '';
  const decoder = new TextDecoder();
  const read = async (): Promise<void> => {
    const { value } = await reader.read();
    text += decoder.decode(value, { stream: true });
  };
  while (!text.includes('hello')) await read();
  return {
    async take(count) {
      const events = () => [...text.matchAll(/event: attempt\ndata: (.*)\n/g)].map((match) => match[1] ?? '');
      while (events().length < count) await read();
      return events();
    },
    close: () => {
      controller.abort();
      void reader.cancel();
    },
  };
}

describe('events', () => {
  it('tell a student the stages of their own attempt, in order', async () => {
    const school = await openSchool(() => GRADED);
    const stream = await listen(school, 'ansel');
    await school.handIn('ansel', school.assignmentId, 'a model');
    const events = (await stream.take(3)).map((line) => JSON.parse(line) as { state: string; stage: string | null });
    stream.close();
    expect(events.map(({ state, stage }) => stage ?? state)).toEqual(['reading', 'measuring', 'graded']);
  });

  it('tell the instructor of the course of everyone, and a student of nobody else', async () => {
    const school = await openSchool(() => GRADED);
    const [instructor, student] = [await listen(school, 'orla'), await listen(school, 'fia')];
    await school.handIn('ansel', school.assignmentId, 'a model');
    expect(await instructor.take(3)).toHaveLength(3);
    await school.queue.idle();
    await school.handIn('fia', school.assignmentId, 'another');
    const own = (await student.take(3)).map((line) => JSON.parse(line) as { attemptId: number });
    for (const stream of [instructor, student]) stream.close();
    expect(own.map(({ attemptId }) => attemptId)).toEqual([2, 2, 2]);
  });

  it('end with the session', async () => {
    const school = await openSchool(() => GRADED);
    const response = await school.app.request('/api/events', { headers: { cookie: await school.cookieOf('ansel') } });
    const rest = response.text();
    await school.request('ansel', 'DELETE', '/api/session');
    expect(await rest).toContain('hello');
  });

  it('end at once with the old password, in other browsers too', async () => {
    // Without heartbeats, which would notice it some seconds later.
    vi.useFakeTimers({ toFake: ['setInterval'] });
    onTestFinished(() => {
      vi.useRealTimers();
    });
    const school = await openSchool(() => GRADED);
    const signedIn = await school.request(null, 'POST', '/api/session', { login: 'ansel', password: 'tide' });
    const cookie = signedIn.headers.get('set-cookie')?.split(';', 1)[0] ?? '';
    const rest = (await school.app.request('/api/events', { headers: { cookie } })).text();
    const passwords = { before: 'tide', password: 'mast lantern pebble' };
    expect((await school.request('ansel', 'POST', '/api/account/password', passwords)).status).toBe(200);
    expect(await rest).toContain('hello');
  });

  it('tell a student that a report was released or said something about', async () => {
    const school = await openSchool(() => GRADED);
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    const [student, other] = [await listen(school, 'ansel'), await listen(school, 'fia')];
    const remark = { kind: 'remark', text: 'Look at the section.', pin: null };
    await school.request('orla', 'POST', '/api/attempts/1/review', { version: 0, action: remark });
    expect((await student.take(1)).map((line) => JSON.parse(line) as unknown)).toMatchObject([
      { attemptId: 1, state: 'graded', stage: null },
    ]);
    await school.handIn('fia', school.assignmentId, 'another');
    // The first that another student hears of is an attempt of their own.
    expect(JSON.parse((await other.take(1))[0] ?? '')).toMatchObject({ attemptId: 2 });
    for (const stream of [student, other]) stream.close();
  });
});
