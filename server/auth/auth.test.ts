import { describe, expect, it } from 'vitest';

import { createSessions, hashPassword, resetPassword, verifyPassword } from '#server/auth';
import { openDatabase } from '#server/db';

import { openSchool } from '../testing/fixture.ts';

describe('a password', () => {
  it('belongs to its hash only', async () => {
    const hash = await hashPassword('low tide');
    expect(await verifyPassword('low tide', hash)).toBe(true);
    expect(await verifyPassword('high tide', hash)).toBe(false);
    expect(await verifyPassword('', hash)).toBe(false);
  });

  it('is hashed with a salt of its own, and with memory', async () => {
    const [a, b] = await Promise.all([hashPassword('same'), hashPassword('same')]);
    expect(a).not.toBe(b);
    // scrypt with N = 32768 and r = 8 takes 128 N r = 32 MiB.
    expect(a).toMatch(/^scrypt\$32768\$8\$1\$/);
  });

  it('is the same typed with composed or decomposed letters', async () => {
    expect(await verifyPassword('Mu\u0308hle', await hashPassword('M\u00fchle'))).toBe(true);
  });

  it.each(['', 'nonsense', 'scrypt$1$2', 'plain$x$y$z$a$b'])('never matches the broken hash "%s"', async (hash) => {
    expect(await verifyPassword('x', hash)).toBe(false);
  });
});

it('a new password is given to somebody by whoever runs the server, and ends the sessions of the old one', async () => {
  const school = await openSchool();
  expect((await school.request('ansel', 'GET', '/api/work')).status).toBe(200);
  const password = await resetPassword(school.db, 'ANSEL');
  expect(password).toMatch(/^([a-z2-9]{4}-){2}[a-z2-9]{4}$/);
  expect((await school.request('ansel', 'GET', '/api/work')).status).toBe(401);
  const signIn = (login: string, words: string | null) =>
    school.request(null, 'POST', '/api/session', { login, password: words });
  expect((await signIn('ansel', 'tide')).status).toBe(401);
  expect((await signIn('ansel', password)).status).toBe(200);
  expect(await resetPassword(school.db, 'nobody')).toBeNull();
});

describe('sessions', () => {
  const open = () => {
    let clock = new Date('2026-05-04T08:00:00.000Z');
    const db = openDatabase(':memory:');
    db.prepare(
      "INSERT INTO users (id, login, name, role, password_hash, created_at) VALUES (1, 'orla', 'Orla', 'instructor', '', '')",
    ).run();
    const sessions = createSessions(db, () => clock);
    return { db, sessions, pass: (hours: number) => (clock = new Date(clock.getTime() + hours * 3_600_000)) };
  };

  it('know their user until they end', () => {
    const { sessions } = open();
    const { token } = sessions.start(1);
    expect(sessions.userOf(token)).toEqual({
      id: 1,
      login: 'orla',
      name: 'Orla',
      role: 'instructor',
      administers: false,
    });
    sessions.end(token);
    expect(sessions.userOf(token)).toBeNull();
  });

  it('run out, and are cleared away at the next sign-in', () => {
    const { sessions, pass, db } = open();
    const { token } = sessions.start(1);
    pass(13);
    expect(sessions.userOf(token)).not.toBeNull();
    pass(2);
    expect(sessions.userOf(token)).toBeNull();
    sessions.start(1);
    expect(db.prepare('SELECT count(*) AS n FROM sessions').get()).toEqual({ n: 1 });
  });

  it('do not know a made-up token', () => {
    expect(open().sessions.userOf('made-up')).toBeNull();
  });
});
