/** What is kept of a student: given out as a zip, and erased on request. */
import type { Context, Hono } from 'hono';
import { RateLimiterMemory } from 'rate-limiter-flexible';

import type { User } from '#api';
import type { Result } from '#core/problem';
import { bundle } from '#server/archive';
import type { Audit } from '#server/audit';
import { joinStaff, type Sessions } from '#server/auth';
import {
  allow,
  idParam,
  notFound,
  refuseProblem,
  refuseWith,
  takesRoom,
  userOf,
  zipResponse,
  type AppEnv,
} from '#server/http';

import { createCollector, type CollectParts, type Person } from './collect.ts';
import { createEraser } from './erase.ts';

export interface PersonalData {
  /** All that `viewer` may see of a student, in the words and to the degree of the pages; null for who may see nothing. */
  zipOf(
    studentId: number,
    viewer: User,
  ): { readonly name: string; readonly content: ReadableStream<Uint8Array> } | null;
  /**
   * Deletes the account of a student with all work, reports and grades. Refuses with `other-courses` where the student
   * belongs to a course that others manage. Null for who may not.
   */
  erase(studentId: number, by: User): Result<null> | null;
}

export interface PersonalDataParts extends CollectParts {
  readonly audit: Audit;
  readonly sessions: Pick<Sessions, 'endAll'>;
}

/** Bundles that one person may ask for: each prints every report anew. */
const BUNDLES = { points: 6, duration: 3600 } as const;

export function createPersonalData({ audit, sessions, ...parts }: PersonalDataParts): PersonalData {
  const { db } = parts;
  const person = db.prepare<[number], Person>(
    `SELECT id, name, login, email, created_at AS createdAt, signed_in_at AS signedInAt
     FROM users WHERE id = ? AND role = 'student'`,
  );
  const teaches = db
    .prepare<[number, number], 1>(
      `SELECT 1 FROM enrollments JOIN sections ON sections.id = enrollments.section_id
       ${joinStaff('sections.course_id', 'manage-course')}
       WHERE enrollments.user_id = ? AND course_staff.user_id = ?`,
    )
    .pluck();
  const entriesOf = createCollector(parts);
  const eraseStudent = createEraser(db, audit);
  return {
    zipOf(studentId, viewer) {
      const student = person.get(studentId);
      const may = viewer.id === studentId || teaches.get(studentId, viewer.id) !== undefined;
      if (student === undefined || !may) return null;
      return { name: student.name, content: bundle(entriesOf(student, viewer)) };
    },
    erase(studentId, by) {
      if (person.get(studentId) === undefined || teaches.get(studentId, by.id) === undefined) return null;
      return db.transaction(() => {
        const done = eraseStudent(studentId, by);
        // Open pages of the student end at once.
        if (done.ok) sessions.endAll(studentId);
        return done;
      })();
    },
  };
}

export function personalDataRoutes(app: Hono<AppEnv>, personal: PersonalData): void {
  const send = (zip: ReturnType<PersonalData['zipOf']>): Response | null =>
    zip && zipResponse(`${zip.name} data.zip`, zip.content);

  const bundles = new RateLimiterMemory(BUNDLES);
  const zipFor = async (c: Context<AppEnv>, studentId: number): Promise<Response> => {
    const user = userOf(c);
    if (!(await takesRoom(bundles, user.id)))
      return refuseWith(c, 'too-many-files', 'You have asked for this too often. Wait an hour and try again.');
    return send(personal.zipOf(studentId, user)) ?? notFound(c);
  };

  app.get('/api/my-data.zip', allow('work'), (c) => zipFor(c, userOf(c).id));

  app.get('/api/students/:id/data.zip', allow('manage-course'), (c) => zipFor(c, idParam(c) ?? 0));

  app.delete('/api/students/:id', allow('manage-course'), (c) => {
    const done = personal.erase(idParam(c) ?? 0, userOf(c));
    if (done === null) return notFound(c);
    return done.ok ? c.json({}) : refuseProblem(c, done.problem);
  });
}
