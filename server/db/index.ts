/** The database: plain SQL over better-sqlite3, migrations in `migrations/`. */
export { openDatabase, type Db } from './open.ts';
