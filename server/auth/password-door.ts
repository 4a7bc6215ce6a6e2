/** Names and passwords: whose they are, with guessing slowed down. */
import type { Context } from 'hono';

import type { SignIn } from '#api';
import type { Db } from '#server/db';
import { clientAddress, refuseWith, type Front } from '#server/http';

import type { SignInLimits, Try } from './limits.ts';
import { hashPassword, verifyPassword } from './password.ts';

export type Opened =
  | { readonly ok: true; readonly userId: number }
  | { readonly ok: false; readonly refusal: Response };

/** Whose name and password were typed, or the refusal to answer with. */
export type PasswordDoor = (c: Context, typed: SignIn) => Promise<Opened>;

/** The refusal of a try that has to wait, or null; a try that may be made is counted. */
export function refusedTry(c: Context, limits: SignInLimits, one: Try): Response | null {
  const seconds = Math.ceil(limits.waitMs(one) / 1000);
  if (seconds === 0) {
    limits.begin(one);
    return null;
  }
  c.header('Retry-After', String(seconds));
  return refuseWith(c, 'too-many-tries', `Too many tries. Wait ${String(seconds)} seconds and try again.`);
}

export function createPasswordDoor(db: Db, limits: SignInLimits, front: Front): PasswordDoor {
  const find = db.prepare<[string], { id: number; passwordHash: string }>(
    'SELECT id, password_hash AS passwordHash FROM users WHERE login = ?',
  );
  // Checked for unknown names too, so that the time of an answer does not tell which names exist.
  const decoy = hashPassword('no one');
  return async (c, { login, password }) => {
    const one = { name: login.toLowerCase(), address: clientAddress(c, front) };
    const refused = refusedTry(c, limits, one);
    if (refused !== null) return { ok: false, refusal: refused };
    const found = find.get(login);
    const hash = found?.passwordHash ?? '';
    // Whoever has no password yet signs in with a code first.
    const matches = (await verifyPassword(password, hash === '' ? await decoy : hash)) && hash !== '';
    if (!found || !matches)
      return {
        ok: false,
        refusal: refuseWith(c, 'wrong-sign-in', 'This name and password do not belong together. Check both.'),
      };
    limits.succeed(one);
    return { ok: true, userId: found.id };
  };
}
