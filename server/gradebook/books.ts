/** The gradebook of a course, for its page and as a table. */
import type { Hono } from 'hono';

import type { GradebookAnswer, StudentRecord } from '#api';
import { causeName, type CauseKind } from '#core/cause';
import { stageCount } from '#core/exercise';
import { gradebookAsCsv, gradebookOf, type CellState, type Gradebook, type GradebookCell } from '#core/gradebook';
import {
  countingOfStages,
  documentOf,
  endOf,
  extendedBy,
  policyOf,
  scoreOfStages,
  SELECT_ASSIGNMENT,
  type AssignmentRow,
  type GivenDates,
} from '#server/assignment';
import { staffMay } from '#server/auth';
import type { Db } from '#server/db';
import { allow, idParam, notFound, safeFileName, userOf, type AppEnv } from '#server/http';

interface AttemptFacts {
  readonly assignmentId: number;
  readonly studentId: number;
  readonly id: number;
  readonly stage: number;
  readonly state: string;
  readonly score: number | null;
  readonly handedInAt: string;
  readonly accepted: 0 | 1;
}

interface ExtensionFacts extends GivenDates {
  readonly assignmentId: number;
  readonly studentId: number;
  readonly excused: 0 | 1;
}

interface StudentFacts {
  readonly id: number;
  readonly name: string;
  readonly login: string;
  readonly section: string;
  readonly sectionId: number;
}

export interface Gradebooks {
  /** The gradebook of a course, for whoever teaches it; null for others. */
  of(courseId: number, userId: number): { readonly course: string; readonly book: Gradebook } | null;
  /** One student of a course, for whoever teaches it; null for others. */
  student(courseId: number, studentId: number, userId: number): StudentRecord | null;
}

const keyOf = (assignmentId: number, studentId: number): string => `${String(assignmentId)} ${String(studentId)}`;

/** Lists by assignment and student. */
function byPlace<T extends { readonly assignmentId: number; readonly studentId: number }>(
  rows: readonly T[],
): ReadonlyMap<string, readonly T[]> {
  const places = new Map<string, T[]>();
  for (const row of rows) {
    const key = keyOf(row.assignmentId, row.studentId);
    const place = places.get(key);
    if (place === undefined) places.set(key, [row]);
    else place.push(row);
  }
  return places;
}

/** What a student has of an assignment, as it is for them. */
function cellOf(
  row: AssignmentRow,
  attempts: readonly AttemptFacts[],
  extension: ExtensionFacts | undefined,
  now: string,
): GradebookCell {
  const graded = attempts.filter(({ state }) => state === 'graded');
  const score = scoreOfStages(countingOfStages(graded, policyOf(row)), stageCount(documentOf(row)));
  const newest = graded.at(-1) ?? attempts.at(-1);
  const state = ((): CellState => {
    if (extension?.excused === 1) return 'excused';
    if (graded.length > 0) return row.release !== 'automatic' && newest?.accepted !== 1 ? 'to-review' : 'graded';
    if (attempts.some((attempt) => attempt.state === 'waiting' || attempt.state === 'running')) return 'handed-in';
    return endOf(row) < now ? 'missing' : attempts.length > 0 ? 'handed-in' : 'open';
  })();
  return {
    state,
    score: state === 'missing' ? 0 : score,
    attemptId: newest?.id ?? null,
    attempts: attempts.filter((attempt) => attempt.state !== 'refused').length,
    isLate: newest !== undefined && newest.handedInAt > row.dueAt,
  };
}

export function createGradebooks(db: Db, now: () => Date): Gradebooks {
  const teaches = db
    .prepare<[number, number], string>(
      `SELECT courses.title FROM course_staff JOIN courses ON courses.id = course_staff.course_id
       WHERE course_id = ? AND user_id = ? AND ${staffMay('read-course')}`,
    )
    .pluck();
  const assignments = db.prepare<[number], AssignmentRow>(
    `${SELECT_ASSIGNMENT} WHERE courses.id = ? AND assignments.withdrawn_at IS NULL ORDER BY assignments.opens_at, assignments.id`,
  );
  const STUDENTS = `SELECT users.id, users.name, users.login, sections.name AS section, sections.id AS sectionId
     FROM sections JOIN enrollments ON enrollments.section_id = sections.id JOIN users ON users.id = enrollments.user_id
     WHERE sections.course_id = ?`;
  const students = db.prepare<[number], StudentFacts>(`${STUDENTS} ORDER BY users.name, users.id, sections.name`);
  const oneStudent = db.prepare<[number, number], StudentFacts>(`${STUDENTS} AND users.id = ? ORDER BY sections.name`);
  const OF_COURSE = `JOIN assignments ON assignments.id = assignment_id
     JOIN sections ON sections.id = assignments.section_id WHERE sections.course_id = ?`;
  const ATTEMPTS = `SELECT assignment_id AS assignmentId, student_id AS studentId, attempts.id, stage, state, score,
            handed_in_at AS handedInAt, reviews.accepted_at IS NOT NULL AS accepted
     FROM attempts LEFT JOIN reviews ON reviews.attempt_id = attempts.id ${OF_COURSE}`;
  const attempts = db.prepare<[number], AttemptFacts>(`${ATTEMPTS} ORDER BY attempts.id`);
  const ownAttempts = db.prepare<[number, number], AttemptFacts>(`${ATTEMPTS} AND student_id = ? ORDER BY attempts.id`);
  const EXTENSIONS = `SELECT assignment_id AS assignmentId, student_id AS studentId, extensions.due_at AS dueAt,
            extra_attempts AS extraAttempts, excused
     FROM extensions ${OF_COURSE}`;
  const extensions = db.prepare<[number], ExtensionFacts>(EXTENSIONS);
  const ownExtensions = db.prepare<[number, number], ExtensionFacts>(`${EXTENSIONS} AND student_id = ?`);
  const causes = db.prepare<[{ courseId: number; studentId: number }], { kind: CauseKind; attemptId: number }>(
    `WITH newest AS (
       SELECT max(attempts.id) AS id FROM attempts JOIN assignments ON assignments.id = attempts.assignment_id
       JOIN sections ON sections.id = assignments.section_id
       WHERE sections.course_id = @courseId AND attempts.student_id = @studentId AND attempts.state = 'graded'
       GROUP BY attempts.assignment_id, attempts.stage)
     SELECT DISTINCT report_causes.kind, report_causes.attempt_id AS attemptId
     FROM newest JOIN report_causes ON report_causes.attempt_id = newest.id ORDER BY report_causes.attempt_id`,
  );
  const reasons = db.prepare<[number], { assignmentId: number; reason: string }>(
    'SELECT assignment_id AS assignmentId, reason FROM extensions WHERE student_id = ?',
  );
  const commonCauses = (courseId: number, studentId: number): StudentRecord['causes'] => {
    const kinds = new Map<CauseKind, number[]>();
    for (const { kind, attemptId } of causes.all({ courseId, studentId }))
      kinds.set(kind, [...(kinds.get(kind) ?? []), attemptId]);
    return [...kinds]
      .map(([kind, attemptIds]) => ({ name: causeName(kind), attemptIds }))
      .sort((a, b) => b.attemptIds.length - a.attemptIds.length);
  };
  return {
    student(courseId, studentId, userId) {
      const course = teaches.get(courseId, userId);
      const student = oneStudent.get(courseId, studentId);
      if (course === undefined || student === undefined) return null;
      const handedIn = byPlace(ownAttempts.all(courseId, studentId));
      const given = byPlace(ownExtensions.all(courseId, studentId));
      const why = new Map(reasons.all(studentId).map(({ assignmentId, reason }) => [assignmentId, reason]));
      const work = assignments
        .all(courseId)
        .filter(({ sectionId }) => sectionId === student.sectionId)
        .map((row) => {
          const own = handedIn.get(keyOf(row.id, studentId)) ?? [];
          const extension = given.get(keyOf(row.id, studentId))?.[0];
          const ownRow = extendedBy(row, extension);
          return {
            assignmentId: row.id,
            number: row.exerciseNumber,
            title: row.exerciseTitle,
            dueAt: ownRow.dueAt,
            cell: cellOf(ownRow, own, extension, now().toISOString()),
            scores: own.flatMap(({ id, score }) => (score === null ? [] : { attemptId: id, score })),
            extension: why.get(row.id) ?? null,
          };
        });
      const cells = new Map(work.map(({ assignmentId, cell }) => [assignmentId, cell]));
      const { name, login, section } = student;
      const places = work.map(({ assignmentId, number, title }) => ({ id: assignmentId, number, title, section }));
      const [row] = gradebookOf({
        assignments: places,
        students: [{ id: studentId, name, login, section, cells }],
      }).rows;
      return {
        course,
        name,
        login,
        section,
        total: row?.total ?? null,
        work,
        causes: commonCauses(courseId, studentId),
      };
    },
    of(courseId, userId) {
      const course = teaches.get(courseId, userId);
      if (course === undefined) return null;
      const rows = assignments.all(courseId);
      const handedIn = byPlace(attempts.all(courseId));
      const given = byPlace(extensions.all(courseId));
      const time = now().toISOString();
      const cellsOf = ({ id, sectionId }: StudentFacts): ReadonlyMap<number, GradebookCell> =>
        new Map(
          rows
            .filter((row) => row.sectionId === sectionId)
            .map((row) => {
              const key = keyOf(row.id, id);
              const extension = given.get(key)?.[0];
              return [row.id, cellOf(extendedBy(row, extension), handedIn.get(key) ?? [], extension, time)] as const;
            }),
        );
      const book = gradebookOf({
        assignments: rows.map(({ id, exerciseNumber, exerciseTitle, section }) => ({
          id,
          number: exerciseNumber,
          title: exerciseTitle,
          section,
        })),
        students: students.all(courseId).map((student) => ({
          id: student.id,
          name: student.name,
          login: student.login,
          section: student.section,
          cells: cellsOf(student),
        })),
      });
      return { course, book };
    },
  };
}

export function gradebookRoutes(app: Hono<AppEnv>, gradebooks: Gradebooks): void {
  app.get('/api/courses/:id/gradebook', allow('read-course'), (c) => {
    const found = gradebooks.of(idParam(c) ?? 0, userOf(c).id);
    if (found === null) return notFound(c);
    const { course, book } = found;
    return c.json({
      course,
      assignments: [...book.assignments],
      rows: book.rows.map((row) => ({ ...row, cells: [...row.cells] })),
    } satisfies GradebookAnswer);
  });

  app.get('/api/courses/:id/students/:studentId', allow('read-course'), (c) => {
    const record = gradebooks.student(idParam(c) ?? 0, idParam(c, 'studentId') ?? 0, userOf(c).id);
    return record === null ? notFound(c) : c.json(record satisfies StudentRecord);
  });

  app.get('/api/courses/:id/gradebook.csv', allow('read-course'), (c) => {
    const found = gradebooks.of(idParam(c) ?? 0, userOf(c).id);
    if (found === null) return notFound(c);
    // The mark in front tells spreadsheets that names are in UTF-8.
    return c.body(`\uFEFF${gradebookAsCsv(found.book)}`, 200, {
      'Content-Type': 'text/csv; charset=utf-8',
      'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(safeFileName(`${found.course} grades.csv`))}`,
    });
  });
}
