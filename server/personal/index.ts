/** What is kept of a student: given out as a zip, and erased on request. */
import type { Hono } from 'hono';

import type { User } from '#api';
import { refuse, succeed, type Result } from '#core/problem';
import { printedOf, type Attempts } from '#server/attempt';
import type { Audit } from '#server/audit';
import { joinStaff, staffMay } from '#server/auth';
import type { Db } from '#server/db';
import type { FileStore } from '#server/files';
import { allow, idParam, notFound, refuseProblem, safeFileName, userOf, type AppEnv } from '#server/http';
import type { Printer } from '#server/jobs';

import { bundle, type BundleEntry } from './bundle.ts';

interface Person {
  readonly id: number;
  readonly name: string;
  readonly login: string;
  readonly email: string | null;
  readonly createdAt: string;
  readonly signedInAt: string | null;
}

interface AttemptRow {
  readonly id: number;
  readonly number: string;
  readonly fileName: string;
  readonly handedInAt: string;
}

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

export interface PersonalDataParts {
  readonly db: Db;
  readonly files: Pick<FileStore, 'read'>;
  readonly attempts: Pick<Attempts, 'detailFor' | 'filesFor'>;
  readonly printer: Pick<Printer, 'report'>;
  readonly audit: Audit;
}

const json = (value: unknown): Uint8Array => new TextEncoder().encode(JSON.stringify(value, null, 2));

/** What the first file of the bundle says. */
const ABOUT = `What Zorvet keeps of this person, as far as it is shown to whoever asked.

person.json     the account
work.json       sections, and one line for each hand-in
attempts/       of each hand-in the file, and what its page shows as JSON and PDF

The log of a course keeps who changed a grade, a date or a role, with names, and is not part of this. Backups are kept for two weeks.
`;

export function createPersonalData({ db, files, attempts, printer, audit }: PersonalDataParts): PersonalData {
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
  const sections = db.prepare<[number], { course: string; section: string }>(
    `SELECT courses.title AS course, sections.name AS section FROM enrollments
     JOIN sections ON sections.id = enrollments.section_id JOIN courses ON courses.id = sections.course_id
     WHERE enrollments.user_id = ?`,
  );
  const handedIn = db.prepare<[number], AttemptRow>(
    `SELECT attempts.id, exercises.number, attempts.file_name AS fileName, handed_in_at AS handedInAt
     FROM attempts JOIN assignments ON assignments.id = attempts.assignment_id
     JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id
     JOIN exercises ON exercises.id = exercise_revisions.exercise_id
     WHERE student_id = ? ORDER BY attempts.id`,
  );
  /** Courses of a student, by enrollment or by work, that somebody does not manage. */
  const ofOthers = db
    .prepare<[{ studentId: number; userId: number }], string>(
      `SELECT DISTINCT courses.title FROM courses JOIN sections ON sections.course_id = courses.id
       WHERE (sections.id IN (SELECT section_id FROM enrollments WHERE user_id = @studentId)
           OR sections.id IN (SELECT section_id FROM assignments
                              JOIN attempts ON attempts.assignment_id = assignments.id WHERE student_id = @studentId))
         AND NOT EXISTS (SELECT 1 FROM course_staff
                         WHERE course_staff.course_id = courses.id AND user_id = @userId AND ${staffMay('manage-course')})`,
    )
    .pluck();
  const coursesOf = db
    .prepare<[{ studentId: number }], number>(
      `SELECT DISTINCT course_id FROM sections JOIN enrollments ON enrollments.section_id = sections.id
       WHERE enrollments.user_id = @studentId`,
    )
    .pluck();
  const busy = db
    .prepare<[number], 1>("SELECT 1 FROM attempts WHERE student_id = ? AND state IN ('waiting', 'running') LIMIT 1")
    .pluck();
  const hashes = db
    .prepare<[{ studentId: number }], string | null>(
      `SELECT file_sha256 FROM attempts WHERE student_id = @studentId
       UNION SELECT model_sha256 FROM reports JOIN attempts ON attempts.id = reports.attempt_id WHERE student_id = @studentId
       UNION SELECT overlay_sha256 FROM reports JOIN attempts ON attempts.id = reports.attempt_id WHERE student_id = @studentId`,
    )
    .pluck();
  const forgetLists = db.prepare(
    `DELETE FROM roster_changes WHERE section_id IN (SELECT section_id FROM enrollments WHERE user_id = ?)`,
  );
  const dropAttempts = db.prepare('DELETE FROM attempts WHERE student_id = ?');
  const dropUser = db.prepare('DELETE FROM users WHERE id = ?');
  const dropFile = db.prepare('DELETE FROM files WHERE sha256 = ?');
  const forgetFile = (sha256: string): void => {
    try {
      dropFile.run(sha256);
    } catch (error) {
      // Somebody else handed in the same content, or a reference is it.
      if (!(error instanceof Error && 'code' in error && error.code === 'SQLITE_CONSTRAINT_FOREIGNKEY')) throw error;
    }
  };

  function* entriesOf(student: Person, viewer: User): Generator<BundleEntry> {
    const now = async (value: Uint8Array): Promise<Uint8Array> => Promise.resolve(value);
    const visible = handedIn
      .all(student.id)
      .flatMap((row) => (attempts.filesFor(row.id, viewer) === null ? [] : [row]));
    yield { name: 'about.txt', content: () => now(new TextEncoder().encode(ABOUT)) };
    yield { name: 'person.json', content: () => now(json(student)) };
    yield {
      name: 'work.json',
      content: () => now(json({ sections: sections.all(student.id), attempts: visible })),
    };
    for (const { id, number, fileName } of visible) {
      const [found, detail] = [attempts.filesFor(id, viewer), attempts.detailFor(id, viewer)];
      const at = `attempts/${String(id)} ${safeFileName(number)}`;
      if (found !== null)
        yield { name: `${at}/${safeFileName(fileName)}`, content: () => files.read(found.fileSha256) };
      if (detail === null) continue;
      yield { name: `${at}/report.json`, content: () => now(json(detail)) };
      const { report } = detail;
      if (report !== null)
        yield {
          name: `${at}/report.pdf`,
          content: async () => {
            const pdf = await printer.report(printedOf(detail, report));
            if (!pdf.ok) throw new Error(pdf.problem.message);
            return pdf.value;
          },
        };
    }
  }

  return {
    zipOf(studentId, viewer) {
      const student = person.get(studentId);
      const may = viewer.id === studentId || teaches.get(studentId, viewer.id) !== undefined;
      if (student === undefined || !may) return null;
      return { name: student.name, content: bundle(entriesOf(student, viewer)) };
    },
    erase: (studentId, by) =>
      db.transaction((): Result<null> | null => {
        if (person.get(studentId) === undefined || teaches.get(studentId, by.id) === undefined) return null;
        const [other] = ofOthers.all({ studentId, userId: by.id });
        if (other !== undefined)
          return refuse(
            'other-courses',
            `This student also belongs to "${other}", which you do not manage. Ask those who do to take part in it, or take the student off your section alone.`,
          );
        if (busy.get(studentId) !== undefined)
          return refuse('not-measured', 'A file of this student is being measured. Try again in a minute.');
        const courseIds = coursesOf.all({ studentId });
        const known = hashes.all({ studentId }).filter((sha256) => sha256 !== null);
        // Lists that were taken name the student; they cannot be taken back any more.
        forgetLists.run(studentId);
        dropAttempts.run(studentId);
        dropUser.run(studentId);
        for (const sha256 of known) forgetFile(sha256);
        for (const courseId of courseIds)
          audit.note({ by, courseId, what: 'a student erased', subject: `account ${String(studentId)}` });
        return succeed(null);
      })(),
  };
}

export function personalDataRoutes(app: Hono<AppEnv>, personal: PersonalData): void {
  const send = (zip: ReturnType<PersonalData['zipOf']>): Response | null =>
    zip &&
    new Response(zip.content, {
      headers: {
        'Content-Type': 'application/zip',
        'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(safeFileName(`${zip.name} data.zip`))}`,
      },
    });

  app.get('/api/my-data.zip', allow('work'), (c) => send(personal.zipOf(userOf(c).id, userOf(c))) ?? notFound(c));

  app.get(
    '/api/students/:id/data.zip',
    allow('manage-course'),
    (c) => send(personal.zipOf(idParam(c) ?? 0, userOf(c))) ?? notFound(c),
  );

  app.delete('/api/students/:id', allow('manage-course'), (c) => {
    const done = personal.erase(idParam(c) ?? 0, userOf(c));
    if (done === null) return notFound(c);
    return done.ok ? c.json({}) : refuseProblem(c, done.problem);
  });
}
