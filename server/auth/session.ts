import { randomBytes } from 'node:crypto';
import { EventEmitter } from 'node:events';

import type { User } from '#api';
import type { Db } from '#server/db';

import { hashToken } from './token.ts';

const SESSION_HOURS = 14;

export interface Sessions {
  /** Starts a session; the token goes into the cookie, only its hash is stored. */
  start(userId: number): { readonly token: string; readonly expiresAt: Date };
  userOf(token: string): User | null;
  end(token: string): void;
  /** Ends all sessions of somebody but the one of the token. */
  endOthers(userId: number, token: string): void;
  /** Ends all sessions of somebody. */
  endAll(userId: number): void;
  /** Calls back when the session of a token is ended by somebody; gives a function that stops listening. */
  onEnd(token: string, listener: () => void): () => void;
}

export function createSessions(db: Db, now: () => Date): Sessions {
  const insert = db.prepare<[string, number, string, string]>(
    'INSERT INTO sessions (token_hash, user_id, created_at, expires_at) VALUES (?, ?, ?, ?)',
  );
  const purge = db.prepare<[string]>('DELETE FROM sessions WHERE expires_at <= ?');
  const find = db.prepare<[string, string], Omit<User, 'administers'> & { administers: 0 | 1 }>(
    `SELECT users.id, users.login, users.name, users.role, users.administers FROM sessions JOIN users ON users.id = sessions.user_id
     WHERE token_hash = ? AND expires_at > ?`,
  );
  const remove = db.prepare<[string]>('DELETE FROM sessions WHERE token_hash = ?');
  const others = db
    .prepare<[number, string], string>('SELECT token_hash FROM sessions WHERE user_id = ? AND token_hash <> ?')
    .pluck();
  const seen = db.prepare<[string, number]>('UPDATE users SET signed_in_at = ? WHERE id = ?');
  const ended = new EventEmitter();
  ended.setMaxListeners(0);
  const endBut = (userId: number, kept: string): void => {
    for (const hash of others.all(userId, kept)) {
      remove.run(hash);
      ended.emit(hash);
    }
  };
  return {
    start(userId) {
      const token = randomBytes(32).toString('base64url');
      const started = now();
      const expiresAt = new Date(started.getTime() + SESSION_HOURS * 3_600_000);
      purge.run(started.toISOString());
      insert.run(hashToken(token), userId, started.toISOString(), expiresAt.toISOString());
      seen.run(started.toISOString(), userId);
      return { token, expiresAt };
    },
    userOf(token) {
      const user = find.get(hashToken(token), now().toISOString());
      return user === undefined ? null : { ...user, administers: user.administers === 1 };
    },
    endOthers(userId, token) {
      endBut(userId, hashToken(token));
    },
    endAll(userId) {
      endBut(userId, '');
    },
    end: (token) => {
      remove.run(hashToken(token));
      ended.emit(hashToken(token));
    },
    onEnd(token, listener) {
      ended.on(hashToken(token), listener);
      return () => ended.off(hashToken(token), listener);
    },
  };
}
