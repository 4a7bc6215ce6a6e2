import { pino } from 'pino';
import { describe, expect, it } from 'vitest';

import type { SetupState } from '#api';
import { createServer } from '#server/app';
import { checkPassword } from '#server/auth';
import { openDatabase } from '#server/db';
import { createFileStore } from '#server/files';

import { NOON, openSchool, runnerOf, type School } from '../testing/fixture.ts';

const errorOf = async (response: Response) =>
  ((await response.json()) as { error: { code: string; message: string } }).error;
const GOOD = 'otter lamp quay';

const SETUP = {
  code: '1111-2222-3333',
  name: 'Orla Fenwick',
  login: 'orla',
  password: GOOD,
  school: 'Saltmarsh',
  course: 'Fittings',
  section: 'Morning',
  timeZone: 'Europe/London',
};

describe('the first account', () => {
  /** A server on an empty database. */
  async function openEmpty() {
    const school = await openSchool();
    const db = openDatabase(':memory:');
    const files = createFileStore(`${school.folder}/empty`, db, () => NOON);
    const runner = runnerOf(
      () => ({ kind: 'timed-out' }),
      () => files,
    );
    const server = createServer(
      { db, files, runner, log: pino({ level: 'silent' }), now: () => NOON },
      { webRoot: null, secureCookie: false, setupCode: SETUP.code },
    );
    const ask = (method: string, at: string, body?: object, cookie = '') =>
      server.app.request(at, {
        method,
        headers: { 'content-type': 'application/json', origin: 'http://localhost', cookie },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
      });
    return { server, ask };
  }

  it('is made in the page by whoever knows the code of the console, teaches the first course and looks after the service', async () => {
    const { server, ask } = await openEmpty();
    expect(server.setupCode).toBe(SETUP.code);
    expect((await (await ask('GET', '/api/setup')).json()) as SetupState).toMatchObject({ needed: true });
    const made = await ask('POST', '/api/setup', SETUP);
    expect(made.status).toBe(200);
    const cookie = made.headers.get('set-cookie')?.split(';')[0] ?? '';
    expect(await (await ask('GET', '/api/courses', undefined, cookie)).json()).toMatchObject({
      courses: [{ title: 'Fittings', timeZone: 'Europe/London', mayManage: true, sections: [{ name: 'Morning' }] }],
    });
    expect((await ask('GET', '/api/service', undefined, cookie)).status).toBe(200);
    expect((await (await ask('GET', '/api/setup')).json()) as SetupState).toMatchObject({ needed: false });
  });

  it('is made once, and by nobody without the code', async () => {
    const { ask } = await openEmpty();
    expect((await errorOf(await ask('POST', '/api/setup', { ...SETUP, code: '1111-2222-3334' }))).code).toBe(
      'wrong-code',
    );
    expect((await errorOf(await ask('POST', '/api/setup', { ...SETUP, timeZone: 'Mars' }))).code).toBe('bad-input');
    expect((await errorOf(await ask('POST', '/api/setup', { ...SETUP, password: 'password1' }))).code).toBe(
      'weak-password',
    );
    expect((await ask('POST', '/api/setup', SETUP)).status).toBe(200);
    expect((await errorOf(await ask('POST', '/api/setup', { ...SETUP, login: 'pim' }))).code).toBe('set-up-already');
  });

  it('is slowed down for whoever guesses the code', async () => {
    const { ask } = await openEmpty();
    const codes = await Promise.all(
      Array.from(
        { length: 12 },
        async (_, i) => (await ask('POST', '/api/setup', { ...SETUP, code: `0000-0000-${String(i)}` })).status,
      ),
    );
    expect(codes.filter((status) => status === 429).length).toBeGreaterThan(0);
  });
});

describe('a password', () => {
  it.each([
    ['short1', 'characters'],
    ['password', 'first that would be tried'],
    ['Sunshine123!', 'first that would be tried'],
    ['ansel loves boats', 'your name'],
    ['aaaaaaaaaa', 'repeats'],
  ])('"%s" is not taken: %s', (password, why) => {
    const checked = checkPassword(password, { login: 'ansel', name: 'Ansel Brody' });
    expect(checked.ok ? '' : checked.problem.message).toContain(why);
  });

  it('that is good is taken', () => {
    expect(checkPassword(GOOD, { login: 'ansel', name: 'Ansel Brody' }).ok).toBe(true);
  });
});

const post = (school: School, login: string | null, at: string, body: object) =>
  school.request(login, 'POST', at, body);

/** The code of somebody, as an instructor makes it. */
async function codeFor(school: School, login: string): Promise<string> {
  const id = school.db.prepare<[string], number>('SELECT id FROM users WHERE login = ?').pluck().get(login) ?? 0;
  const answer = await post(school, 'orla', `/api/sections/1/students/${String(id)}/code`, {});
  return ((await answer.json()) as { code: string }).code;
}

describe('a first sign-in', () => {
  it('by the code of a slip, once, with an own password; older sessions end', async () => {
    const school = await openSchool();
    await school.request('ansel', 'GET', '/api/work');
    const code = await codeFor(school, 'ansel');
    const typed = code.toUpperCase().replaceAll('-', ' ');
    expect((await post(school, null, '/api/session/code', { code: typed, password: GOOD })).status).toBe(200);
    expect((await school.request('ansel', 'GET', '/api/work')).status).toBe(401);
    expect((await post(school, null, '/api/session', { login: 'ansel', password: GOOD })).status).toBe(200);
    const again = await post(school, null, '/api/session/code', { code, password: `${GOOD} two` });
    expect((await errorOf(again)).code).toBe('wrong-code');
  });

  it('with a weak password is refused, and the code stays good', async () => {
    const school = await openSchool();
    const code = await codeFor(school, 'ansel');
    expect((await errorOf(await post(school, null, '/api/session/code', { code, password: 'password' }))).code).toBe(
      'weak-password',
    );
    expect((await post(school, null, '/api/session/code', { code, password: GOOD })).status).toBe(200);
  });

  it('with a code that is a month old is refused', async () => {
    const school = await openSchool();
    const code = await codeFor(school, 'ansel');
    school.setHour(31 * 24);
    expect((await errorOf(await post(school, null, '/api/session/code', { code, password: GOOD }))).code).toBe(
      'wrong-code',
    );
  });

  it('is not possible with a password as long as there is none', async () => {
    const school = await openSchool();
    school.db.exec("UPDATE users SET password_hash = '' WHERE login = 'ansel'");
    for (const password of ['', 'no one', 'tide'])
      expect((await post(school, null, '/api/session', { login: 'ansel', password })).ok).toBe(false);
  });
});

describe('an own account', () => {
  it('gets another password by the one until now; other sessions end, this one goes on', async () => {
    const school = await openSchool();
    const other = await school.cookieOf('ansel');
    school.signOutAll();
    const wrong = await post(school, 'ansel', '/api/account/password', { before: 'ebb', password: GOOD });
    expect((await errorOf(wrong)).code).toBe('wrong-password');
    const changed = await post(school, 'ansel', '/api/account/password', { before: 'tide', password: GOOD });
    const cookie = changed.headers.get('set-cookie')?.split(';')[0] ?? '';
    const status = async (one: string) => (await school.app.request('/api/work', { headers: { cookie: one } })).status;
    expect([await status(other), await status(cookie)]).toEqual([401, 200]);
  });

  it('ends its sessions elsewhere', async () => {
    const school = await openSchool();
    const other = await school.cookieOf('ansel');
    school.signOutAll();
    expect((await post(school, 'ansel', '/api/account/end-others', {})).status).toBe(200);
    expect((await school.app.request('/api/work', { headers: { cookie: other } })).status).toBe(401);
    expect((await school.request('ansel', 'GET', '/api/work')).status).toBe(200);
  });
});

describe('a section that may be joined', () => {
  const NEW = { name: 'Gil Hesper', login: 'gil', password: GOOD };
  async function openJoinable() {
    const school = await openSchool();
    await school.request('orla', 'PATCH', '/api/sections/1', { mayJoin: true });
    const { courses } = (await (await school.request('orla', 'GET', '/api/courses')).json()) as {
      courses: { sections: { joinCode: string }[] }[];
    };
    return { school, at: `/api/join/${courses[0]?.sections[0]?.joinCode ?? ''}` };
  }

  it('is joined by whoever has the link, under a sign-in name of their own', async () => {
    const { school, at } = await openJoinable();
    expect(await (await school.request(null, 'GET', at)).json()).toMatchObject({
      course: 'Fittings',
      section: 'Morning',
    });
    expect((await post(school, null, at, NEW)).status).toBe(200);
    expect((await errorOf(await post(school, null, at, { ...NEW, login: 'ANSEL' }))).code).toBe('login-taken');
    const roster = (await (await school.request('orla', 'GET', '/api/sections/1/students')).json()) as {
      students: { login: string }[];
    };
    expect(roster.students.map(({ login }) => login)).toContain('gil');
  });

  it('is closed again at any time', async () => {
    const { school, at } = await openJoinable();
    await school.request('orla', 'PATCH', '/api/sections/1', { mayJoin: false });
    expect((await school.request(null, 'GET', at)).status).toBe(404);
    expect((await errorOf(await post(school, null, at, NEW))).code).toBe('wrong-code');
  });
});
