/** The session cookie: how somebody is signed in to a browser. */
import type { Context } from 'hono';
import { getCookie, setCookie } from 'hono/cookie';

import type { Sessions } from './session.ts';

export const COOKIE = 'zorvet_session';

export interface Entry {
  readonly sessions: Sessions;
  readonly secureCookie: boolean;
}

/** Signs somebody in: a new session in the cookie, instead of one that the browser may have. Gives its token. */
export function enter(c: Context, { sessions, secureCookie }: Entry, userId: number): string {
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
  return token;
}
