import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { pino } from 'pino';
import { describe, expect, it, onTestFinished } from 'vitest';

import type { AttemptDetail, GradebookAnswer } from '#api';
import { createServer } from '#server/app';
import { openDatabase } from '#server/db';
import { createFileStore } from '#server/files';
import { openTerm } from '#server/term';

import { NOON, openSchool, runnerOf, type School } from '../testing/fixture.ts';

const courseOf = (school: School): number =>
  school.db.prepare<[], number>("SELECT id FROM courses WHERE title = 'Fittings'").pluck().get() ?? 0;
const archiveAt = (school: School): string => `/api/courses/${String(courseOf(school))}/archive.zip`;

/** A folder that is gone after the test. */
function folder(): string {
  const made = mkdtempSync(path.join(tmpdir(), 'zorvet-term-'));
  onTestFinished(() => {
    rmSync(made, { recursive: true, force: true });
  });
  return made;
}

/** A school where ansel has handed in, as the archive of its course. */
async function archived(): Promise<{ readonly school: School; readonly zip: Uint8Array }> {
  const school = await openSchool();
  await school.handIn('ansel', school.assignmentId, 'a model');
  await school.queue.idle();
  await school.request('ansel', 'POST', `/api/work/${String(school.assignmentId)}/questions`, {
    stage: 1,
    text: 'Which slot?',
    place: null,
  });
  const answer = await school.request('orla', 'GET', archiveAt(school));
  expect(answer.status).toBe(200);
  return { school, zip: new Uint8Array(await answer.arrayBuffer()) };
}

/** Opens an archive as its command does, and gives a way to ask its server. */
async function reading(zip: Uint8Array) {
  const at = folder();
  const file = path.join(at, 'archive.zip');
  writeFileSync(file, zip);
  const data = folder();
  const opened = await openTerm(file, data);
  if (!opened.ok) return opened;
  const db = openDatabase(path.join(data, 'zorvet.sqlite'));
  const now = (): Date => NOON;
  const files = createFileStore(path.join(data, 'files'), db, now);
  const { app } = createServer(
    {
      db,
      files,
      runner: runnerOf(
        () => ({ kind: 'timed-out' }),
        () => files,
      ),
      log: pino({ level: 'silent' }),
      now,
    },
    { webRoot: null, secureCookie: false, readOnlyAs: opened.value.readerId },
  );
  onTestFinished(() => {
    db.close();
  });
  const ask = (at: string, method = 'GET') =>
    app.request(at, { method, headers: { origin: 'http://localhost' }, ...(method === 'GET' ? {} : { body: '{}' }) });
  return { ok: true as const, ask, db, note: opened.value.note };
}

describe('the archive of a course', () => {
  it('opens again with assignments, work, reports, grades and files', async () => {
    const { zip, school } = await archived();
    const read = await reading(zip);
    if (!read.ok) throw new Error(read.problem.message);
    expect(read.note.course.title).toBe('Fittings');
    const book = (await (
      await read.ask(`/api/courses/${String(courseOf(school))}/gradebook`)
    ).json()) as GradebookAnswer;
    expect(book.rows.find(({ login }) => login === 'ansel')?.total).toBe(80);
    const report = (await (await read.ask('/api/attempts/1')).json()) as AttemptDetail;
    expect(report).toMatchObject({ student: { name: 'ansel' }, report: { score: 80 } });
    expect(await (await read.ask('/api/attempts/1/file')).text()).toBe('a model');
    expect(await (await read.ask(`/api/assignments/${String(school.assignmentId)}/questions`)).text()).toContain(
      'Which slot?',
    );
    expect(await (await read.ask('/api/session')).json()).toMatchObject({
      user: { login: 'orla', administers: false },
      isReadOnly: true,
    });
  });

  it('changes nothing, whoever asks for it', async () => {
    const { zip } = await archived();
    const read = await reading(zip);
    if (!read.ok) throw new Error(read.problem.message);
    for (const [method, at] of [
      ['POST', '/api/session'],
      ['PATCH', '/api/assignments/1'],
      ['DELETE', '/api/students/4'],
      ['PUT', '/api/questions/1/answer'],
    ] as const) {
      const answer = await read.ask(at, method);
      expect(answer.status).toBe(409);
      expect(await answer.json()).toMatchObject({ error: { code: 'read-only' } });
    }
  });

  it('has nothing of other courses, no password, no session and no key', async () => {
    const { zip, school } = await archived();
    const read = await reading(zip);
    if (!read.ok) throw new Error(read.problem.message);
    const all = (sql: string): unknown[] => read.db.prepare(sql).pluck().all();
    expect(all('SELECT title FROM courses')).toEqual(['Fittings']);
    // pim teaches another course, bodil none.
    expect(all('SELECT login FROM users ORDER BY login')).toEqual(['ansel', 'fia', 'orla', 'tilda']);
    expect(all("SELECT count(*) FROM users WHERE password_hash <> ''")).toEqual([0]);
    expect(all('SELECT count(*) FROM sessions')).toEqual([0]);
    // Neither between the pages of the file.
    const database = Buffer.from(unzipSync(zip)['zorvet.sqlite'] ?? new Uint8Array());
    const hash = school.db.prepare<[], string>('SELECT password_hash FROM users LIMIT 1').pluck().get() ?? '';
    expect(hash.length).toBeGreaterThan(20);
    expect(database.includes(hash)).toBe(false);
    expect(database.includes('Rigging')).toBe(false);
  });

  it('has no time log that its student keeps alone, and those that the course asks for', async () => {
    const school = await openSchool();
    const document = { estimateMinutes: 45, spans: [] };
    const timesIn = async (): Promise<number> => {
      const answer = await school.request('orla', 'GET', archiveAt(school));
      const opened = await reading(new Uint8Array(await answer.arrayBuffer()));
      if (!opened.ok) throw new Error(opened.problem.message);
      const times = opened.db.prepare<[], number>("SELECT count(*) FROM workings WHERE kind = 'time'").pluck();
      return times.get() ?? 0;
    };
    const at = `/api/work/${String(school.assignmentId)}/time`;
    await school.request('ansel', 'PUT', at, { version: 0, document });
    expect(await timesIn()).toBe(0);
    school.db.prepare("UPDATE assignments SET aids_json = json_set(aids_json, '$.time', 'shared')").run();
    expect(await timesIn()).toBe(1);
  });

  it('keeps the log of the course, which nobody can edit there either', async () => {
    const { school } = await archived();
    await school.request('orla', 'PATCH', '/api/assignments/1', { attemptsAllowed: 5 });
    const again = new Uint8Array(await (await school.request('orla', 'GET', archiveAt(school))).arrayBuffer());
    const read = await reading(again);
    if (!read.ok) throw new Error(read.problem.message);
    expect(read.db.prepare("SELECT count(*) FROM audit_log WHERE what = 'assignment'").pluck().get()).toBe(1);
    expect(() => read.db.prepare('DELETE FROM audit_log').run()).toThrow('the log cannot be edited');
  });

  it('is for those who manage the course, and leaves the course as it is', async () => {
    const { school } = await archived();
    expect((await school.request('pim', 'GET', archiveAt(school))).status).toBe(404);
    expect((await school.request('tilda', 'GET', archiveAt(school))).status).toBe(403);
    expect(school.db.prepare('SELECT count(*) FROM courses').pluck().get()).toBe(2);
    expect(school.db.prepare('SELECT count(*) FROM sessions').pluck().get()).toBeGreaterThan(0);
  });

  it.each([
    ['what is no zip', () => strToU8('no zip'), 'This is no archive of a course of Zorvet.'],
    ['another zip', () => zipSync({ 'a.txt': strToU8('a') }), 'This is no archive of a course of Zorvet.'],
    [
      'one that lacks a file',
      (files: Record<string, Uint8Array>) =>
        zipSync(
          Object.fromEntries(
            Object.entries(files).filter(([name], i, all) => !name.startsWith('files/') || i !== all.length - 1),
          ),
        ),
      'The archive cannot be read: it has',
    ],
    [
      'one whose file was changed',
      (files: Record<string, Uint8Array>) =>
        zipSync(
          Object.fromEntries(
            Object.entries(files).map(([name, content]) => [name, name.startsWith('files/') ? strToU8('x') : content]),
          ),
        ),
      'is not what its name says',
    ],
  ])('is refused: %s', async (_, change, message) => {
    const { zip } = await archived();
    const read = await reading(change(unzipSync(zip)));
    expect(read.ok ? '' : read.problem.message).toContain(message);
  });

  it('says what it is to whoever finds it', async () => {
    const { zip } = await archived();
    expect(strFromU8(unzipSync(zip)['read me.txt'] ?? new Uint8Array())).toContain('bin/zorvet open');
  });
});
