import type { Hono, MiddlewareHandler } from 'hono';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';

import { SignInSchema, type SessionSchema, type User } from '#api';
import type { Db } from '#server/db';
import { allow, clientAddress, jsonBody, refuseWith, type AppEnv, type Front } from '#server/http';
import type * as v from 'valibot';

import { createSignInLimits } from './limits.ts';
import { hashPassword, verifyPassword } from './password.ts';
import type { Sessions } from './session.ts';

const COOKIE = 'zorvet_session';

type SessionBody = v.InferOutput<typeof SessionSchema>;

/** Reads the cookie of each request and puts the user, or null, beside it. */
export function identify(app: Hono<AppEnv>, sessions: Sessions): void {
  const identifyUser: MiddlewareHandler<AppEnv> = async (c, next) => {
    const token = getCookie(c, COOKIE);
    c.set('user', token === undefined ? null : sessions.userOf(token));
    c.set('token', token ?? null);
    await next();
  };
  app.use('/api/*', identifyUser);
}

export interface AuthRouteParts {
  readonly db: Db;
  readonly sessions: Sessions;
  readonly front: Front;
  /** In which times are told to somebody, or to nobody in particular. */
  readonly timeZoneOf: (userId: number | null) => string;
  readonly secureCookie: boolean;
  readonly now: () => Date;
}

/** Sign-in, sign-out, who am I. Wrong passwords are slowed down. */
export function authRoutes(
  app: Hono<AppEnv>,
  { db, sessions, front, timeZoneOf, secureCookie, now }: AuthRouteParts,
): void {
  const limits = createSignInLimits(now);
  const find = db.prepare<[string], User & { passwordHash: string }>(
    'SELECT id, login, name, role, password_hash AS passwordHash FROM users WHERE login = ?',
  );
  // Checked for unknown names too, so that the time of an answer does not tell which names exist.
  const decoy = hashPassword('no one');

  app.get('/api/session', allow('anyone'), (c) => {
    const user = c.get('user');
    return c.json<SessionBody>({
      user: user && { id: user.id, login: user.login, name: user.name, role: user.role },
      timeZone: timeZoneOf(user?.id ?? null),
    });
  });

  app.post('/api/session', allow('anyone'), jsonBody(SignInSchema), async (c) => {
    const { login, password } = c.req.valid('json');
    const one = { name: login.toLowerCase(), address: clientAddress(c, front) };
    const seconds = Math.ceil(limits.waitMs(one) / 1000);
    if (seconds > 0) {
      c.header('Retry-After', String(seconds));
      return refuseWith(c, 'too-many-tries', `Too many tries. Wait ${String(seconds)} seconds and try again.`);
    }
    limits.begin(one);
    const found = find.get(login);
    const matches = await verifyPassword(password, found?.passwordHash ?? (await decoy));
    if (!found || !matches)
      return refuseWith(c, 'wrong-sign-in', 'This name and password do not belong together. Check both.');
    limits.succeed(one);
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
    return c.json<SessionBody>({
      user: { id: found.id, login: found.login, name: found.name, role: found.role },
      timeZone: timeZoneOf(found.id),
    });
  });

  app.delete('/api/session', allow('anyone'), (c) => {
    const token = getCookie(c, COOKIE);
    if (token !== undefined) sessions.end(token);
    deleteCookie(c, COOKIE, { path: '/' });
    return c.json<SessionBody>({ user: null, timeZone: timeZoneOf(null) });
  });
}
