import type { Context, Hono, MiddlewareHandler } from 'hono';
import { deleteCookie, getCookie } from 'hono/cookie';
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
  type User,
} from '#api';
import type { Result } from '#core/problem';
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
import { COOKIE, enter, type Entry } from './entry.ts';
import { refusedTry, type PasswordDoor } from './password-door.ts';
import type { SignInLimits } from './limits.ts';
import type { Sessions } from './session.ts';

/** New accounts from one address in an hour: a school may be behind one, and a program should not fill the database. */
const JOINS = { points: 400, duration: 3600 } as const;

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

export interface AuthRouteParts extends Entry {
  readonly accounts: Accounts;
  readonly door: PasswordDoor;
  readonly limits: SignInLimits;
  readonly front: Front;
  /** In which times are told to somebody, or to nobody in particular. */
  readonly timeZoneOf: (userId: number | null) => string;
  /** An archive is shown. */
  readonly isReadOnly: boolean;
}

/** Sign-in, sign-out, who am I, first sign-ins and own passwords. Wrong passwords and codes are slowed down. */
export function authRoutes(app: Hono<AppEnv>, parts: AuthRouteParts): void {
  sessionRoutes(app, parts);
  codeRoutes(app, parts);
  ownRoutes(app, parts);
}

const sessionBody = ({ timeZoneOf, isReadOnly }: AuthRouteParts, user: User | null): SessionBody => ({
  user,
  timeZone: timeZoneOf(user?.id ?? null),
  isReadOnly,
});

/** Signs somebody in, and says who that is. */
function begin(c: Context<AppEnv>, parts: AuthRouteParts, userId: number): Response {
  const token = enter(c, parts, userId);
  return c.json(sessionBody(parts, parts.sessions.userOf(token)));
}

function sessionRoutes(app: Hono<AppEnv>, parts: AuthRouteParts): void {
  const { sessions, door } = parts;
  app.get('/api/session', allow('anyone'), (c) => {
    return c.json(sessionBody(parts, c.get('user')));
  });

  app.post('/api/session', allow('anyone'), jsonBody(SignInSchema), async (c) => {
    const opened = await door(c, c.req.valid('json'));
    return opened.ok ? begin(c, parts, opened.userId) : opened.refusal;
  });

  app.delete('/api/session', allow('anyone'), (c) => {
    const token = getCookie(c, COOKIE);
    if (token !== undefined) sessions.end(token);
    deleteCookie(c, COOKIE, { path: '/' });
    return c.json(sessionBody(parts, null));
  });
}

/** What is done with a code: the first account of all, a first sign-in, joining a section. */
function codeRoutes(app: Hono<AppEnv>, parts: AuthRouteParts): void {
  const { accounts, front, timeZoneOf, limits } = parts;
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
