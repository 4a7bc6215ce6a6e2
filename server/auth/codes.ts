/** One-time codes: for a first sign-in from a slip, and for a forgotten password. */
import { addDays } from 'date-fns';

import type { Db } from '#server/db';

import { newPassword } from './password.ts';
import { hashToken } from './token.ts';

const VALID_DAYS = 30;

export interface SignInCodes {
  /** A new code for somebody, instead of those that they had. */
  make(userId: number): string;
  /** Whose code it is; null for one that is none, used or too old. */
  userOf(code: string): number | null;
  /** Ends all codes of somebody. */
  drop(userId: number): void;
}

/** A code as it is compared: without the dashes and blanks that people type or leave out. */
const plain = (code: string): string => code.toLowerCase().replaceAll(/[^a-z0-9]/g, '');
const hashOf = (code: string): string => hashToken(plain(code));

export function createSignInCodes(db: Db, now: () => Date): SignInCodes {
  const insert = db.prepare<[string, number, string]>(
    'INSERT INTO sign_in_codes (code_hash, user_id, expires_at) VALUES (?, ?, ?)',
  );
  const remove = db.prepare<[number]>('DELETE FROM sign_in_codes WHERE user_id = ?');
  const find = db
    .prepare<[string, string], number>('SELECT user_id FROM sign_in_codes WHERE code_hash = ? AND expires_at > ?')
    .pluck();
  return {
    make: db.transaction((userId: number) => {
      remove.run(userId);
      const code = newPassword();
      insert.run(hashOf(code), userId, addDays(now(), VALID_DAYS).toISOString());
      return code;
    }),
    userOf: (code) => find.get(hashOf(code), now().toISOString()) ?? null,
    drop: (userId) => {
      remove.run(userId);
    },
  };
}
