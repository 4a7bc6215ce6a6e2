/** Erasing a student: what is deleted, and what is not for one instructor alone to delete. */
import type { User } from '#api';
import { refuse, succeed, type Result } from '#core/problem';
import type { Audit } from '#server/audit';
import { staffMay } from '#server/auth';
import type { Db } from '#server/db';

/** Deletes the account with all work; call inside a transaction, for who teaches the student. */
export function createEraser(db: Db, audit: Audit): (studentId: number, by: User) => Result<null> {
  /** Courses of a student, by enrollment or by work, that somebody does not manage. */
  const ofOthers = db
    .prepare<[{ studentId: number; userId: number }], string>(
      `SELECT DISTINCT courses.title FROM courses JOIN sections ON sections.course_id = courses.id
       WHERE (sections.id IN (SELECT section_id FROM enrollments WHERE user_id = @studentId)
           OR sections.id IN (SELECT section_id FROM assignments
                              JOIN attempts ON attempts.assignment_id = assignments.id WHERE student_id = @studentId))
         AND NOT EXISTS (SELECT 1 FROM course_staff
                         WHERE course_staff.course_id = courses.id AND user_id = @userId AND ${staffMay('manage-course')})`,
    )
    .pluck();
  const coursesOf = db
    .prepare<[{ studentId: number }], number>(
      `SELECT DISTINCT course_id FROM sections JOIN enrollments ON enrollments.section_id = sections.id
       WHERE enrollments.user_id = @studentId`,
    )
    .pluck();
  const busy = db
    .prepare<[number], 1>("SELECT 1 FROM attempts WHERE student_id = ? AND state IN ('waiting', 'running') LIMIT 1")
    .pluck();
  const hashes = db
    .prepare<[{ studentId: number }], string | null>(
      `SELECT file_sha256 FROM attempts WHERE student_id = @studentId
       UNION SELECT model_sha256 FROM reports JOIN attempts ON attempts.id = reports.attempt_id WHERE student_id = @studentId
       UNION SELECT overlay_sha256 FROM reports JOIN attempts ON attempts.id = reports.attempt_id WHERE student_id = @studentId`,
    )
    .pluck();
  const forgetLists = db.prepare(
    `DELETE FROM roster_changes WHERE section_id IN (SELECT section_id FROM enrollments WHERE user_id = ?)`,
  );
  const dropAttempts = db.prepare('DELETE FROM attempts WHERE student_id = ?');
  // What was answered for all stays, without a name.
  const dropQuestions = db.prepare('DELETE FROM questions WHERE student_id = ? AND to_all = 0');
  const dropUser = db.prepare('DELETE FROM users WHERE id = ?');
  const dropFile = db.prepare('DELETE FROM files WHERE sha256 = ?');
  const forgetFile = (sha256: string): void => {
    try {
      dropFile.run(sha256);
    } catch (error) {
      // Somebody else handed in the same content, or a reference is it.
      if (!(error instanceof Error && 'code' in error && error.code === 'SQLITE_CONSTRAINT_FOREIGNKEY')) throw error;
    }
  };

  return (studentId, by) => {
    const [other] = ofOthers.all({ studentId, userId: by.id });
    if (other !== undefined)
      return refuse(
        'other-courses',
        `This student also belongs to "${other}", which you do not manage. Ask those who do to take part in it, or take the student off your section alone.`,
      );
    if (busy.get(studentId) !== undefined)
      return refuse('not-measured', 'A file of this student is being measured. Try again in a minute.');
    const courseIds = coursesOf.all({ studentId });
    const known = hashes.all({ studentId }).filter((sha256) => sha256 !== null);
    // Lists that were taken name the student; they cannot be taken back any more.
    forgetLists.run(studentId);
    dropAttempts.run(studentId);
    dropQuestions.run(studentId);
    dropUser.run(studentId);
    for (const sha256 of known) forgetFile(sha256);
    for (const courseId of courseIds)
      audit.note({ by, courseId, what: 'a student erased', subject: `account ${String(studentId)}` });
    return succeed(null);
  };
}
