/** Courses as their staff look after them: title and dates, sections, who teaches. */
import type {
  ChangeCourse,
  ChangeSection,
  ChangeStaff,
  Course,
  CourseSection,
  NewCourse,
  NewStaff,
  StaffMember,
  User,
} from '#api';
import { refuse, succeed, type Result } from '#core/problem';
import { isTimeZone } from '#core/time';
import type { Audit } from '#server/audit';
import { newJoinCode, staffMay, type SignInCodes } from '#server/auth';
import type { Db } from '#server/db';

interface CourseRow extends Omit<Course, 'mayManage' | 'sections' | 'staff'> {
  readonly mayManage: 0 | 1;
}

export interface CourseManagement {
  /** The courses that somebody belongs to as staff, those of this term first. */
  listFor(userId: number): readonly Course[];
  /** Whether somebody may change a course. */
  manages(courseId: number, userId: number): boolean;
  /** The course of a section that somebody may change, or null. */
  managedSection(sectionId: number, userId: number): { readonly courseId: number; readonly name: string } | null;
  create(user: User, course: NewCourse): Result<number>;
  change(courseId: number, by: User, change: ChangeCourse): Result<null>;
  addSection(courseId: number, by: User, name: string): Result<number>;
  changeSection(sectionId: number, by: User, change: ChangeSection): Result<null>;
  /** Refuses where somebody belongs to it or something was issued to it. */
  removeSection(sectionId: number, by: User): Result<null>;
  /** Adds somebody to the staff; gives a code for a first sign-in where the account is new. */
  addStaff(
    courseId: number,
    by: User,
    staff: NewStaff,
  ): Result<{ readonly login: string; readonly code: string | null }>;
  changeStaff(courseId: number, by: User, userId: number, change: ChangeStaff): Result<null>;
  removeStaff(courseId: number, by: User, userId: number): Result<null>;
}

export interface ManagementParts {
  readonly db: Db;
  readonly audit: Audit;
  readonly codes: SignInCodes;
  readonly now: () => Date;
}

const MAY = staffMay('manage-course');
const BAD_ZONE = 'This is no time zone. Choose one of the list.';

export function createCourseManagement({ db, audit, codes, now }: ManagementParts): CourseManagement {
  const rows = db.prepare<[number], CourseRow>(
    `SELECT courses.id, title, school, term, coalesce(time_zone, 'UTC') AS timeZone, archived_at AS archivedAt, ${MAY} AS mayManage
     FROM courses JOIN course_staff ON course_staff.course_id = courses.id
     WHERE course_staff.user_id = ? ORDER BY archived_at IS NOT NULL, courses.id DESC`,
  );
  const find = db.prepare<[number], Pick<CourseRow, 'title' | 'school' | 'term' | 'timeZone' | 'archivedAt'>>(
    `SELECT title, school, term, coalesce(time_zone, 'UTC') AS timeZone, archived_at AS archivedAt FROM courses WHERE id = ?`,
  );
  const sections = db.prepare<[number], CourseSection>(
    `SELECT id, name, join_code AS joinCode, (SELECT count(*) FROM enrollments WHERE section_id = sections.id) AS students
     FROM sections WHERE course_id = ? ORDER BY name`,
  );
  const staff = db.prepare<[number], Omit<StaffMember, 'mayRelease'> & { mayRelease: 0 | 1 }>(
    `SELECT users.id, users.name, users.login, course_staff.role, course_staff.may_release AS mayRelease
     FROM course_staff JOIN users ON users.id = course_staff.user_id WHERE course_id = ? ORDER BY course_staff.role DESC, users.name`,
  );
  const managing = db.prepare<[number, number]>(
    `SELECT 1 FROM course_staff WHERE course_id = ? AND user_id = ? AND ${MAY}`,
  );
  const section = db.prepare<[number], { courseId: number; name: string; joinCode: string | null }>(
    'SELECT course_id AS courseId, name, join_code AS joinCode FROM sections WHERE id = ?',
  );
  const sectionTaken = db.prepare<[number, string, number]>(
    'SELECT 1 FROM sections WHERE course_id = ? AND name = ? AND id <> ?',
  );
  const inUse = db.prepare<[number, number]>(
    'SELECT 1 FROM enrollments WHERE section_id = ? UNION SELECT 1 FROM assignments WHERE section_id = ?',
  );
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
  const dropStaff = db.prepare<[number, number]>('DELETE FROM course_staff WHERE course_id = ? AND user_id = ?');
  const nameOf = db.prepare<[number], string>('SELECT name FROM users WHERE id = ?').pluck();
  const instructors = db
    .prepare<[number], number>("SELECT count(*) FROM course_staff WHERE course_id = ? AND role = 'instructor'")
    .pluck();

  const isLast = (courseId: number, userId: number): boolean =>
    isStaff.get(courseId, userId)?.role === 'instructor' && instructors.get(courseId) === 1;
  const LAST = 'This is the only instructor of the course. Add another one first.';

  return {
    listFor: (userId) =>
      rows.all(userId).map((row) => ({
        ...row,
        mayManage: row.mayManage === 1,
        sections: sections.all(row.id),
        staff: staff.all(row.id).map((member) => ({ ...member, mayRelease: member.mayRelease === 1 })),
      })),
    manages: (courseId, userId) => managing.get(courseId, userId) !== undefined,
    managedSection(sectionId, userId) {
      const found = section.get(sectionId);
      return found !== undefined && managing.get(found.courseId, userId) !== undefined ? found : null;
    },
    create(user, { title, term, timeZone }) {
      if (!isTimeZone(timeZone)) return refuse('bad-input', BAD_ZONE);
      return db.transaction((): Result<number> => {
        // A new course belongs to the school of those that its author teaches.
        const school = rows.all(user.id)[0]?.school ?? '';
        const courseId = Number(
          db
            .prepare('INSERT INTO courses (title, school, term, time_zone) VALUES (?, ?, ?, ?)')
            .run(title, school, term, timeZone).lastInsertRowid,
        );
        putStaff.run(courseId, user.id, 'instructor');
        audit.note({ by: user, courseId, what: 'course', subject: title, after: { title, term, timeZone } });
        return succeed(courseId);
      })();
    },
    change(courseId, by, { archived, ...change }) {
      if (change.timeZone !== undefined && !isTimeZone(change.timeZone)) return refuse('bad-input', BAD_ZONE);
      return db.transaction((): Result<null> => {
        const before = find.get(courseId);
        if (before === undefined) return refuse('not-found', 'There is no such course.');
        const archivedAt =
          archived === undefined ? before.archivedAt : archived ? (before.archivedAt ?? now().toISOString()) : null;
        const after = {
          ...before,
          title: change.title ?? before.title,
          term: change.term ?? before.term,
          timeZone: change.timeZone ?? before.timeZone,
          archivedAt,
        };
        db.prepare('UPDATE courses SET title = ?, term = ?, time_zone = ?, archived_at = ? WHERE id = ?').run(
          after.title,
          after.term,
          after.timeZone,
          after.archivedAt,
          courseId,
        );
        audit.note({ by, courseId, what: 'course', subject: after.title, before, after });
        return succeed(null);
      })();
    },
    addSection: (courseId, by, name) =>
      db.transaction((): Result<number> => {
        if (sectionTaken.get(courseId, name, 0) !== undefined)
          return refuse('number-taken', `The course has a section "${name}" already.`);
        const id = Number(
          db.prepare('INSERT INTO sections (course_id, name) VALUES (?, ?)').run(courseId, name).lastInsertRowid,
        );
        audit.note({ by, courseId, what: 'section', subject: name });
        return succeed(id);
      })(),
    changeSection: (sectionId, by, { name, mayJoin }) =>
      db.transaction((): Result<null> => {
        const before = section.get(sectionId);
        if (before === undefined) return refuse('not-found', 'There is no such section.');
        const after = {
          ...before,
          name: name ?? before.name,
          joinCode: mayJoin === undefined ? before.joinCode : mayJoin ? (before.joinCode ?? newJoinCode()) : null,
        };
        if (sectionTaken.get(before.courseId, after.name, sectionId) !== undefined)
          return refuse('number-taken', `The course has a section "${after.name}" already.`);
        db.prepare('UPDATE sections SET name = ?, join_code = ? WHERE id = ?').run(
          after.name,
          after.joinCode,
          sectionId,
        );
        const told = ({ name: called, joinCode }: typeof after) => ({ name: called, mayJoin: joinCode !== null });
        audit.note({
          by,
          courseId: before.courseId,
          what: 'section',
          subject: after.name,
          before: told(before),
          after: told(after),
        });
        return succeed(null);
      })(),
    removeSection: (sectionId, by) =>
      db.transaction((): Result<null> => {
        const before = section.get(sectionId);
        if (before === undefined) return refuse('not-found', 'There is no such section.');
        if (inUse.get(sectionId, sectionId) !== undefined)
          return refuse('section-in-use', 'Students belong to this section, or something was issued to it. It stays.');
        db.prepare('DELETE FROM sections WHERE id = ?').run(sectionId);
        audit.note({ by, courseId: before.courseId, what: 'section removed', subject: before.name });
        return succeed(null);
      })(),
    addStaff: (courseId, by, { name, login, role }) =>
      db.transaction((): Result<{ login: string; code: string | null }> => {
        const known = byLogin.get(login);
        if (known?.role === 'student')
          return refuse('login-taken', `"${login}" is the account of a student. Choose another sign-in name.`);
        const userId = known?.id ?? Number(addUser.run(login, name, role, now().toISOString()).lastInsertRowid);
        if (isStaff.get(courseId, userId) !== undefined)
          return refuse('login-taken', `"${login}" belongs to the staff of this course already.`);
        putStaff.run(courseId, userId, role);
        audit.note({ by, courseId, what: 'staff', subject: login, after: { role } });
        return succeed({ login, code: known === undefined ? codes.make(userId) : null });
      })(),
    changeStaff: (courseId, by, userId, change) =>
      db.transaction((): Result<null> => {
        const before = isStaff.get(courseId, userId);
        if (before === undefined) return refuse('not-found', 'Nobody of this account teaches the course.');
        const role = change.role ?? before.role;
        if (role !== 'instructor' && isLast(courseId, userId)) return refuse('last-instructor', LAST);
        const mayRelease = (change.mayRelease ?? before.mayRelease === 1) ? 1 : 0;
        setStaff.run(role, mayRelease, courseId, userId);
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
        if (before === undefined) return refuse('not-found', 'Nobody of this account teaches the course.');
        if (isLast(courseId, userId)) return refuse('last-instructor', LAST);
        dropStaff.run(courseId, userId);
        audit.note({ by, courseId, what: 'staff', subject: nameOf.get(userId) ?? '', before });
        return succeed(null);
      })(),
  };
}
