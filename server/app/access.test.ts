import { describe, expect, it } from 'vitest';

import { pino } from 'pino';

import { may, ROLE_NAMES, type Role } from '#api';
import { createServer } from '#server/app';
import { frontOf, type GuardedHandler } from '#server/http';

import { NOON, openSchool, runnerOf } from '../testing/fixture.ts';

/** Somebody of each role, and nobody. */
const CALLERS = [
  [null, null],
  ['student', 'ansel'],
  ['assistant', 'tilda'],
  ['instructor', 'orla'],
  ['administrator', 'bodil'],
] as const satisfies readonly (readonly [Role | null, string | null])[];

describe('every route of the API', () => {
  it('says who may call it, and turns everyone else away', async () => {
    expect(CALLERS.flatMap(([role]) => role ?? []).sort()).toEqual([...ROLE_NAMES].sort());
    const school = await openSchool();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    const routes = school.app.routes.filter((route) => route.path.startsWith('/api/') && route.method !== 'ALL');
    const paths = [...new Set(routes.map((route) => `${route.method} ${route.path}`))];
    expect(paths.length).toBeGreaterThan(15);
    for (const key of paths) {
      const [method = '', path = ''] = key.split(' ');
      const guards = routes.flatMap((route) =>
        route.method === method && route.path === path && 'access' in route.handler
          ? [route.handler as GuardedHandler]
          : [],
      );
      expect(guards, `${key} declares who may call it`).toHaveLength(1);
      const access = guards[0]?.access;
      if (key === 'GET /api/events') continue; // a stream without end; tried in the browser tests
      for (const [role, login] of CALLERS) {
        if (key === 'DELETE /api/session') continue; // signs out those who are asked for next
        const response = await school.request(
          login,
          method,
          path.replaceAll(/:\w+/g, '1'),
          method === 'GET' ? undefined : {},
        );
        const allowed =
          access === 'anyone' ||
          (role !== null && (access === 'signed-in' || (access !== undefined && may(role, access))));
        const turnedAway = response.status === 401 || response.status === 403;
        expect(turnedAway, `${key} as ${login ?? 'nobody'}: ${String(response.status)}`).toBe(!allowed);
      }
    }
  });

  it('takes whatever is sent to it, and refuses it with a code and a sentence', async () => {
    const school = await openSchool();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    const routes = school.app.routes.filter((route) => route.path.startsWith('/api/') && route.method !== 'ALL');
    const ids = [
      '0',
      '-1',
      'abc',
      '1.5',
      '1e3',
      '99999999999999999999',
      '%00',
      '..%2f..%2fetc',
      "1'--",
      'x'.repeat(3000),
    ];
    const bodies = [
      '',
      'null',
      '[]',
      '{}',
      '{"version":1e308}',
      '{"__proto__":{"role":"instructor"}}',
      '{"action":{"kind":"nonsense"}}',
      '{"exerciseId":1,"sectionId":1,"opensAt":"yesterday","dueAt":"2026-13-45","attemptsAllowed":-1}',
      '{"a":'.repeat(2000),
      `"${'x'.repeat(100_000)}"`,
      '\u0000\uFFFD',
    ];
    const cookies = [await school.cookieOf('orla'), await school.cookieOf('ansel'), ''];
    const odd: string[] = [];
    for (const { method, path } of routes) {
      if (path === '/api/events' || (method === 'DELETE' && path === '/api/session')) continue;
      const hasId = /:\w+/.test(path);
      const addresses = hasId ? ids.map((id) => path.replaceAll(/:\w+/g, id)) : [path];
      // With the number of something that is there, only what is sent along is odd.
      if (hasId && method !== 'GET') addresses.push(path.replaceAll(/:\w+/g, '1'));
      for (const cookie of cookies)
        for (const address of addresses)
          for (const body of method === 'GET' ? [null] : bodies) {
            const response = await school.app.request(`${address}?name=%F0%9F&unit=cubits`, {
              method,
              headers: { origin: 'http://localhost', cookie, 'Content-Type': 'application/json' },
              body,
            });
            const text = await response.text();
            const isRefusal = response.status >= 400 && response.status < 500;
            const isSaid = /"code":"[a-z0-9-]+","message":".+"/.test(text);
            if (response.status >= 500 || (isRefusal && !isSaid))
              odd.push(
                `${method} ${address.slice(0, 80)} ${String(body).slice(0, 40)}: ${String(response.status)} ${text.slice(0, 80)}`,
              );
          }
    }
    expect(odd).toEqual([]);
  });

  it('answers an unknown address with a sentence, not with a page', async () => {
    const school = await openSchool();
    const response = await school.request('orla', 'GET', '/api/nothing-here');
    expect(response.status).toBe(404);
    expect(await response.json()).toMatchObject({ error: { code: 'not-found' } });
  });

  it('carries a strict content policy', async () => {
    const school = await openSchool();
    const response = await school.request(null, 'GET', '/api/session');
    expect(response.headers.get('content-security-policy')).toContain("script-src 'self'");
    expect(response.headers.get('content-security-policy')).toContain("default-src 'none'");
    expect(response.headers.get('x-frame-options')).toBe('DENY');
  });
});

describe('what does not belong to the caller is not found', () => {
  it('another student cannot read an attempt, its model or its file', async () => {
    const school = await openSchool();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    for (const path of ['/api/attempts/1', '/api/attempts/1/model', '/api/attempts/1/file']) {
      expect((await school.request('ansel', 'GET', path)).status).toBe(200);
      expect((await school.request('fia', 'GET', path)).status).toBe(404);
    }
  });

  it('an instructor of another course sees neither exercise nor attempts', async () => {
    const school = await openSchool();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    for (const path of ['/api/attempts/1', '/api/assignments/1', '/api/exercises/1', '/api/exercises/1/reference'])
      expect((await school.request('pim', 'GET', path)).status).toBe(404);
    expect((await school.request('pim', 'GET', '/api/exercises').then((r) => r.json())) as object).toEqual({
      exercises: [],
    });
  });

  it('a student reaches nothing of the reference but the sheet', async () => {
    const school = await openSchool();
    for (const path of ['/api/exercises', '/api/exercises/1', '/api/exercises/1/model', '/api/exercises/1/reference'])
      expect((await school.request('ansel', 'GET', path)).status).toBe(403);
    const work = await school.request('ansel', 'GET', `/api/work/${String(school.assignmentId)}`).then((r) => r.text());
    expect(work).not.toMatch(/67123|checks|targets|nominal/);
    expect((await school.request('ansel', 'GET', `/api/work/${String(school.assignmentId)}/sheet.svg`)).status).toBe(
      200,
    );
  });

  it('an assignment that is not open yet does not exist for a student', async () => {
    const school = await openSchool();
    const { futureAssignmentId: id } = school;
    expect((await school.request('ansel', 'GET', `/api/work/${String(id)}`)).status).toBe(404);
    expect((await school.request('ansel', 'GET', `/api/work/${String(id)}/sheet.svg`)).status).toBe(404);
    expect((await school.handIn('ansel', id, 'early')).status).toBe(409);
  });

  it('a form of another site is turned away', async () => {
    const school = await openSchool();
    const form = new FormData();
    form.append('file', new File(['x'], 'part.step'));
    const response = await school.app.request(`/api/work/${String(school.assignmentId)}/attempts`, {
      method: 'POST',
      headers: { cookie: await school.cookieOf('ansel'), origin: 'https://elsewhere.example' },
      body: form,
    });
    expect(response.status).toBe(403);
  });
});

it('behind a proxy with HTTPS, a form of the public address is taken, and the cookie is for HTTPS alone', async () => {
  const { db, files } = await openSchool();
  const log = pino({ level: 'silent' });
  const runner = runnerOf(
    () => ({ kind: 'timed-out' }),
    () => files,
  );
  const front = frontOf('https://zorvet.saltmarsh.example', '127.0.0.1');
  const { app } = createServer(
    { db, files, runner, log, now: () => NOON },
    { webRoot: null, secureCookie: false, front },
  );
  const signIn = await app.request('http://10.0.0.7:4310/api/session', {
    method: 'POST',
    headers: { 'content-type': 'application/json', origin: 'https://zorvet.saltmarsh.example' },
    body: JSON.stringify({ login: 'ansel', password: 'tide' }),
  });
  expect(signIn.headers.get('set-cookie')).toContain('Secure');
  const handIn = (origin: string) => {
    const body = new FormData();
    body.append('file', new File(['x'], 'part.step'));
    const cookie = signIn.headers.get('set-cookie')?.split(';')[0] ?? '';
    return app.request('http://10.0.0.7:4310/api/work/1/attempts', {
      method: 'POST',
      headers: { cookie, origin },
      body,
    });
  };
  expect((await handIn('https://zorvet.saltmarsh.example')).status).toBe(202);
  expect((await handIn('https://elsewhere.example')).status).toBe(403);
});

describe('requests that are far too large', () => {
  const post = async (path: string, body: BodyInit, cookie: string | null, length?: number): Promise<number> => {
    const school = await openSchool();
    const response = await school.app.request(path, {
      method: 'POST',
      headers: {
        'content-type': 'application/json',
        ...(cookie === null ? {} : { cookie: await school.cookieOf(cookie) }),
        ...(length === undefined ? {} : { 'content-length': String(length) }),
      },
      body,
      // What a stream needs in Node.
      ...(body instanceof ReadableStream ? { duplex: 'half' } : {}),
    });
    return response.status;
  };
  const megabytes = (count: number): string => JSON.stringify({ login: 'x'.repeat(count * 1024 * 1024), password: '' });

  it('are refused without being read, of nobody from 16 KB on and of an instructor from 2.5 MB on', async () => {
    expect(await post('/api/session', megabytes(1), null)).toBe(413);
    expect(await post('/api/exercises', megabytes(3), 'orla')).toBe(413);
    expect(await post('/api/exercises', megabytes(1), 'orla')).toBe(400);
  });

  it('also where they do not say how large they are', async () => {
    let sent = 0;
    const endless = new ReadableStream<Uint8Array>({
      pull: (controller) => {
        sent += 64 * 1024;
        controller.enqueue(new Uint8Array(64 * 1024).fill(32));
        if (sent > 64 * 1024 * 1024) controller.close();
      },
    });
    expect(await post('/api/session', endless, null)).toBe(413);
    expect(sent).toBeLessThan(1024 * 1024);
  });
});

describe('signing in', () => {
  const signIn = (school: Awaited<ReturnType<typeof openSchool>>, login: string, password: string) =>
    school.request(null, 'POST', '/api/session', { login, password });

  it('does not tell a wrong name from a wrong password', async () => {
    const school = await openSchool();
    const [name, password] = await Promise.all([signIn(school, 'nobody', 'tide'), signIn(school, 'orla', 'wrong')]);
    expect([name.status, password.status]).toEqual([401, 401]);
    expect(await name.text()).toBe(await password.text());
  });

  it('slows down after many wrong tries, and says for how long', async () => {
    const school = await openSchool();
    for (let i = 0; i < 8; i++) await signIn(school, 'orla', 'wrong');
    const response = await signIn(school, 'orla', 'tide');
    expect(response.status).toBe(429);
    expect(Number(response.headers.get('retry-after'))).toBeGreaterThan(0);
  });

  it('sets a cookie that scripts cannot read, and only its hash is stored', async () => {
    const school = await openSchool();
    const response = await signIn(school, 'orla', 'tide');
    const cookie = response.headers.get('set-cookie') ?? '';
    expect(cookie).toContain('HttpOnly');
    expect(cookie).toContain('SameSite=Lax');
    const token = /zorvet_session=([^;]+)/.exec(cookie)?.[1] ?? '';
    const stored = school.db.prepare('SELECT token_hash FROM sessions').all();
    expect(JSON.stringify(stored)).not.toContain(token);
  });

  it('runs out after a working day', async () => {
    const school = await openSchool();
    expect((await school.request('orla', 'GET', '/api/desk')).status).toBe(200);
    school.setHour(15);
    expect((await school.request('orla', 'GET', '/api/desk')).status).toBe(401);
  });
});
