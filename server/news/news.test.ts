import { pino } from 'pino';
import { describe, expect, it } from 'vitest';

import type { News } from '#api';
import { serveMailbox } from '#demo/mailbox';
import { createMailRound, createPostOffice, mailSettings } from '#server/news';

import { NOON, openSchool, type School } from '../testing/fixture.ts';

const hour = (hours: number): string => new Date(NOON.getTime() + hours * 3_600_000).toISOString();
const newsOf = async (school: School, login: string): Promise<News> =>
  (await (await school.request(login, 'GET', '/api/news')).json()) as News;
const textsOf = async (school: School, login: string): Promise<string[]> =>
  (await newsOf(school, login)).items.map(({ text }) => text);
const idOf = (school: School, login: string): number =>
  school.db.prepare<[string], number>('SELECT id FROM users WHERE login = ?').pluck().get(login) ?? 0;
const handsIn = async (school: School, login: string): Promise<void> => {
  await school.handIn(login, 1, 'a model');
  await school.queue.idle();
};
/** The clock goes on by minutes, so that one thing comes after the other. */
const review = (school: School, action: object, version: number) =>
  school.request('orla', 'POST', '/api/attempts/1/review', { version, action });

describe('what is new for a student', () => {
  it('is what was issued, from the opening on', async () => {
    const school = await openSchool();
    expect(await textsOf(school, 'ansel')).toEqual(['SB-101 Cleat plate is there, due Monday 4 May, 22:00.']);
    school.setHour(20.5);
    school.signOutAll();
    expect(await textsOf(school, 'ansel')).toContain('SB-101 Cleat plate is there, due Tuesday 5 May, 18:00.');
  });

  it('is another due time, but not to whoever has one of their own', async () => {
    const school = await openSchool();
    await school.request('orla', 'PUT', `/api/assignments/1/extensions/${String(idOf(school, 'fia'))}`, {
      dueAt: hour(72),
      extraAttempts: 1,
      standing: 'owed',
      reason: 'Was ill for a week.',
    });
    school.setHour(1);
    await school.request('orla', 'PATCH', '/api/assignments/1', { dueAt: hour(48) });
    expect(await textsOf(school, 'ansel')).toContain('SB-101 Cleat plate is due Wednesday 6 May, 12:00 now.');
    const fia = await textsOf(school, 'fia');
    expect(fia).toContain('You have until Thursday 7 May, 12:00 and 1 attempt more for SB-101 Cleat plate.');
    expect(fia.join(' ')).not.toContain(' now.');
  });

  it('is a report that was released, and a remark once it may be read', async () => {
    const school = await openSchool();
    school.db.prepare("UPDATE assignments SET release = 'by-hand'").run();
    await handsIn(school, 'ansel');
    school.setHour(1);
    await review(school, { kind: 'remark', text: 'Look at the bolts.', pin: null }, 0);
    expect((await textsOf(school, 'ansel')).join(' ')).not.toContain('written');
    school.setHour(2);
    expect((await review(school, { kind: 'release' }, 1)).status).toBe(200);
    const [newest, remark] = (await newsOf(school, 'ansel')).items;
    expect(newest).toMatchObject({
      kind: 'report',
      text: 'Your report on SB-101 Cleat plate is there.',
      to: '/my/attempts/1',
      at: hour(2),
    });
    expect(remark?.text).toBe('Your instructor has written to your SB-101 Cleat plate.');
    // It is nobody else's business.
    expect((await textsOf(school, 'fia')).join(' ')).not.toContain('report');
  });

  it('is a reminder two days before the due time, as long as nothing is handed in', async () => {
    const school = await openSchool();
    await school.request('orla', 'PATCH', '/api/assignments/1', { dueAt: hour(100) });
    school.setHour(51);
    school.signOutAll();
    expect((await textsOf(school, 'ansel')).join(' ')).not.toContain('nothing is handed in');
    school.setHour(53);
    expect((await textsOf(school, 'ansel')).join(' ')).toContain(
      'SB-101 Cleat plate is due Friday 8 May, 16:00, and nothing is handed in yet.',
    );
    await handsIn(school, 'ansel');
    expect((await textsOf(school, 'ansel')).join(' ')).not.toContain('nothing is handed in');
    expect((await textsOf(school, 'fia')).join(' ')).toContain('nothing is handed in');
  });

  it('is not what was issued shortly before its due time a second time, as a reminder', async () => {
    const school = await openSchool();
    expect(await textsOf(school, 'ansel')).toHaveLength(1);
  });

  it('is that the answers are there, for whoever handed in', async () => {
    const school = await openSchool();
    await handsIn(school, 'ansel');
    school.setHour(11);
    expect(await textsOf(school, 'ansel')).toContain('The answers of SB-101 Cleat plate are there.');
    expect((await textsOf(school, 'fia')).join(' ')).not.toContain('answers');
  });

  it('is nothing of what was withdrawn', async () => {
    const school = await openSchool();
    await school.request('orla', 'PATCH', '/api/assignments/1', { withdrawn: true });
    expect(await textsOf(school, 'ansel')).toEqual([]);
  });

  it('is seen once it was looked at, and stays in the list', async () => {
    const school = await openSchool();
    expect((await newsOf(school, 'ansel')).items.map(({ isNew }) => isNew)).toEqual([true]);
    await school.request('ansel', 'POST', '/api/news/seen', {});
    expect((await newsOf(school, 'ansel')).items.map(({ isNew }) => isNew)).toEqual([false]);
    school.setHour(24 * 40);
    school.signOutAll();
    expect((await newsOf(school, 'ansel')).items.map(({ kind }) => kind)).not.toContain('issued');
  });
});

describe('what is new for those who teach', () => {
  it('is what students write, until it is answered', async () => {
    const school = await openSchool();
    await handsIn(school, 'ansel');
    school.setHour(1);
    await school.request('ansel', 'POST', '/api/attempts/1/replies', { text: 'It fits here.', wantsLook: true });
    expect(await textsOf(school, 'orla')).toEqual(['ansel asks for another look at SB-101 Cleat plate.']);
    expect(await textsOf(school, 'tilda')).toHaveLength(1);
    expect(await textsOf(school, 'pim')).toEqual([]);
    school.setHour(2);
    const { replies } = (
      (await (await school.request('orla', 'GET', '/api/attempts/1')).json()) as {
        review: { replies: { id: number }[] };
      }
    ).review;
    const answered = await review(
      school,
      { kind: 'answer', replyId: replies[0]?.id, text: 'Measure from the other edge.' },
      0,
    );
    expect(answered.status).toBe(200);
    expect(await textsOf(school, 'orla')).toEqual([]);
    expect(await textsOf(school, 'ansel')).toContain('What you wrote about SB-101 Cleat plate is answered.');
  });

  it('is who has not begun two days before, and how many handed in when it was due', async () => {
    const school = await openSchool();
    await school.request('orla', 'PATCH', '/api/assignments/1', { dueAt: hour(100) });
    await handsIn(school, 'ansel');
    school.setHour(60);
    school.signOutAll();
    expect((await textsOf(school, 'orla')).join(' ')).toContain(
      'SB-101 Cleat plate for Morning is due Friday 8 May, 16:00; 1 of 2 students have not handed in.',
    );
    school.setHour(101);
    school.signOutAll();
    const texts = await textsOf(school, 'orla');
    expect(texts.join(' ')).toContain('SB-101 Cleat plate for Morning was due; 1 of 2 students have handed in.');
    expect(texts.join(' ')).not.toContain('have not');
  });
});

describe('mail', () => {
  async function withMail(office?: { send: () => Promise<void>; close: () => void }) {
    const school = await openSchool();
    school.db.prepare("UPDATE users SET email = login || '@saltmarsh.example' WHERE login IN ('ansel', 'fia')").run();
    const box = await serveMailbox({ smtp: 0, page: 0 });
    let clock = NOON;
    const round = createMailRound({
      db: school.db,
      news: school.news,
      office: office ?? createPostOffice({ url: box.smtpUrl, from: 'Zorvet <zorvet@saltmarsh.example>' }),
      publicUrl: new URL('https://zorvet.saltmarsh.example'),
      log: pino({ level: 'silent' }),
      now: () => clock,
    });
    const at = (hours: number): void => {
      clock = new Date(NOON.getTime() + hours * 3_600_000);
      school.setHour(hours);
      school.signOutAll();
    };
    return {
      school,
      box,
      round,
      at,
      close: async () => {
        round.stop();
        await box.close();
      },
    };
  }

  it('says what is new once, with where it is, to those who have an address and want it', async () => {
    const { school, box, round, at, close } = await withMail();
    await school.request('fia', 'PUT', '/api/news/mail', { wanted: false });
    at(20.5);
    expect(await round.round()).toBe(1);
    const [letter] = box.letters();
    expect(letter).toMatchObject({
      to: 'ansel <ansel@saltmarsh.example>',
      from: 'Zorvet <zorvet@saltmarsh.example>',
      subject: 'SB-101 Cleat plate is there, due Tuesday 5 May, 18:00',
    });
    expect(letter?.text).toContain('https://zorvet.saltmarsh.example/my/2');
    expect(await round.round()).toBe(0);
    const page = await (await fetch(box.pageUrl.replace('localhost', '127.0.0.1'))).text();
    expect(page).toContain('ansel@saltmarsh.example');
    await close();
  });

  it('goes to the address that one who teaches gives; students have theirs from the list of the section', async () => {
    const school = await openSchool();
    const put = (login: string, address: string) =>
      school.request(login, 'PUT', '/api/news/mail', { wanted: true, address });
    expect((await put('orla', 'orla')).status).toBe(400);
    expect((await put('orla', ' Orla@saltmarsh.example ')).status).toBe(200);
    expect((await newsOf(school, 'orla')).mail).toMatchObject({ address: 'orla@saltmarsh.example', mayChange: true });
    expect((await put('ansel', 'fia@saltmarsh.example')).status).toBe(403);
    expect((await newsOf(school, 'ansel')).mail).toMatchObject({ address: null, mayChange: false });
  });

  it('that is not taken is sent the next time, and the others wait no longer for it', async () => {
    let isDown = true;
    const taken: number[] = [];
    const { round, at, close } = await withMail({
      send: () => (isDown ? Promise.reject(new Error('connection refused')) : Promise.resolve(void taken.push(1))),
      close: () => undefined,
    });
    at(20.5);
    expect(await round.round()).toBe(0);
    isDown = false;
    expect(await round.round()).toBe(2);
    expect(taken).toHaveLength(2);
    await close();
  });

  it('is set up by two settings, and says which one is wrong', () => {
    expect(mailSettings({})).toBeNull();
    expect(mailSettings({ ZORVET_SMTP_URL: 'smtp://mail.example:587', ZORVET_MAIL_FROM: 'a@b.example' })?.url).toBe(
      'smtp://mail.example:587',
    );
    expect(() => mailSettings({ ZORVET_SMTP_URL: 'mail.example' })).toThrow('ZORVET_SMTP_URL');
    expect(() => mailSettings({ ZORVET_SMTP_URL: 'smtp://mail.example' })).toThrow('ZORVET_MAIL_FROM');
  });
});
