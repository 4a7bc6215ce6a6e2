import type { ChangeCourse, Course, NewCourse, User } from '#api';
import { refuse, succeed, type Result } from '#core/problem';
import { isTimeZone } from '#core/time';

import type { ManagementParts } from './parts.ts';

export interface ManagingCourses {
  create(user: User, course: NewCourse): Result<number>;
  change(courseId: number, by: User, change: ChangeCourse): Result<null>;
}

const BAD_ZONE = 'This is no time zone. Choose one of the list.';

/** New courses, and the words, zone and archive of those that there are. */
export function managingCourses({ db, audit, now }: Pick<ManagementParts, 'db' | 'audit' | 'now'>): ManagingCourses {
  const find = db.prepare<
    [number],
    Pick<Course, 'title' | 'school' | 'term' | 'timeZone' | 'archivedAt' | 'fileNameRule'>
  >(
    `SELECT title, school, term, coalesce(time_zone, 'UTC') AS timeZone, archived_at AS archivedAt, file_name_rule AS fileNameRule
     FROM courses WHERE id = ?`,
  );
  const schoolOf = db
    .prepare<[number], string>(
      `SELECT school FROM courses JOIN course_staff ON course_staff.course_id = courses.id
       WHERE course_staff.user_id = ? ORDER BY courses.id DESC LIMIT 1`,
    )
    .pluck();
  return {
    create(user, { title, term, timeZone }) {
      if (!isTimeZone(timeZone)) return refuse('bad-input', BAD_ZONE);
      return db.transaction((): Result<number> => {
        // A new course belongs to the school of those that its author teaches.
        const school = schoolOf.get(user.id) ?? '';
        const courseId = Number(
          db
            .prepare('INSERT INTO courses (title, school, term, time_zone) VALUES (?, ?, ?, ?)')
            .run(title, school, term, timeZone).lastInsertRowid,
        );
        db.prepare("INSERT INTO course_staff (course_id, user_id, role) VALUES (?, ?, 'instructor')").run(
          courseId,
          user.id,
        );
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
          fileNameRule: change.fileNameRule === undefined ? before.fileNameRule : change.fileNameRule || null,
          archivedAt,
        };
        db.prepare(
          'UPDATE courses SET title = ?, term = ?, time_zone = ?, file_name_rule = ?, archived_at = ? WHERE id = ?',
        ).run(after.title, after.term, after.timeZone, after.fileNameRule, after.archivedAt, courseId);
        audit.note({ by, courseId, what: 'course', subject: after.title, before, after });
        return succeed(null);
      })();
    },
  };
}
