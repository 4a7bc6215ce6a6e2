/** The gradebook of a course, read from its attempts and extensions. */
import type { ResultsReadiness, StudentRecord } from '#api';
import { causeName, type CauseKind } from '#core/cause';
import { stageCount } from '#core/exercise';
import {
  gradebookOf,
  sharesInWords,
  type CellState,
  type GradedAssignment,
  type Gradebook,
  type GradebookCell,
  type ResultsInput,
} from '#core/gradebook';
import type { ScoringPolicy } from '#core/grade';
import { groupBy } from '#core/group';
import {
  countingOfStages,
  documentOf,
  endOf,
  extendedBy,
  policyOf,
  scoreOfStages,
  type AssignmentRow,
} from '#server/assignment';
import { dayIn } from '#core/time';
import type { Db } from '#server/db';

import { groupsOfAssignments, schemeOf } from './grading.ts';
import { createStudentNotes } from './notes.ts';
import {
  courseStatements,
  studentStatements,
  type Asked,
  type AttemptFacts,
  type ExtensionFacts,
  type OneStudent,
  type SectionFacts,
  type StudentFacts,
} from './rows.ts';

export interface Gradebooks {
  /** The gradebook of a course, or of one of its sections, for whoever teaches it; null for others. */
  of(courseId: number, userId: number, sectionId?: number): FoundGradebook | null;
  /** How the grades of a course come about, and what counts where; null for who does not teach it. */
  gradingOf(courseId: number, userId: number): Pick<Gradebook, 'scheme' | 'assignments'> | null;
  /** The grades of a course for the records of the school, for whoever teaches it; null for others. */
  results(courseId: number, userId: number, gradingPeriod: string): FoundResults | null;
  /** One student of a course, for whoever teaches it; null for others. */
  student(courseId: number, studentId: number, userId: number): StudentRecord | null;
}

export interface FoundGradebook {
  readonly course: string;
  readonly sections: readonly SectionFacts[];
  readonly book: Gradebook;
}

export interface FoundResults {
  readonly course: string;
  readonly results: ResultsInput;
  readonly readiness: ResultsReadiness;
}

const keyOf = (assignmentId: number, studentId: number): string => `${String(assignmentId)} ${String(studentId)}`;

/** Lists by assignment and student. */
const byPlace = <T extends { readonly assignmentId: number; readonly studentId: number }>(rows: readonly T[]) =>
  groupBy(rows, ({ assignmentId, studentId }) => keyOf(assignmentId, studentId));

/** An assignment with what is read from its documents once for all students. */
interface Assigned {
  readonly row: AssignmentRow;
  readonly policy: ScoringPolicy;
  readonly stages: number;
}

const assigned = (row: AssignmentRow): Assigned => ({
  row,
  policy: policyOf(row),
  stages: stageCount(documentOf(row)),
});

/** What a student has of an assignment, as it is for them. */
function cellOf(
  { row: forAll, policy, stages }: Assigned,
  attempts: readonly AttemptFacts[],
  extension: ExtensionFacts | undefined,
  now: string,
): GradebookCell {
  const row = extendedBy(forAll, extension);
  // What is measured anew after a correction counts as before meanwhile.
  const graded = attempts.filter((attempt) => attempt.score !== null);
  const score = scoreOfStages(countingOfStages(graded, policy), stages);
  const newest = graded.at(-1) ?? attempts.at(-1);
  const state = ((): CellState => {
    if (extension?.standing === 'excused') return 'excused';
    if (graded.length > 0) return row.release !== 'automatic' && newest?.accepted !== 1 ? 'to-review' : 'graded';
    if (attempts.some((attempt) => attempt.state === 'waiting' || attempt.state === 'running')) return 'handed-in';
    if (attempts.length > 0 && endOf(row) >= now) return 'handed-in';
    // Absent until it is made up, or until the time that was given for that is over too.
    if (extension?.standing === 'absent' && (extension.dueAt === null || endOf(row) >= now)) return 'absent';
    return endOf(row) < now ? 'missing' : 'open';
  })();
  return {
    state,
    score: state === 'missing' ? 0 : score,
    attemptId: newest?.id ?? null,
    attempts: attempts.filter((attempt) => attempt.state !== 'refused').length,
    isLate: newest !== undefined && newest.handedInAt > row.dueAt,
  };
}

type Named = (courseId: number, rows: readonly AssignmentRow[]) => readonly GradedAssignment[];

/** Assignments as a gradebook names them, each with its group. */
function namedIn(db: Db): Named {
  const groupsOf = groupsOfAssignments(db);
  return (courseId, rows) => {
    const groupIdOf = groupsOf(courseId);
    return rows.map(({ id, exerciseNumber, exerciseTitle, section }) => ({
      id,
      number: exerciseNumber,
      title: exerciseTitle,
      section,
      groupId: groupIdOf.get(id) ?? null,
    }));
  };
}

const commonCauses = (causes: readonly { kind: CauseKind; attemptId: number }[]): StudentRecord['causes'] => {
  const kinds = new Map<CauseKind, number[]>();
  for (const { kind, attemptId } of causes) kinds.set(kind, [...(kinds.get(kind) ?? []), attemptId]);
  return [...kinds]
    .map(([kind, attemptIds]) => ({ name: causeName(kind), attemptIds }))
    .sort((a, b) => b.attemptIds.length - a.attemptIds.length);
};

export function createGradebooks(db: Db, now: () => Date): Gradebooks {
  const named = namedIn(db);
  const books = createBooks(db, now, named);
  return { ...books, student: createRecords(db, now, named), results: createResults(db, now, books) };
}

/** The gradebook with what the records of the school call its students and classes. */
function createResults(db: Db, now: () => Date, { of: bookOf }: Pick<Gradebooks, 'of'>): Gradebooks['results'] {
  const { teaches, assignments, studentIds, classIds } = courseStatements(db);
  return (courseId, userId, gradingPeriod) => {
    const found = bookOf(courseId, userId);
    const course = teaches.get(courseId, userId);
    if (found === null || course === undefined) return null;
    const rows = assignments.all(courseId);
    const classes = new Map(classIds.all(courseId).map(({ id, schoolId }) => [id, schoolId]));
    const students = new Map(studentIds.all(courseId).map(({ id, schoolId }) => [id, schoolId]));
    const ids = {
      students,
      classes: new Map(
        rows.map((row) => [row.id, classes.get(row.sectionId) ?? `zorvet-section-${String(row.sectionId)}`]),
      ),
      gradingPeriod,
    };
    const day = (moment: string): string => dayIn(moment, course.timeZone);
    const dates = new Map(rows.map((row) => [row.id, { opensOn: day(row.opensAt), dueOn: day(row.dueAt) }]));
    const givenOn = day(now().toISOString());
    return {
      course: found.course,
      results: { book: found.book, dates, ids, givenOn },
      readiness: {
        students: found.book.rows.length,
        unnamed: found.book.rows.filter(({ id }) => !students.has(id)).map(({ name }) => name),
        unnamedSections: found.sections.filter(({ id }) => !classes.has(id)).map(({ name }) => name),
        waiting: found.book.rows
          .flatMap(({ cells }) => [...cells.values()])
          .filter(({ state }) => state === 'to-review').length,
      },
    };
  };
}

function createBooks(db: Db, now: () => Date, named: Named): Pick<Gradebooks, 'of' | 'gradingOf'> {
  const { teaches, ...of } = courseStatements(db);
  return {
    gradingOf(courseId, userId) {
      const course = teaches.get(courseId, userId);
      return course === undefined
        ? null
        : { scheme: schemeOf(course.gradingJson), assignments: named(courseId, of.assignments.all(courseId)) };
    },
    of(courseId, userId, sectionId) {
      const course = teaches.get(courseId, userId);
      if (course === undefined) return null;
      const asked: Asked = { courseId, sectionId: sectionId ?? null };
      const rows = of.assignments
        .all(courseId)
        .filter((row) => asked.sectionId === null || row.sectionId === asked.sectionId);
      const bySection = new Map<number, Assigned[]>();
      for (const row of rows) bySection.set(row.sectionId, [...(bySection.get(row.sectionId) ?? []), assigned(row)]);
      const handedIn = byPlace(of.attempts.all(asked));
      const given = byPlace(of.extensions.all(asked));
      const time = now().toISOString();
      const cellsOf = (student: StudentFacts): ReadonlyMap<number, GradebookCell> =>
        new Map(
          (bySection.get(student.sectionId) ?? []).map((one) => {
            const key = keyOf(one.row.id, student.id);
            return [one.row.id, cellOf(one, handedIn.get(key) ?? [], given.get(key)?.[0], time)] as const;
          }),
        );
      const book = gradebookOf({
        assignments: named(courseId, rows),
        scheme: schemeOf(course.gradingJson),
        students: of.students.all(asked).map((student) => ({
          id: student.id,
          name: student.name,
          login: student.login,
          section: student.section,
          cells: cellsOf(student),
        })),
      });
      return { course: course.title, sections: of.sections.all(courseId), book };
    },
  };
}

/** The page of one student: each assignment with what it counts, and what went wrong where. */
function createRecords(db: Db, now: () => Date, named: Named): Gradebooks['student'] {
  const { teaches, assignments } = courseStatements(db);
  const of = studentStatements(db);
  const notes = createStudentNotes(db, now);
  const workOf = (rows: readonly AssignmentRow[], one: OneStudent) => {
    const { studentId } = one;
    const handedIn = byPlace(of.attempts.all(one));
    const given = byPlace(of.extensions.all(one));
    const time = now().toISOString();
    const why = new Map(of.reasons.all(studentId).map(({ assignmentId, reason }) => [assignmentId, reason]));
    return rows.map((row) => {
      const own = handedIn.get(keyOf(row.id, studentId)) ?? [];
      const extension = given.get(keyOf(row.id, studentId))?.[0];
      return {
        assignmentId: row.id,
        number: row.exerciseNumber,
        title: row.exerciseTitle,
        dueAt: extendedBy(row, extension).dueAt,
        cell: cellOf(assigned(row), own, extension, time),
        scores: own.flatMap(({ id, score }) => (score === null ? [] : { attemptId: id, score })),
        extension: why.get(row.id) ?? null,
      };
    });
  };
  return (courseId, studentId, userId) => {
    const one: OneStudent = { courseId, studentId };
    const course = teaches.get(courseId, userId);
    const student = of.student.get(one);
    if (course === undefined || student === undefined) return null;
    const { name, login, section, sectionId } = student;
    const rows = assignments.all(courseId).filter((row) => row.sectionId === sectionId);
    const work = workOf(rows, one);
    const cells = new Map(work.map(({ assignmentId, cell }) => [assignmentId, cell]));
    const [row] = gradebookOf({
      assignments: named(courseId, rows),
      scheme: schemeOf(course.gradingJson),
      students: [{ id: studentId, name, login, section, cells }],
    }).rows;
    const left = new Set(row?.shares.flatMap((share) => share.left));
    return {
      course: course.title,
      name,
      login,
      section,
      total: row?.total ?? null,
      letter: row?.letter ?? null,
      shares: row === undefined ? [] : [...sharesInWords(row)],
      work: work.map((done) => ({ ...done, leftOut: left.has(done.assignmentId) })),
      causes: commonCauses(of.causes.all(one)),
      notes: notes.of(courseId, studentId),
      timeZone: course.timeZone,
    };
  };
}
