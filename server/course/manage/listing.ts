import type { Course, CourseSection, StaffMember } from '#api';
import { staffMay } from '#server/auth';

import type { ManagementParts } from './parts.ts';

export interface ListingCourses {
  /** The courses that somebody belongs to as staff, those of this term first. */
  listFor(userId: number): readonly Course[];
  /** Whether somebody may change a course. */
  manages(courseId: number, userId: number): boolean;
  /** The course of a section that somebody may change, or null. */
  managedSection(sectionId: number, userId: number): { readonly courseId: number; readonly name: string } | null;
}

interface CourseRow extends Omit<Course, 'mayManage' | 'sections' | 'staff'> {
  readonly mayManage: 0 | 1;
}

const MAY = staffMay('manage-course');

/** What there is, and who may change it. */
export function listingCourses({ db }: Pick<ManagementParts, 'db'>): ListingCourses {
  const rows = db.prepare<[number], CourseRow>(
    `SELECT courses.id, title, school, term, coalesce(time_zone, 'UTC') AS timeZone, archived_at AS archivedAt,
            file_name_rule AS fileNameRule, keep_until AS keepUntil, forgotten_at AS forgottenAt, ${MAY} AS mayManage
     FROM courses JOIN course_staff ON course_staff.course_id = courses.id
     WHERE course_staff.user_id = ? ORDER BY archived_at IS NOT NULL, courses.id DESC`,
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
  const section = db.prepare<[number], { courseId: number; name: string }>(
    'SELECT course_id AS courseId, name FROM sections WHERE id = ?',
  );
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
  };
}
