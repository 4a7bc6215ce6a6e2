import { addDays } from 'date-fns';

import type { ChangeCourse, Course, NewCourse, User } from '#api';
import { refuse, succeed, type Result } from '#core/problem';
import { dayIn, isTimeZone } from '#core/time';

import type { ManagementParts } from './parts.ts';

export interface ManagingCourses {
  create(user: User, course: NewCourse): Result<number>;
  change(courseId: number, by: User, change: ChangeCourse): Result<null>;
}

const BAD_ZONE = 'This is no time zone. Choose one of the list.';

/** Nobody erases the work of a class by a slip of the finger. */
const LEAST_DAYS_KEPT = 30;

type Keeping = Pick<Course, 'keepUntil' | 'forgottenAt' | 'timeZone'>;

/** Why the work of students cannot be kept until the day that is wanted; null where it can, or nothing changes. */
function keepingProblem(before: Keeping, after: Keeping, time: Date): string | null {
  if (after.keepUntil === before.keepUntil) return null;
  if (before.forgottenAt !== null) return 'The work of the students is erased already.';
  const earliest = dayIn(addDays(time, LEAST_DAYS_KEPT).toISOString(), after.timeZone);
  return after.keepUntil !== null && after.keepUntil < earliest
    ? `Work is kept for ${String(LEAST_DAYS_KEPT)} more days at least: the first day that can be chosen is ${earliest}.`
    : null;
}

/** New courses, and the words, zone and archive of those that there are. */
export function managingCourses({ db, audit, now }: Pick<ManagementParts, 'db' | 'audit' | 'now'>): ManagingCourses {
  const find = db.prepare<
    [number],
    Pick<Course, 'title' | 'school' | 'term' | 'timeZone' | 'archivedAt' | 'fileNameRule' | 'keepUntil' | 'forgottenAt'>
  >(
    `SELECT title, school, term, coalesce(time_zone, 'UTC') AS timeZone, archived_at AS archivedAt, file_name_rule AS fileNameRule,
            keep_until AS keepUntil, forgotten_at AS forgottenAt
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
          keepUntil: change.keepUntil === undefined ? before.keepUntil : change.keepUntil,
        };
        const problem = keepingProblem(before, after, now());
        if (problem !== null) return refuse('bad-input', problem);
        db.prepare(
          'UPDATE courses SET title = ?, term = ?, time_zone = ?, file_name_rule = ?, archived_at = ?, keep_until = ? WHERE id = ?',
        ).run(after.title, after.term, after.timeZone, after.fileNameRule, after.archivedAt, after.keepUntil, courseId);
        audit.note({ by, courseId, what: 'course', subject: after.title, before, after });
        return succeed(null);
      })();
    },
  };
}
