/** The gradebook of a course, read from its attempts and extensions. */
import type { StudentRecord } from '#api';
import { causeName, type CauseKind } from '#core/cause';
import { stageCount } from '#core/exercise';
import {
  gradebookOf,
  sharesInWords,
  type CellState,
  type GradedAssignment,
  type Gradebook,
  type GradebookCell,
} from '#core/gradebook';
import type { ScoringPolicy } from '#core/grade';
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

import { groupsOfAssignments, schemeOf } from './grading.ts';

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

/** Parameters of a statement about a course, or about one section of it. */
interface Asked {
  readonly courseId: number;
  readonly sectionId: number | null;
}

interface OneStudent {
  readonly courseId: number;
  readonly studentId: number;
}

interface CourseFacts {
  readonly title: string;
  readonly gradingJson: string | null;
}

export interface Gradebooks {
  /** The gradebook of a course, or of one of its sections, for whoever teaches it; null for others. */
  of(courseId: number, userId: number, sectionId?: number): FoundGradebook | null;
  /** How the grades of a course come about, and what counts where; null for who does not teach it. */
  gradingOf(courseId: number, userId: number): Pick<Gradebook, 'scheme' | 'assignments'> | null;
  /** One student of a course, for whoever teaches it; null for others. */
  student(courseId: number, studentId: number, userId: number): StudentRecord | null;
}

export interface FoundGradebook {
  readonly course: string;
  readonly sections: readonly { readonly id: number; readonly name: string; readonly students: number }[];
  readonly book: Gradebook;
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
  const graded = attempts.filter(({ state }) => state === 'graded');
  const score = scoreOfStages(countingOfStages(graded, policy), stages);
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
  const teaches = db.prepare<[number, number], CourseFacts>(
    `SELECT courses.title, courses.grading_json AS gradingJson
     FROM course_staff JOIN courses ON courses.id = course_staff.course_id
     WHERE course_id = ? AND user_id = ? AND ${staffMay('read-course')}`,
  );
  const groupsOf = groupsOfAssignments(db);
  const sections = db.prepare<[number], FoundGradebook['sections'][number]>(
    `SELECT sections.id, sections.name, count(enrollments.user_id) AS students
     FROM sections LEFT JOIN enrollments ON enrollments.section_id = sections.id
     WHERE sections.course_id = ? GROUP BY sections.id ORDER BY sections.name`,
  );
  const gradedAssignments = (courseId: number, rows: readonly AssignmentRow[]): readonly GradedAssignment[] => {
    const groupIdOf = groupsOf(courseId);
    return rows.map(({ id, exerciseNumber, exerciseTitle, section }) => ({
      id,
      number: exerciseNumber,
      title: exerciseTitle,
      section,
      groupId: groupIdOf.get(id) ?? null,
    }));
  };
  const assignments = db.prepare<[number], AssignmentRow>(
    `${SELECT_ASSIGNMENT} WHERE courses.id = ? AND assignments.withdrawn_at IS NULL ORDER BY assignments.opens_at, assignments.id`,
  );
  const STUDENTS = `SELECT users.id, users.name, users.login, sections.name AS section, sections.id AS sectionId
     FROM sections JOIN enrollments ON enrollments.section_id = sections.id JOIN users ON users.id = enrollments.user_id
     WHERE sections.course_id = @courseId`;
  /** Of one section where one is asked for. */
  const IN_SECTION = 'AND (@sectionId IS NULL OR sections.id = @sectionId)';
  const students = db.prepare<[Asked], StudentFacts>(
    `${STUDENTS} ${IN_SECTION} ORDER BY users.name, users.id, sections.name`,
  );
  const oneStudent = db.prepare<[OneStudent], StudentFacts>(
    `${STUDENTS} AND users.id = @studentId ORDER BY sections.name`,
  );
  const OF_COURSE = `JOIN assignments ON assignments.id = assignment_id
     JOIN sections ON sections.id = assignments.section_id WHERE sections.course_id = @courseId`;
  const ATTEMPTS = `SELECT assignment_id AS assignmentId, student_id AS studentId, attempts.id, stage, state, score,
            handed_in_at AS handedInAt, reviews.accepted_at IS NOT NULL AS accepted
     FROM attempts LEFT JOIN reviews ON reviews.attempt_id = attempts.id ${OF_COURSE}`;
  const attempts = db.prepare<[Asked], AttemptFacts>(`${ATTEMPTS} ${IN_SECTION} ORDER BY attempts.id`);
  const ownAttempts = db.prepare<[OneStudent], AttemptFacts>(
    `${ATTEMPTS} AND student_id = @studentId ORDER BY attempts.id`,
  );
  const EXTENSIONS = `SELECT assignment_id AS assignmentId, student_id AS studentId, extensions.due_at AS dueAt,
            extra_attempts AS extraAttempts, excused
     FROM extensions ${OF_COURSE}`;
  const extensions = db.prepare<[Asked], ExtensionFacts>(`${EXTENSIONS} ${IN_SECTION}`);
  const ownExtensions = db.prepare<[OneStudent], ExtensionFacts>(`${EXTENSIONS} AND student_id = @studentId`);
  const causes = db.prepare<[OneStudent], { kind: CauseKind; attemptId: number }>(
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
  const commonCauses = (one: OneStudent): StudentRecord['causes'] => {
    const kinds = new Map<CauseKind, number[]>();
    for (const { kind, attemptId } of causes.all(one)) kinds.set(kind, [...(kinds.get(kind) ?? []), attemptId]);
    return [...kinds]
      .map(([kind, attemptIds]) => ({ name: causeName(kind), attemptIds }))
      .sort((a, b) => b.attemptIds.length - a.attemptIds.length);
  };
  return {
    student(courseId, studentId, userId) {
      const one: OneStudent = { courseId, studentId };
      const course = teaches.get(courseId, userId);
      const student = oneStudent.get(one);
      if (course === undefined || student === undefined) return null;
      const handedIn = byPlace(ownAttempts.all(one));
      const given = byPlace(ownExtensions.all(one));
      const scheme = schemeOf(course.gradingJson);
      const time = now().toISOString();
      const why = new Map(reasons.all(studentId).map(({ assignmentId, reason }) => [assignmentId, reason]));
      const rows = assignments.all(courseId).filter(({ sectionId }) => sectionId === student.sectionId);
      const work = rows.map((row) => {
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
      const cells = new Map(work.map(({ assignmentId, cell }) => [assignmentId, cell]));
      const { name, login, section } = student;
      const [row] = gradebookOf({
        assignments: gradedAssignments(courseId, rows),
        scheme,
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
        work: work.map((one) => ({ ...one, leftOut: left.has(one.assignmentId) })),
        causes: commonCauses(one),
      };
    },
    gradingOf(courseId, userId) {
      const course = teaches.get(courseId, userId);
      return course === undefined
        ? null
        : {
            scheme: schemeOf(course.gradingJson),
            assignments: gradedAssignments(courseId, assignments.all(courseId)),
          };
    },
    of(courseId, userId, sectionId) {
      const course = teaches.get(courseId, userId);
      if (course === undefined) return null;
      const asked: Asked = { courseId, sectionId: sectionId ?? null };
      const rows = assignments
        .all(courseId)
        .filter((row) => asked.sectionId === null || row.sectionId === asked.sectionId);
      const bySection = new Map<number, Assigned[]>();
      for (const row of rows) bySection.set(row.sectionId, [...(bySection.get(row.sectionId) ?? []), assigned(row)]);
      const handedIn = byPlace(attempts.all(asked));
      const given = byPlace(extensions.all(asked));
      const time = now().toISOString();
      const cellsOf = (student: StudentFacts): ReadonlyMap<number, GradebookCell> =>
        new Map(
          (bySection.get(student.sectionId) ?? []).map((one) => {
            const key = keyOf(one.row.id, student.id);
            return [one.row.id, cellOf(one, handedIn.get(key) ?? [], given.get(key)?.[0], time)] as const;
          }),
        );
      const book = gradebookOf({
        assignments: gradedAssignments(courseId, rows),
        scheme: schemeOf(course.gradingJson),
        students: students.all(asked).map((student) => ({
          id: student.id,
          name: student.name,
          login: student.login,
          section: student.section,
          cells: cellsOf(student),
        })),
      });
      return { course: course.title, sections: sections.all(courseId), book };
    },
  };
}
