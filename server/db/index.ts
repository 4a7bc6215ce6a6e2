/** The database: plain SQL over better-sqlite3, migrations in `migrations/`. */
export { JOIN_EXERCISE, JOIN_ISSUED } from './joins.ts';
export { isUnwritable } from './space.ts';
export { NewerDatabase, openDatabase, type Db } from './open.ts';
