import type { ChangeStaff, NewStaff, StaffMember, User } from '#api';
import { refuse, succeed, type Result } from '#core/problem';

import type { ManagementParts } from './parts.ts';

export interface ManagingStaff {
  /** Adds somebody to the staff; gives a code for a first sign-in where the account is new. */
  addStaff(
    courseId: number,
    by: User,
    staff: NewStaff,
  ): Result<{ readonly login: string; readonly code: string | null }>;
  changeStaff(courseId: number, by: User, userId: number, change: ChangeStaff): Result<null>;
  removeStaff(courseId: number, by: User, userId: number): Result<null>;
}

const LAST = 'This is the only instructor of the course. Add another one first.';
const NOBODY = 'Nobody of this account teaches the course.';

/** Who teaches a course, and as what. */
export function managingStaff({ db, audit, codes, now }: ManagementParts): ManagingStaff {
  const byLogin = db.prepare<[string], { id: number; role: string }>('SELECT id, role FROM users WHERE login = ?');
  const addUser = db.prepare<[string, string, string, string]>(
    "INSERT INTO users (login, name, role, password_hash, created_at) VALUES (?, ?, ?, '', ?)",
  );
  const putStaff = db.prepare<[number, number, string]>(
    'INSERT INTO course_staff (course_id, user_id, role) VALUES (?, ?, ?)',
  );
  const isStaff = db.prepare<[number, number], { role: StaffMember['role']; mayRelease: 0 | 1 }>(
    'SELECT role, may_release AS mayRelease FROM course_staff WHERE course_id = ? AND user_id = ?',
  );
  const setStaff = db.prepare<[string, number, number, number]>(
    'UPDATE course_staff SET role = ?, may_release = ? WHERE course_id = ? AND user_id = ?',
  );
  /** Whoever teaches one course as an instructor has that role everywhere; each course says what they may do in it. */
  const promote = db.prepare<[number]>(
    `UPDATE users SET role = 'instructor' WHERE id = ? AND role = 'assistant'
       AND EXISTS (SELECT 1 FROM course_staff WHERE user_id = users.id AND role = 'instructor')`,
  );
  const dropStaff = db.prepare<[number, number]>('DELETE FROM course_staff WHERE course_id = ? AND user_id = ?');
  const nameOf = db.prepare<[number], string>('SELECT name FROM users WHERE id = ?').pluck();
  const instructors = db
    .prepare<[number], number>("SELECT count(*) FROM course_staff WHERE course_id = ? AND role = 'instructor'")
    .pluck();

  const isLast = (courseId: number, userId: number): boolean =>
    isStaff.get(courseId, userId)?.role === 'instructor' && instructors.get(courseId) === 1;

  return {
    addStaff: (courseId, by, { name, login, role }) =>
      db.transaction((): Result<{ login: string; code: string | null }> => {
        const known = byLogin.get(login);
        if (known?.role === 'student')
          return refuse('login-taken', `"${login}" is the account of a student. Choose another sign-in name.`);
        const userId = known?.id ?? Number(addUser.run(login, name, role, now().toISOString()).lastInsertRowid);
        if (isStaff.get(courseId, userId) !== undefined)
          return refuse('login-taken', `"${login}" belongs to the staff of this course already.`);
        putStaff.run(courseId, userId, role);
        promote.run(userId);
        audit.note({ by, courseId, what: 'staff', subject: login, after: { role } });
        return succeed({ login, code: known === undefined ? codes.make(userId) : null });
      })(),
    changeStaff: (courseId, by, userId, change) =>
      db.transaction((): Result<null> => {
        const before = isStaff.get(courseId, userId);
        if (before === undefined) return refuse('not-found', NOBODY);
        const role = change.role ?? before.role;
        if (role !== 'instructor' && isLast(courseId, userId)) return refuse('last-instructor', LAST);
        const mayRelease = (change.mayRelease ?? before.mayRelease === 1) ? 1 : 0;
        setStaff.run(role, mayRelease, courseId, userId);
        promote.run(userId);
        audit.note({
          by,
          courseId,
          what: 'staff',
          subject: nameOf.get(userId) ?? '',
          before,
          after: { role, mayRelease },
        });
        return succeed(null);
      })(),
    removeStaff: (courseId, by, userId) =>
      db.transaction((): Result<null> => {
        const before = isStaff.get(courseId, userId);
        if (before === undefined) return refuse('not-found', NOBODY);
        if (isLast(courseId, userId)) return refuse('last-instructor', LAST);
        dropStaff.run(courseId, userId);
        audit.note({ by, courseId, what: 'staff', subject: nameOf.get(userId) ?? '', before });
        return succeed(null);
      })(),
  };
}
