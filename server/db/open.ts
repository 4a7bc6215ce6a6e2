import { readdirSync, readFileSync } from 'node:fs';

import Database from 'better-sqlite3';

export type Db = Database.Database;

const MIGRATIONS = new URL('./migrations/', import.meta.url);

/** The database has had migrations that this program does not know. */
export class NewerDatabase extends Error {}

/** Runs the numbered migrations that the database has not had yet, each in a transaction of its own. */
function migrate(db: Db, upTo: number): void {
  const done = db.pragma('user_version', { simple: true }) as number;
  const files = readdirSync(MIGRATIONS)
    .filter((name) => /^\d{4}-.*\.sql$/.test(name))
    .sort();
  const last = Number((files.at(-1) ?? '0000').slice(0, 4));
  if (done > last) throw new NewerDatabase(`its form is ${String(done)}, known is ${String(last)}`);
  for (const name of files) {
    const number = Number(name.slice(0, 4));
    if (number <= done || number > upTo) continue;
    const sql = readFileSync(new URL(name, MIGRATIONS), 'utf8');
    // A table that others refer to is made anew under its name; that nothing was torn is checked before it holds.
    db.pragma('foreign_keys = OFF');
    db.transaction(() => {
      db.exec(sql);
      const torn = db.pragma('foreign_key_check') as readonly unknown[];
      if (torn.length > 0) throw new Error(`${name} leaves ${String(torn.length)} rows that refer to nothing`);
      db.pragma(`user_version = ${String(number)}`);
    })();
    db.pragma('foreign_keys = ON');
  }
}

/**
 * Opens (and creates or brings up to date) the database at `path`; ":memory:" for tests. With `upTo`, it is as an earlier
 * program left it.
 */
export function openDatabase(path: string, upTo = Number.POSITIVE_INFINITY): Db {
  const db = new Database(path);
  db.pragma('journal_mode = WAL');
  // What was accepted is on disk when it is answered, also where the power goes.
  db.pragma('synchronous = FULL');
  db.pragma('foreign_keys = ON');
  db.pragma('busy_timeout = 5000');
  migrate(db, upTo);
  return db;
}
