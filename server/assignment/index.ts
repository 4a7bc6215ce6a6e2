/** Exercises issued to sections, as the instructor sees them. */
import type { Hono } from 'hono';

import {
  IssueSchema,
  type AssignmentDetail,
  type AssignmentSummary,
  type Desk,
  type IssueInput,
  type Need,
} from '#api';
import { stageCount } from '#core/exercise';
import { causeName, type CauseKind } from '#core/cause';
import type { Courses } from '#server/course';
import { joinStaff } from '#server/auth';
import { JOIN_EXERCISE, type Db } from '#server/db';
import { allow, idParam, jsonBody, notFound, refuseWith, userOf, type AppEnv } from '#server/http';

import {
  countingOfStages,
  documentOf,
  factsOf,
  policyOf,
  scoreOfStages,
  SELECT_ASSIGNMENT,
  type AssignmentRow,
} from './facts.ts';
import { attemptRowOf, SELECT_ATTEMPT_ROWS, type StoredAttemptRow } from './rows.ts';
import { createVariants } from './variants.ts';

export { createVariants, type VariantStore } from './variants.ts';
export {
  answersReleased,
  countingOfStages,
  documentOf,
  endOf,
  factsOf,
  feedbackOf,
  policyOf,
  scoreOfStages,
  SELECT_ASSIGNMENT,
  type AssignmentRow,
} from './facts.ts';
export { attemptRowOf, SELECT_ATTEMPT_ROWS, type StoredAttemptRow } from './rows.ts';

type Counts = Pick<AssignmentSummary, 'students' | 'handedIn' | 'graded' | 'refused' | 'inWork' | 'toReview'>;

export interface Assignments {
  issue(issue: IssueInput, revisionId: number): number;
  listFor(instructorId: number): AssignmentSummary[];
  detailFor(assignmentId: number, instructorId: number): AssignmentDetail | null;
  /** The newest attempt of each student that was refused or scored below the line, newest first. */
  needsOf(instructorId: number): Need[];
}

/** Below this score an attempt is offered for a look. */
const LOOK_BELOW = 75;

const TAUGHT = `${joinStaff('courses.id', 'read-course')} WHERE course_staff.user_id = ?`;

export function createAssignments(db: Db, now: () => Date): Assignments {
  const variants = createVariants(db);
  const list = db.prepare<[number], AssignmentRow>(
    `${SELECT_ASSIGNMENT} ${TAUGHT} ORDER BY assignments.due_at DESC, assignments.id DESC`,
  );
  const find = db.prepare<[number, number], AssignmentRow>(`${SELECT_ASSIGNMENT} ${TAUGHT} AND assignments.id = ?`);
  const attempts = db.prepare<[number], StoredAttemptRow>(`${SELECT_ATTEMPT_ROWS} ORDER BY attempts.id DESC`);
  const causes = db.prepare<[number], CauseRow>(
    `SELECT attempts.id AS attemptId, users.name AS student, json_extract(cause.value, '$.id') AS id,
            json_extract(cause.value, '$.message') AS message
     FROM reports JOIN attempts ON attempts.id = reports.attempt_id JOIN users ON users.id = attempts.student_id,
       json_each(reports.report_json, '$.causes') AS cause
     WHERE attempts.assignment_id = ? AND NOT json_extract(cause.value, '$.instead')
       AND attempts.id = (SELECT max(newer.id) FROM attempts AS newer WHERE newer.assignment_id = attempts.assignment_id
             AND newer.student_id = attempts.student_id AND newer.state = 'graded')
     ORDER BY users.name`,
  );
  const missing = db.prepare<[number, number], { id: number; name: string }>(
    `SELECT users.id, users.name FROM enrollments JOIN users ON users.id = enrollments.user_id
     WHERE enrollments.section_id = ? AND users.id NOT IN
       (SELECT student_id FROM attempts WHERE assignment_id = ? AND state <> 'refused') ORDER BY users.name`,
  );
  const counts = db.prepare<[{ assignmentId: number; sectionId: number }], Counts>(
    `SELECT (SELECT count(*) FROM enrollments WHERE section_id = @sectionId) AS students,
            count(DISTINCT CASE WHEN state <> 'refused' THEN student_id END) AS handedIn,
            coalesce(sum(state = 'graded'), 0) AS graded, coalesce(sum(state = 'refused'), 0) AS refused,
            coalesce(sum(state IN ('waiting', 'running')), 0) AS inWork,
            (SELECT count(*) FROM assignments JOIN attempts AS newest ON newest.assignment_id = assignments.id
               LEFT JOIN reviews ON reviews.attempt_id = newest.id
               WHERE assignments.id = @assignmentId AND assignments.release <> 'automatic' AND reviews.accepted_at IS NULL
                 AND newest.id IN (SELECT max(id) FROM attempts AS own WHERE own.assignment_id = @assignmentId
                   AND own.state = 'graded' GROUP BY own.student_id, own.stage)) AS toReview
     FROM attempts WHERE assignment_id = @assignmentId`,
  );
  const scores = db.prepare<[number], { id: number; studentId: number; stage: number; score: number }>(
    `SELECT attempts.id, attempts.student_id AS studentId, stage, score
     FROM reports JOIN attempts ON attempts.id = reports.attempt_id WHERE attempts.assignment_id = ?`,
  );
  /** The scores of the students who have one, the lowest first. */
  const scoresOf = (row: AssignmentRow): number[] => {
    const students = new Map<number, { id: number; stage: number; score: number }[]>();
    for (const { studentId, ...attempt } of scores.all(row.id))
      students.set(studentId, [...(students.get(studentId) ?? []), attempt]);
    const [count, policy] = [stageCount(documentOf(row)), policyOf(row)];
    return [...students.values()]
      .flatMap((own) => scoreOfStages(countingOfStages(own, policy), count) ?? [])
      .sort((a, b) => a - b);
  };
  const needs = db.prepare<[number, number], Need>(
    `SELECT attempts.id AS attemptId, assignments.id AS assignmentId, exercises.number AS exerciseNumber,
            exercises.title AS exerciseTitle, users.name AS student, attempts.state, reports.score,
            coalesce(attempts.refusal_message, json_extract(reports.report_json, '$.causes[0].message')) AS finding,
            attempts.handed_in_at AS handedInAt
     FROM attempts JOIN users ON users.id = attempts.student_id
     ${JOIN_EXERCISE}
     ${joinStaff('exercises.course_id', 'read-course')}
     LEFT JOIN reports ON reports.attempt_id = attempts.id
     WHERE course_staff.user_id = ?
       AND attempts.id = (SELECT max(id) FROM attempts AS newer
             WHERE newer.assignment_id = attempts.assignment_id AND newer.student_id = attempts.student_id)
       AND (attempts.state = 'refused' OR reports.score < ?)
     ORDER BY attempts.handed_in_at DESC LIMIT 50`,
  );
  const countsOf = (row: AssignmentRow): Counts =>
    counts.get({ assignmentId: row.id, sectionId: row.sectionId }) ?? {
      students: 0,
      handedIn: 0,
      graded: 0,
      refused: 0,
      inWork: 0,
      toReview: 0,
    };
  return {
    issue: db.transaction((issue: IssueInput, revisionId: number) => {
      const { sectionId, opensAt, dueAt, attemptsAllowed, answers, lateUntil, release, feedback } = issue;
      const assignmentId = Number(
        db
          .prepare(
            `INSERT INTO assignments (revision_id, section_id, opens_at, due_at, attempts_allowed, answers, late_until, release, feedback_json, created_at)
             VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
          )
          .run(
            revisionId,
            sectionId,
            new Date(opensAt).toISOString(),
            new Date(dueAt).toISOString(),
            attemptsAllowed,
            answers,
            typeof lateUntil === 'string' ? new Date(lateUntil).toISOString() : null,
            release ?? 'automatic',
            JSON.stringify(feedback ?? ['overlay']),
            now().toISOString(),
          ).lastInsertRowid,
      );
      variants.give(assignmentId);
      return assignmentId;
    }),
    listFor: (instructorId) =>
      list.all(instructorId).map((row) => ({ ...factsOf(row), ...countsOf(row), medianScore: median(scoresOf(row)) })),
    needsOf: (instructorId) => needs.all(instructorId, LOOK_BELOW),
    detailFor(assignmentId, instructorId) {
      const row = find.get(instructorId, assignmentId);
      if (row === undefined) return null;
      return {
        ...factsOf(row),
        students: countsOf(row).students,
        courseId: row.courseId,
        counts: policyOf(row).counts ?? 'best',
        scores: scoresOf(row),
        attempts: attempts.all(row.id).map(attemptRowOf),
        missing: missing.all(row.sectionId, row.id),
        causes: grouped(causes.all(row.id)),
      };
    },
  };
}

interface CauseRow {
  readonly attemptId: number;
  readonly student: string;
  readonly id: CauseKind;
  readonly message: string;
}

/** Causes by kind, those of most students first. */
function grouped(rows: readonly CauseRow[]): AssignmentDetail['causes'] {
  const groups = new Map<string, AssignmentDetail['causes'][number]>();
  for (const { id, ...attempt } of rows) {
    const known = groups.get(id) ?? { id, name: causeName(id), attempts: [] };
    if (!known.attempts.some(({ attemptId }) => attemptId === attempt.attemptId)) known.attempts.push(attempt);
    groups.set(id, known);
  }
  return [...groups.values()].sort((a, b) => b.attempts.length - a.attempts.length);
}

function median(sorted: readonly number[]): number | null {
  const middle = (sorted.length - 1) / 2;
  const low = sorted[Math.floor(middle)];
  const high = sorted[Math.ceil(middle)];
  return low === undefined || high === undefined ? null : (low + high) / 2;
}

export interface AssignmentRouteParts {
  readonly assignments: Assignments;
  readonly courses: Courses;
  readonly revisionToIssue: (
    exerciseId: number,
    instructorId: number,
  ) => { readonly revisionId: number; readonly courseId: number } | null;
  readonly requestsOf: (instructorId: number) => Desk['requests'];
  readonly activity: () => Desk['activity'];
}

export function assignmentRoutes(
  app: Hono<AppEnv>,
  { assignments, courses, revisionToIssue, requestsOf, activity }: AssignmentRouteParts,
): void {
  app.get('/api/desk', allow('read-course'), (c) => {
    const { id } = userOf(c);
    return c.json({
      activity: activity(),
      requests: requestsOf(id),
      needs: assignments.needsOf(id),
      assignments: assignments.listFor(id),
    } satisfies Desk);
  });

  app.get('/api/assignments', allow('read-course'), (c) => c.json({ assignments: assignments.listFor(userOf(c).id) }));

  app.get('/api/assignments/:id', allow('read-course'), (c) => {
    const detail = assignments.detailFor(idParam(c) ?? 0, userOf(c).id);
    return detail === null ? notFound(c) : c.json(detail);
  });

  app.post('/api/assignments', allow('issue'), jsonBody(IssueSchema), (c) => {
    const issue = c.req.valid('json');
    const user = userOf(c);
    const revision = revisionToIssue(issue.exerciseId, user.id);
    const courseId = courses.courseToIssueIn(issue.sectionId, user.id);
    if (revision === null || courseId === null) return notFound(c);
    if (revision.courseId !== courseId)
      return refuseWith(c, 'other-course', 'This section belongs to another course than the exercise.');
    return c.json({ id: assignments.issue(issue, revision.revisionId) }, 201);
  });
}
