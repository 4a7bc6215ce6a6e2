import { randomBytes, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto';

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
