/** Courses, sections, and who belongs to them. */
import type { Hono } from 'hono';

import type { Section } from '#api';
import type { Db } from '#server/db';
import { allow, userOf, type AppEnv } from '#server/http';

export interface Courses {
  taughtBy(userId: number): readonly number[];
  sectionsTaughtBy(userId: number): Section[];
  /** The course of a section if the user teaches it. */
  courseOfSection(sectionId: number, instructorId: number): number | null;
}

export function createCourses(db: Db): Courses {
  const taught = db.prepare<[number], { id: number }>(
    'SELECT course_id AS id FROM course_instructors WHERE user_id = ?',
  );
  const sections = db.prepare<[number], Section>(
    `SELECT sections.id, sections.name, courses.title AS course,
            (SELECT count(*) FROM enrollments WHERE section_id = sections.id) AS students
     FROM sections JOIN courses ON courses.id = sections.course_id
     JOIN course_instructors ON course_instructors.course_id = courses.id
     WHERE course_instructors.user_id = ? ORDER BY sections.name`,
  );
  const courseOf = db.prepare<[number, number], { id: number }>(
    `SELECT sections.course_id AS id FROM sections
     JOIN course_instructors ON course_instructors.course_id = sections.course_id
     WHERE sections.id = ? AND course_instructors.user_id = ?`,
  );
  return {
    taughtBy: (userId) => taught.all(userId).map(({ id }) => id),
    sectionsTaughtBy: (userId) => sections.all(userId),
    courseOfSection: (sectionId, instructorId) => courseOf.get(sectionId, instructorId)?.id ?? null,
  };
}

export function courseRoutes(app: Hono<AppEnv>, courses: Courses): void {
  app.get('/api/sections', allow('instructor'), (c) => c.json({ sections: courses.sectionsTaughtBy(userOf(c).id) }));
}
