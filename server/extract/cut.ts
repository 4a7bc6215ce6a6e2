/** Takes everything out of a copy of the database that does not belong to one course. */
import type { Db } from '#server/db';

/** Rows of somebody that say nothing of a course: they alone keep nobody in it, and go. */
const PERSONAL = ['sessions', 'sign_in_codes', 'site_people', 'reading_cards'] as const;
/** What belongs to the server and not to a course: keys, connections, what is under way. */
const OF_THE_SERVER = [
  'signing_keys',
  'site_launches',
  'site_arrivals',
  'school_sites',
  'revision_jobs',
  'lookalikes',
  'jobs',
] as const;
/** The log cannot be edited; in a copy, what it says of other courses is left out. */
const LOG_GUARDS = ['audit_log_is_not_changed', 'audit_log_is_not_emptied'] as const;

/** Time logs that their students keep for themselves are nobody's to take along. */
const OWN_TIME_LOGS = `DELETE FROM workings WHERE kind = 'time' AND assignment_id IN
  (SELECT id FROM assignments WHERE coalesce(json_extract(aids_json, '$.time'), 'own') <> 'shared')`;

interface Reference {
  readonly table: string;
  readonly column: string;
  readonly parent: string;
  readonly key: string;
}

const tablesOf = (db: Db): string[] =>
  db
    .prepare<[], string>("SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'")
    .pluck()
    .all();

const referencesOf = (db: Db): Reference[] =>
  tablesOf(db).flatMap((table) =>
    (db.pragma(`foreign_key_list(${table})`) as { from: string; table: string; to: string | null }[]).map((one) => ({
      table,
      column: one.from,
      parent: one.table,
      key: one.to ?? 'id',
    })),
  );

/** Deletes rows that refer to what is gone, and what refers to those, until nothing does. */
function dropOrphans(db: Db, references: readonly Reference[]): void {
  const statements = references.map(({ table, column, parent, key }) =>
    db.prepare(
      `DELETE FROM ${table} WHERE ${column} IS NOT NULL AND ${column} NOT IN (SELECT ${key} FROM ${parent} WHERE ${key} IS NOT NULL)`,
    ),
  );
  while (statements.reduce((sum, statement) => sum + statement.run().changes, 0) > 0);
}

/**
 * Leaves of a database one course with its exercises, people and work, without passwords, sessions, keys and codes. Gives
 * the hashes of the files that it still needs. The database must be a copy that nobody else has open.
 */
export function cutToCourse(db: Db, courseId: number): readonly string[] {
  const references = referencesOf(db);
  const toUsers = references.filter(({ parent }) => parent === 'users');
  const toFiles = references.filter(({ parent }) => parent === 'files');
  const between = references.filter(({ parent }) => parent !== 'users' && parent !== 'files');
  db.pragma('foreign_keys = OFF');
  db.transaction(() => {
    const guards = LOG_GUARDS.map((name) =>
      db.prepare<[string], string>('SELECT sql FROM sqlite_master WHERE name = ?').pluck().get(name),
    );
    for (const name of LOG_GUARDS) db.exec(`DROP TRIGGER ${name}`);
    for (const table of [...PERSONAL, ...OF_THE_SERVER]) db.exec(`DELETE FROM ${table}`);
    db.exec(OWN_TIME_LOGS);
    db.prepare('DELETE FROM courses WHERE id <> ?').run(courseId);
    db.prepare('DELETE FROM audit_log WHERE course_id IS NOT ?').run(courseId);
    dropOrphans(db, between);
    const kept = toUsers.map(({ table, column }) => `SELECT ${column} FROM ${table} WHERE ${column} IS NOT NULL`);
    db.exec(`DELETE FROM users WHERE id NOT IN (${kept.join(' UNION ')})`);
    dropOrphans(db, [...between, ...toUsers]);
    db.exec(
      "UPDATE users SET password_hash = '', administers = 0, calendar_key = NULL, wants_mail = 0; UPDATE sections SET join_code = NULL",
    );
    const needed = toFiles.map(({ table, column }) => `SELECT ${column} FROM ${table} WHERE ${column} IS NOT NULL`);
    db.exec(`DELETE FROM files WHERE sha256 NOT IN (${needed.join(' UNION ')})`);
    for (const sql of guards) if (sql !== undefined) db.exec(sql);
    const torn = db.pragma('foreign_key_check') as readonly unknown[];
    if (torn.length > 0) throw new Error(`${String(torn.length)} rows refer to nothing`);
  })();
  db.exec('VACUUM');
  return db.prepare<[], string>('SELECT sha256 FROM files ORDER BY sha256').pluck().all();
}
