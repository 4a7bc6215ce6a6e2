import { randomBytes, randomInt, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto';

import type { Db } from '#server/db';

/** Cost of a hash: 32 MiB and some 80 ms. Stored with each hash, so that it can be raised later. */
const COST = { N: 32_768, r: 8, p: 1 } as const;
const KEY_BYTES = 32;

function derive(password: string, salt: Buffer, { N, r, p }: { N: number; r: number; p: number }): Promise<Buffer> {
  const options: ScryptOptions = { N, r, p, maxmem: 256 * N * r };
  return new Promise((resolve, reject) => {
    scrypt(password.normalize('NFKC'), salt, KEY_BYTES, options, (error, key) => {
      if (error) reject(error);
      else resolve(key);
    });
  });
}

/** Memory-hard hash with its salt and cost, as one string. Only tests ask for another cost. */
export async function hashPassword(
  password: string,
  cost: Readonly<Record<'N' | 'r' | 'p', number>> = COST,
): Promise<string> {
  const salt = randomBytes(16);
  const key = await derive(password, salt, cost);
  return ['scrypt', cost.N, cost.r, cost.p, salt.toString('base64'), key.toString('base64')].join('$');
}

/** Whether the password belongs to the hash. A hash that cannot be read matches nothing. */
export async function verifyPassword(password: string, hash: string): Promise<boolean> {
  const [scheme, n, r, p, salt, key] = hash.split('$');
  if (scheme !== 'scrypt' || !salt || !key) return false;
  const expected = Buffer.from(key, 'base64');
  const derived = await derive(password, Buffer.from(salt, 'base64'), { N: Number(n), r: Number(r), p: Number(p) });
  return expected.length === derived.length && timingSafeEqual(expected, derived);
}

/** Letters and digits that are not taken for each other. */
const SIGNS = 'abcdefghjkmnpqrstuvwxyz23456789';

/** A password that can be read from a slip: three groups of four signs, some 59 bits. */
export const newPassword = (): string =>
  Array.from({ length: 3 }, () => Array.from({ length: 4 }, () => SIGNS[randomInt(SIGNS.length)]).join('')).join('-');

/** Gives somebody a new password and ends their sessions; null where nobody has the name. */
export async function resetPassword(db: Db, login: string): Promise<string | null> {
  const password = newPassword();
  const hash = await hashPassword(password);
  return db.transaction((): string | null => {
    const user = db.prepare<[string], { id: number }>('SELECT id FROM users WHERE login = ?').get(login);
    if (user === undefined) return null;
    db.prepare('UPDATE users SET password_hash = ? WHERE id = ?').run(hash, user.id);
    db.prepare('DELETE FROM sessions WHERE user_id = ?').run(user.id);
    return password;
  })();
}
