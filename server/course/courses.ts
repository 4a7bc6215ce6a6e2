import type { Section } from '#api';
import { joinStaff, staffMay } from '#server/auth';
import type { Db } from '#server/db';

export interface Courses {
  /** Courses whose attempts a user may read. */
  readBy(userId: number): readonly number[];
  /** The zone that somebody reads times in: that of their course, or of the server where they have none. */
  timeZoneOf(userId: number): string;
  sectionsReadBy(userId: number): Section[];
  /** The course of a section if the user may issue exercises in it. */
  courseToIssueIn(sectionId: number, userId: number): number | null;
}

/** Courses without a time zone get that of the server. */
export function fillTimeZones(db: Db, timeZone: string): void {
  const lacking = db.prepare('SELECT 1 FROM courses WHERE time_zone IS NULL').get();
  if (lacking !== undefined) db.prepare('UPDATE courses SET time_zone = ? WHERE time_zone IS NULL').run(timeZone);
}

export function createCourses(db: Db, timeZone: string): Courses {
  const taught = db.prepare<[number], { id: number }>(
    `SELECT course_id AS id FROM course_staff WHERE user_id = ? AND ${staffMay('read-course')}`,
  );
  const sections = db.prepare<[number], Section>(
    `SELECT sections.id, sections.name, courses.title AS course,
            (SELECT count(*) FROM enrollments WHERE section_id = sections.id) AS students
     FROM sections JOIN courses ON courses.id = sections.course_id
     ${joinStaff('courses.id', 'read-course')}
     WHERE course_staff.user_id = ? ORDER BY sections.name`,
  );
  const courseOf = db.prepare<[number, number], { id: number }>(
    `SELECT sections.course_id AS id FROM sections
     ${joinStaff('sections.course_id', 'issue')}
     WHERE sections.id = ? AND course_staff.user_id = ?`,
  );
  const zone = db
    .prepare<[{ userId: number }], string>(
      `SELECT time_zone FROM courses WHERE time_zone IS NOT NULL AND (
         id IN (SELECT course_id FROM course_staff WHERE user_id = @userId)
         OR id IN (SELECT course_id FROM sections JOIN enrollments ON enrollments.section_id = sections.id
                   WHERE enrollments.user_id = @userId)) ORDER BY id LIMIT 1`,
    )
    .pluck();
  return {
    timeZoneOf: (userId) => zone.get({ userId }) ?? timeZone,
    readBy: (userId) => taught.all(userId).map(({ id }) => id),
    sectionsReadBy: (userId) => sections.all(userId),
    courseToIssueIn: (sectionId, userId) => courseOf.get(sectionId, userId)?.id ?? null,
  };
}
