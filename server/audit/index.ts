/** The log of who changed a grade, a date, a key or a role: it is added to and never edited. */
import type { AuditEntry, User } from '#api';
import type { Db } from '#server/db';

export interface AuditNote {
  /** Null where nobody signed in did it. */
  readonly by: Pick<User, 'id' | 'name'> | null;
  readonly courseId: number | null;
  /** What was done, such as "due date". */
  readonly what: string;
  /** Whom or what it concerns. */
  readonly subject: string;
  readonly before?: unknown;
  readonly after?: unknown;
}

export interface Audit {
  /** Adds to the log; call inside the transaction that changes something. */
  note(note: AuditNote): void;
  /** The newest entries of a course, before an entry where one is given. */
  of(courseId: number, before: number | null): readonly AuditEntry[];
}

const PAGE = 100;

export function createAudit(db: Db, now: () => Date): Audit {
  const insert = db.prepare<
    [string, number | null, string, number | null, string, string, string | null, string | null]
  >(
    `INSERT INTO audit_log (made_at, made_by, made_by_name, course_id, what, subject, before_json, after_json)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
  );
  const list = db.prepare<[number, number], AuditEntry>(
    `SELECT id, made_at AS "at", made_by_name AS "by", what, subject, before_json AS before, after_json AS after
     FROM audit_log WHERE course_id = ? AND id < ? ORDER BY id DESC LIMIT ${String(PAGE)}`,
  );
  const json = (value: unknown): string | null => (value === undefined ? null : JSON.stringify(value));
  return {
    note: ({ by, courseId, what, subject, before, after }) => {
      insert.run(
        now().toISOString(),
        by?.id ?? null,
        by?.name ?? 'the server',
        courseId,
        what,
        subject,
        json(before),
        json(after),
      );
    },
    of: (courseId, before) => list.all(courseId, before ?? Number.MAX_SAFE_INTEGER),
  };
}
