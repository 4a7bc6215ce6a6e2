/** What staff notes of a student of a course, for each other; students never read it. */
import type { StudentRecord, User } from '#api';
import { joinStaff } from '#server/auth';
import type { Db } from '#server/db';

export interface StudentNotes {
  /** The newest first. */
  of(courseId: number, studentId: number): StudentRecord['notes'];
  /** Whether it was added: to a student of a course that somebody teaches. */
  add(courseId: number, studentId: number, by: User, text: string): boolean;
  remove(courseId: number, studentId: number, by: User, noteId: number): boolean;
}

export function createStudentNotes(db: Db, now: () => Date): StudentNotes {
  const list = db.prepare<[number, number], StudentRecord['notes'][number]>(
    `SELECT student_notes.id, text, users.name AS "by", made_at AS "at" FROM student_notes JOIN users ON users.id = made_by
     WHERE course_id = ? AND student_id = ? ORDER BY student_notes.id DESC`,
  );
  const teaches = db.prepare<[number, number, number], 1>(
    `SELECT 1 FROM enrollments JOIN sections ON sections.id = enrollments.section_id
     ${joinStaff('sections.course_id', 'review')}
     WHERE sections.course_id = ? AND enrollments.user_id = ? AND course_staff.user_id = ? LIMIT 1`,
  );
  const put = db.prepare<[number, number, string, number, string]>(
    'INSERT INTO student_notes (course_id, student_id, text, made_by, made_at) VALUES (?, ?, ?, ?, ?)',
  );
  const drop = db.prepare<[number, number, number]>(
    'DELETE FROM student_notes WHERE id = ? AND course_id = ? AND student_id = ?',
  );
  return {
    of: (courseId, studentId) => list.all(courseId, studentId),
    add(courseId, studentId, by, text) {
      if (teaches.get(courseId, studentId, by.id) === undefined) return false;
      put.run(courseId, studentId, text, by.id, now().toISOString());
      return true;
    },
    remove: (courseId, studentId, by, noteId) =>
      teaches.get(courseId, studentId, by.id) !== undefined && drop.run(noteId, courseId, studentId).changes > 0,
  };
}
