/** A server that shows an archive: everybody who reaches it reads as one person, and nothing is changed. */
import type { Hono, MiddlewareHandler } from 'hono';

import type { User } from '#api';
import type { Db } from '#server/db';
import { refuseWith, type AppEnv } from '#server/http';

const READING = new Set(['GET', 'HEAD', 'OPTIONS']);

export function showReadOnly(app: Hono<AppEnv>, db: Db, readerId: number): void {
  const row = db
    .prepare<[number], Omit<User, 'administers'>>('SELECT id, login, name, role FROM users WHERE id = ?')
    .get(readerId);
  if (row === undefined) throw new Error('nobody to read as');
  const reader: User = { ...row, administers: false };
  const show: MiddlewareHandler<AppEnv> = async (c, next) => {
    if (!READING.has(c.req.method))
      return refuseWith(c, 'read-only', 'This is an archive. It is read, and nothing in it is changed.');
    c.set('user', reader);
    c.set('token', null);
    return next();
  };
  app.use('/api/*', show);
}
