import type { Context, Hono, MiddlewareHandler } from 'hono';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import type * as v from 'valibot';

import {
  ChangePasswordSchema,
  CodeSignInSchema,
  JoinSchema,
  SetupSchema,
  SignInSchema,
  type JoinInfo,
  type SessionSchema,
  type SetupState,
} from '#api';
import type { Result } from '#core/problem';
import type { Db } from '#server/db';
import {
  allow,
  clientAddress,
  jsonBody,
  notFound,
  refuseProblem,
  refuseWith,
  userOf,
  type AppEnv,
  type Front,
  takesRoom,
} from '#server/http';

import type { Accounts } from './account.ts';
import { createSignInLimits, type SignInLimits, type Try } from './limits.ts';
import { hashPassword, verifyPassword } from './password.ts';
import type { Sessions } from './session.ts';

/** New accounts from one address in an hour: a school may be behind one, and a program should not fill the database. */
const JOINS = { points: 400, duration: 3600 } as const;

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
  readonly accounts: Accounts;
  readonly front: Front;
  /** In which times are told to somebody, or to nobody in particular. */
  readonly timeZoneOf: (userId: number | null) => string;
  readonly secureCookie: boolean;
  readonly now: () => Date;
}

/** Sign-in, sign-out, who am I, first sign-ins and own passwords. Wrong passwords and codes are slowed down. */
export function authRoutes(app: Hono<AppEnv>, parts: AuthRouteParts): void {
  const limits = createSignInLimits(parts.now);
  sessionRoutes(app, parts, limits);
  codeRoutes(app, parts, limits);
  ownRoutes(app, parts);
}

/** Signs somebody in: a new session in the cookie, instead of one that the browser may have. */
function begin(c: Context<AppEnv>, { sessions, timeZoneOf, secureCookie }: AuthRouteParts, userId: number): Response {
  const previous = getCookie(c, COOKIE);
  if (previous !== undefined) sessions.end(previous);
  const { token, expiresAt } = sessions.start(userId);
  setCookie(c, COOKIE, token, {
    httpOnly: true,
    sameSite: 'Lax',
    path: '/',
    expires: expiresAt,
    secure: secureCookie,
  });
  return c.json<SessionBody>({ user: sessions.userOf(token), timeZone: timeZoneOf(userId) });
}

/** The refusal of a try that has to wait, or null; a try that may be made is counted. */
function refusedTry(c: Context<AppEnv>, limits: SignInLimits, one: Try): Response | null {
  const seconds = Math.ceil(limits.waitMs(one) / 1000);
  if (seconds === 0) {
    limits.begin(one);
    return null;
  }
  c.header('Retry-After', String(seconds));
  return refuseWith(c, 'too-many-tries', `Too many tries. Wait ${String(seconds)} seconds and try again.`);
}

function sessionRoutes(app: Hono<AppEnv>, parts: AuthRouteParts, limits: SignInLimits): void {
  const { db, sessions, front, timeZoneOf } = parts;
  const find = db.prepare<[string], { id: number; passwordHash: string }>(
    'SELECT id, password_hash AS passwordHash FROM users WHERE login = ?',
  );
  // Checked for unknown names too, so that the time of an answer does not tell which names exist.
  const decoy = hashPassword('no one');

  app.get('/api/session', allow('anyone'), (c) => {
    const user = c.get('user');
    return c.json<SessionBody>({ user, timeZone: timeZoneOf(user?.id ?? null) });
  });

  app.post('/api/session', allow('anyone'), jsonBody(SignInSchema), async (c) => {
    const { login, password } = c.req.valid('json');
    const one = { name: login.toLowerCase(), address: clientAddress(c, front) };
    const refused = refusedTry(c, limits, one);
    if (refused !== null) return refused;
    const found = find.get(login);
    const hash = found?.passwordHash ?? '';
    // Whoever has no password yet signs in with a code first.
    const matches = (await verifyPassword(password, hash === '' ? await decoy : hash)) && hash !== '';
    if (!found || !matches)
      return refuseWith(c, 'wrong-sign-in', 'This name and password do not belong together. Check both.');
    limits.succeed(one);
    return begin(c, parts, found.id);
  });

  app.delete('/api/session', allow('anyone'), (c) => {
    const token = getCookie(c, COOKIE);
    if (token !== undefined) sessions.end(token);
    deleteCookie(c, COOKIE, { path: '/' });
    return c.json<SessionBody>({ user: null, timeZone: timeZoneOf(null) });
  });
}

/** What is done with a code: the first account of all, a first sign-in, joining a section. */
function codeRoutes(app: Hono<AppEnv>, parts: AuthRouteParts, limits: SignInLimits): void {
  const { accounts, front, timeZoneOf } = parts;
  /** Signs in whoever a code has made or found. Codes are too long to be guessed, so that nobody waits for another's tries. */
  const answer = (c: Context<AppEnv>, made: Result<number>): Response =>
    made.ok ? begin(c, parts, made.value) : refuseProblem(c, made.problem);

  app.get('/api/setup', allow('anyone'), (c) =>
    c.json<SetupState>({ needed: accounts.isEmpty(), timeZone: timeZoneOf(null) }),
  );

  app.post('/api/setup', allow('anyone'), jsonBody(SetupSchema), async (c) => {
    const one = { name: 'setup', address: clientAddress(c, front) };
    return refusedTry(c, limits, one) ?? answer(c, await accounts.setUp(c.req.valid('json')));
  });

  app.post('/api/session/code', allow('anyone'), jsonBody(CodeSignInSchema), async (c) =>
    answer(c, await accounts.signInByCode(c.req.valid('json'))),
  );

  app.get('/api/join/:code', allow('anyone'), (c) => {
    const info = accounts.joinInfo(c.req.param('code'));
    return info === null ? notFound(c) : c.json<JoinInfo>(info);
  });

  const joins = new RateLimiterMemory(JOINS);
  app.post('/api/join/:code', allow('anyone'), jsonBody(JoinSchema), async (c) => {
    const hasRoom = await takesRoom(joins, clientAddress(c, front));
    if (!hasRoom)
      return refuseWith(
        c,
        'too-many-tries',
        'Many have joined from here within the hour. Wait a while, or ask for a slip.',
      );
    return answer(c, await accounts.join(c.req.param('code'), c.req.valid('json')));
  });
}

/** What people do with their own account. */
function ownRoutes(app: Hono<AppEnv>, parts: AuthRouteParts): void {
  const { accounts, sessions } = parts;
  app.post('/api/account/password', allow('signed-in'), jsonBody(ChangePasswordSchema), async (c) => {
    const { id } = userOf(c);
    const changed = await accounts.changePassword(id, c.req.valid('json'));
    // All sessions ended with the old password; the page goes on with a new one.
    return changed.ok ? begin(c, parts, id) : refuseProblem(c, changed.problem);
  });

  app.post('/api/account/end-others', allow('signed-in'), (c) => {
    sessions.endOthers(userOf(c).id, c.get('token') ?? '');
    return c.json({});
  });
}
