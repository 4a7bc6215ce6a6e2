import type { Hono, MiddlewareHandler } from 'hono';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';
import { RateLimiterMemory, type RateLimiterRes } from 'rate-limiter-flexible';

import { SignInSchema, type SessionSchema, type User } from '#api';
import type { Db } from '#server/db';
import { allow, jsonBody, refuseWith, type AppEnv } from '#server/http';
import type * as v from 'valibot';

import { hashPassword, verifyPassword } from './password.ts';
import type { Sessions } from './session.ts';

const COOKIE = 'zorvet_session';

type SessionBody = v.InferOutput<typeof SessionSchema>;

/** Reads the cookie of each request and puts the user, or null, beside it. */
export function identify(app: Hono<AppEnv>, sessions: Sessions): void {
  const identifyUser: MiddlewareHandler<AppEnv> = async (c, next) => {
    const token = getCookie(c, COOKIE);
    c.set('user', token === undefined ? null : sessions.userOf(token));
    await next();
  };
  app.use('/api/*', identifyUser);
}

/** Sign-in, sign-out, who am I. Wrong passwords are slowed down by name, and by address for many names. */
export function authRoutes(app: Hono<AppEnv>, db: Db, sessions: Sessions, secureCookie: boolean): void {
  const byName = new RateLimiterMemory({ points: 8, duration: 300 });
  const byAddress = new RateLimiterMemory({ points: 200, duration: 300 });
  const find = db.prepare<[string], User & { passwordHash: string }>(
    'SELECT id, login, name, role, password_hash AS passwordHash FROM users WHERE login = ?',
  );
  // Checked for unknown names too, so that the time of an answer does not tell which names exist.
  const decoy = hashPassword('no one');

  app.get('/api/session', allow('anyone'), (c) => {
    const user = c.get('user');
    return c.json<SessionBody>({
      user: user && { id: user.id, login: user.login, name: user.name, role: user.role },
    });
  });

  app.post('/api/session', allow('anyone'), jsonBody(SignInSchema), async (c) => {
    const { login, password } = c.req.valid('json');
    const incoming = (c.env as { incoming?: { socket?: { remoteAddress?: string } } } | undefined)?.incoming;
    const address = incoming?.socket?.remoteAddress ?? 'local';
    const name = login.toLowerCase();
    try {
      await Promise.all([byName.consume(name), byAddress.consume(address)]);
    } catch (limit) {
      const seconds = Math.ceil(((limit as RateLimiterRes).msBeforeNext || 60_000) / 1000);
      c.header('Retry-After', String(seconds));
      return refuseWith(c, 'too-many-tries', `Too many tries. Wait ${String(seconds)} seconds and try again.`);
    }
    const found = find.get(login);
    const matches = await verifyPassword(password, found?.passwordHash ?? (await decoy));
    if (!found || !matches)
      return refuseWith(c, 'wrong-sign-in', 'This name and password do not belong together. Check both.');
    await byName.delete(name);
    const previous = getCookie(c, COOKIE);
    if (previous !== undefined) sessions.end(previous);
    const { token, expiresAt } = sessions.start(found.id);
    setCookie(c, COOKIE, token, {
      httpOnly: true,
      sameSite: 'Lax',
      path: '/',
      expires: expiresAt,
      secure: secureCookie,
    });
    return c.json<SessionBody>({ user: { id: found.id, login: found.login, name: found.name, role: found.role } });
  });

  app.delete('/api/session', allow('anyone'), (c) => {
    const token = getCookie(c, COOKIE);
    if (token !== undefined) sessions.end(token);
    deleteCookie(c, COOKIE, { path: '/' });
    return c.json<SessionBody>({ user: null });
  });
}
