/** What students did in a course, erased: exercises, assignments and the log stay. */
import type { Db } from '#server/db';

export interface Forgotten {
  readonly attempts: number;
  /** Accounts that belonged to nothing else. */
  readonly accounts: number;
}

const ASSIGNED = `assignment_id IN (SELECT assignments.id FROM assignments JOIN sections ON sections.id = section_id
  WHERE sections.course_id = ?)`;
const OF_SECTIONS = 'section_id IN (SELECT id FROM sections WHERE course_id = ?)';

/** What is deleted of the students of a course, in this order; each refers to the course once. */
const DELETED = [
  `DELETE FROM attempts WHERE ${ASSIGNED}`,
  `DELETE FROM workings WHERE ${ASSIGNED}`,
  `DELETE FROM reading_answers WHERE ${ASSIGNED}`,
  `DELETE FROM questions WHERE ${ASSIGNED}`,
  `DELETE FROM extensions WHERE ${ASSIGNED}`,
  `DELETE FROM assigned_variants WHERE ${ASSIGNED}`,
  `DELETE FROM sent_grades WHERE ${ASSIGNED}`,
  'DELETE FROM student_notes WHERE course_id = ?',
  `DELETE FROM student_groups WHERE ${OF_SECTIONS}`,
  `DELETE FROM roster_changes WHERE ${OF_SECTIONS}`,
  `DELETE FROM enrollments WHERE ${OF_SECTIONS}`,
] as const;

/** Columns of the course's attempts and reports that name files. */
const FILES = `SELECT file_sha256 AS sha256 FROM attempts WHERE ${ASSIGNED}
  UNION SELECT model_sha256 FROM reports JOIN attempts ON attempts.id = attempt_id WHERE ${ASSIGNED}
  UNION SELECT overlay_sha256 FROM reports JOIN attempts ON attempts.id = attempt_id WHERE ${ASSIGNED}`;

/**
 * Erases what students did in a course; null while a file of it is being measured. Students who belong to no other course and
 * have no work elsewhere lose their accounts. Call inside a transaction.
 */
export function createForgetting(db: Db): (courseId: number) => Forgotten | null {
  const busy = db.prepare<[number], 1>(
    `SELECT 1 FROM attempts WHERE state IN ('waiting', 'running') AND ${ASSIGNED} LIMIT 1`,
  );
  const files = db.prepare<[number, number, number], string | null>(FILES).pluck();
  const students = db
    .prepare<[number], number>(`SELECT DISTINCT user_id FROM enrollments WHERE ${OF_SECTIONS}`)
    .pluck();
  const attempts = db.prepare<[number], number>(`SELECT count(*) FROM attempts WHERE ${ASSIGNED}`).pluck();
  const deletions = DELETED.map((sql) => db.prepare<[number]>(sql));
  const dropAccount = db.prepare<[number]>(
    `DELETE FROM users WHERE id = ? AND role = 'student'
       AND NOT EXISTS (SELECT 1 FROM enrollments WHERE user_id = users.id)
       AND NOT EXISTS (SELECT 1 FROM attempts WHERE student_id = users.id)`,
  );
  const dropFile = db.prepare<[string]>('DELETE FROM files WHERE sha256 = ?');
  const forgetFile = (sha256: string): void => {
    try {
      dropFile.run(sha256);
    } catch (error) {
      // It is part of an exercise, or of work in another course.
      if (!(error instanceof Error && 'code' in error && error.code === 'SQLITE_CONSTRAINT_FOREIGNKEY')) throw error;
    }
  };
  return (courseId) => {
    if (busy.get(courseId) !== undefined) return null;
    const known = files.all(courseId, courseId, courseId);
    const people = students.all(courseId);
    const count = attempts.get(courseId) ?? 0;
    for (const deletion of deletions) deletion.run(courseId);
    const accounts = people.reduce((sum, id) => sum + dropAccount.run(id).changes, 0);
    for (const sha256 of known) if (sha256 !== null) forgetFile(sha256);
    return { attempts: count, accounts };
  };
}
