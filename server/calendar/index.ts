/** Due dates for calendar programs: an address for each person that needs no sign-in, and can be changed. */
import { randomBytes } from 'node:crypto';

import type { Hono } from 'hono';

import type { CalendarAnswer, User } from '#api';
import { minuteIn } from '#core/time';
import { extendedBy } from '#server/assignment';
import { joinStaff } from '#server/auth';
import { JOIN_ISSUED, type Db } from '#server/db';
import { allow, notFound, userOf, type AppEnv, type Front } from '#server/http';

import { calendarFeed, type CalendarDate } from './feed.ts';

const KEY_BYTES = 24;

interface DateRow {
  readonly assignmentId: number;
  readonly number: string;
  readonly title: string;
  readonly section: string;
  readonly course: string;
  readonly timeZone: string;
  readonly dueAt: string;
  readonly lateUntil: string | null;
  readonly attemptsAllowed: number;
}

interface Owner {
  readonly id: number;
  readonly name: string;
  readonly role: User['role'];
}

export interface Calendars {
  /** The key of somebody's feed, made where there is none; a new one where `renew` says so. */
  keyOf(userId: number, renew?: boolean): string;
  /** The feed of a key; null for a key that is not there. `site` is the address of the server. */
  feed(key: string, site: string): string | null;
}

export function createCalendars(db: Db, now: () => Date): Calendars {
  const find = db.prepare<[number], string | null>('SELECT calendar_key FROM users WHERE id = ?').pluck();
  const save = db.prepare('UPDATE users SET calendar_key = ? WHERE id = ?');
  const owner = db.prepare<[string], Owner>('SELECT id, name, role FROM users WHERE calendar_key = ?');
  const DATES = `assignments.id AS assignmentId, exercises.number, exercises.title, sections.name AS section,
            courses.title AS course, coalesce(courses.time_zone, 'UTC') AS timeZone,
            assignments.due_at AS dueAt, assignments.late_until AS lateUntil,
            assignments.attempts_allowed AS attemptsAllowed
     FROM assignments ${JOIN_ISSUED}
     JOIN sections ON sections.id = assignments.section_id JOIN courses ON courses.id = sections.course_id`;
  const ACTIVE = 'courses.archived_at IS NULL AND assignments.withdrawn_at IS NULL';
  const ofStaff = db.prepare<[number], DateRow>(
    `SELECT ${DATES} ${joinStaff('courses.id', 'read-course')} WHERE course_staff.user_id = ? AND ${ACTIVE}
     ORDER BY assignments.due_at`,
  );
  // What is not open yet is not told: its number and title say what comes.
  const ofStudent = db.prepare<
    [{ userId: number; now: string }],
    DateRow & { readonly ownDue: string | null; readonly extraAttempts: number }
  >(
    `SELECT extensions.due_at AS ownDue, coalesce(extensions.extra_attempts, 0) AS extraAttempts, ${DATES}
     JOIN enrollments ON enrollments.section_id = sections.id AND enrollments.user_id = @userId
     LEFT JOIN extensions ON extensions.assignment_id = assignments.id AND extensions.student_id = @userId
     WHERE ${ACTIVE} AND assignments.opens_at <= @now AND coalesce(extensions.standing, 'owed') <> 'excused'
     ORDER BY assignments.due_at`,
  );
  return {
    keyOf(userId, renew = false) {
      const known = find.get(userId) ?? null;
      if (known !== null && !renew) return known;
      const key = randomBytes(KEY_BYTES).toString('base64url');
      save.run(key, userId);
      return key;
    },
    feed(key, site) {
      const found = owner.get(key);
      if (found === undefined) return null;
      const isStudent = found.role === 'student';
      const dateOf = (row: DateRow): CalendarDate => ({
        assignmentId: row.assignmentId,
        title: `${row.number} ${row.title}`,
        section: isStudent ? null : row.section,
        course: row.course,
        dueAt: row.dueAt,
        lateUntil: row.lateUntil === null ? null : minuteIn(row.lateUntil, row.timeZone),
        address: `${site}/${isStudent ? 'my' : 'assignments'}/${String(row.assignmentId)}`,
      });
      const dates = isStudent
        ? ofStudent
            .all({ userId: found.id, now: now().toISOString() })
            .map(({ ownDue: dueAt, extraAttempts, ...row }) => dateOf(extendedBy(row, { dueAt, extraAttempts })))
        : ofStaff.all(found.id).map(dateOf);
      return calendarFeed(found.name, dates, isStudent);
    },
  };
}

export function calendarRoutes(app: Hono<AppEnv>, calendars: Calendars, front: Front): void {
  const siteOf = (url: string): string => (front.publicUrl ?? new URL(url)).origin;
  const addressOf = (url: string, key: string): CalendarAnswer => ({
    address: `${siteOf(url)}/api/calendar/${key}.ics`,
  });

  app.get('/api/calendar', allow('signed-in'), (c) => c.json(addressOf(c.req.url, calendars.keyOf(userOf(c).id))));

  app.post('/api/calendar/renew', allow('signed-in'), (c) =>
    c.json(addressOf(c.req.url, calendars.keyOf(userOf(c).id, true))),
  );

  app.get('/api/calendar/:file', allow('anyone'), (c) => {
    const key = /^([\w-]{32})\.ics$/.exec(c.req.param('file'))?.[1];
    const feed = key === undefined ? null : calendars.feed(key, siteOf(c.req.url));
    if (feed === null) return notFound(c);
    return c.body(feed, 200, { 'Content-Type': 'text/calendar; charset=utf-8', 'Cache-Control': 'private, no-store' });
  });
}
