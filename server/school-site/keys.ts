/** The keys with which this server signs what it sends to a school's site. */
import { randomUUID } from 'node:crypto';

import { subDays } from 'date-fns';
import { exportJWK, generateKeyPair, importJWK, SignJWT, type JWK, type JWTPayload } from 'jose';

import type { Db } from '#server/db';

/** A replaced key stays among the public ones for so long: sites keep keys, and what was signed is under way. */
const SHOWN_DAYS = 7;
const ALGORITHM = 'RS256';

export interface SigningKeys {
  /** Signs a payload, valid from now for some minutes. */
  sign(payload: JWTPayload, minutes: number): Promise<string>;
  /** What others verify with: the key of now, and those that were replaced lately. */
  publicKeys(): Promise<readonly JWK[]>;
  /** Signs with a new key from now on. */
  renew(): Promise<void>;
  /** Since when the key of now is used. */
  since(): Promise<string>;
}

interface KeyRow {
  readonly kid: string;
  readonly privateJson: string;
  readonly createdAt: string;
}

export function createSigningKeys(db: Db, now: () => Date): SigningKeys {
  const newest = db.prepare<[], KeyRow>(
    `SELECT kid, private_json AS privateJson, created_at AS createdAt FROM signing_keys
     WHERE replaced_at IS NULL ORDER BY created_at DESC LIMIT 1`,
  );
  const shown = db
    .prepare<[string], string>('SELECT public_json FROM signing_keys WHERE replaced_at IS NULL OR replaced_at > ?')
    .pluck();
  const insert = db.prepare<[string, string, string, string]>(
    'INSERT INTO signing_keys (kid, private_json, public_json, created_at) VALUES (?, ?, ?, ?)',
  );
  const replace = db.prepare<[string]>('UPDATE signing_keys SET replaced_at = ? WHERE replaced_at IS NULL');
  const forget = db.prepare<[string]>('DELETE FROM signing_keys WHERE replaced_at < ?');
  const shownSince = (): string => subDays(now(), SHOWN_DAYS).toISOString();

  async function make(): Promise<void> {
    const { privateKey, publicKey } = await generateKeyPair(ALGORITHM, { extractable: true });
    const kid = randomUUID();
    const [own, open] = await Promise.all([exportJWK(privateKey), exportJWK(publicKey)]);
    const time = now().toISOString();
    db.transaction(() => {
      replace.run(time);
      forget.run(shownSince());
      insert.run(kid, JSON.stringify(own), JSON.stringify({ ...open, kid, alg: ALGORITHM, use: 'sig' }), time);
    })();
  }

  /** One at a time, so that two requests to a new server do not make two first keys. */
  let making: Promise<void> | null = null;
  async function key(): Promise<KeyRow> {
    const found = newest.get();
    if (found !== undefined) return found;
    making ??= make().finally(() => {
      making = null;
    });
    await making;
    return key();
  }

  return {
    async sign(payload, minutes) {
      const { kid, privateJson } = await key();
      const seconds = Math.floor(now().getTime() / 1000);
      return new SignJWT(payload)
        .setProtectedHeader({ alg: ALGORITHM, kid, typ: 'JWT' })
        .setIssuedAt(seconds)
        .setExpirationTime(seconds + minutes * 60)
        .setJti(randomUUID())
        .sign(await importJWK(JSON.parse(privateJson) as JWK, ALGORITHM));
    },
    async publicKeys() {
      await key();
      return shown.all(shownSince()).map((json) => JSON.parse(json) as JWK);
    },
    renew: make,
    since: async () => (await key()).createdAt,
  };
}
