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
import { causeName } from '#core/cause';
import type { Courses } from '#server/course';
import type { Db } from '#server/db';
import { allow, idParam, jsonBody, notFound, refuseWith, userOf, type AppEnv } from '#server/http';

import { countingOfStages, documentOf, factsOf, policyOf, scoreOfStages, type AssignmentRow } from './facts.ts';
import { createAssignmentRows, type CauseRow, type Counts } from './assignment-rows.ts';
import { attemptRowOf } from './rows.ts';
import { createVariants } from './variants.ts';

export { createVariants, type VariantStore } from './variants.ts';
export {
  answerPhase,
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

export interface Assignments {
  issue(issue: IssueInput, revisionId: number): number;
  listFor(instructorId: number): AssignmentSummary[];
  detailFor(assignmentId: number, instructorId: number): AssignmentDetail | null;
  /** The newest attempt of each student that was refused or scored below the line, newest first. */
  needsOf(instructorId: number): Need[];
}

/** Below this score an attempt is offered for a look. */
const LOOK_BELOW = 75;

export function createAssignments(db: Db, now: () => Date): Assignments {
  const variants = createVariants(db);
  const rows = createAssignmentRows(db);
  /** The scores of the students who have one, the lowest first. */
  const scoresOf = (row: AssignmentRow): number[] => {
    const students = new Map<number, { id: number; stage: number; score: number }[]>();
    for (const { studentId, ...attempt } of rows.scores.all(row.id))
      students.set(studentId, [...(students.get(studentId) ?? []), attempt]);
    const [count, policy] = [stageCount(documentOf(row)), policyOf(row)];
    return [...students.values()]
      .flatMap((own) => scoreOfStages(countingOfStages(own, policy), count) ?? [])
      .sort((a, b) => a - b);
  };
  const countsOf = (row: AssignmentRow): Counts =>
    rows.counts.get({ assignmentId: row.id, sectionId: row.sectionId }) ?? {
      students: 0,
      handedIn: 0,
      graded: 0,
      refused: 0,
      inWork: 0,
      toReview: 0,
    };
  return {
    issue: db.transaction((issue: IssueInput, revisionId: number) => {
      const { sectionId, opensAt, dueAt, attemptsAllowed, answers, lateUntil, release, feedback, openReason } = issue;
      const assignmentId = Number(
        rows.put.run(
          revisionId,
          sectionId,
          new Date(opensAt).toISOString(),
          new Date(dueAt).toISOString(),
          attemptsAllowed,
          answers,
          typeof lateUntil === 'string' ? new Date(lateUntil).toISOString() : null,
          release ?? 'automatic',
          JSON.stringify(feedback ?? ['overlay']),
          openReason === undefined || openReason === '' ? null : openReason,
          now().toISOString(),
        ).lastInsertRowid,
      );
      variants.give(assignmentId);
      return assignmentId;
    }),
    listFor: (instructorId) =>
      rows.list
        .all(instructorId)
        .map((row) => ({ ...factsOf(row), ...countsOf(row), medianScore: median(scoresOf(row)) })),
    needsOf: (instructorId) => rows.needs.all(instructorId, LOOK_BELOW),
    detailFor(assignmentId, instructorId) {
      const row = rows.find.get(instructorId, assignmentId);
      if (row === undefined) return null;
      return {
        ...factsOf(row),
        students: countsOf(row).students,
        courseId: row.courseId,
        openReason: row.openReason,
        counts: policyOf(row).counts ?? 'best',
        scores: scoresOf(row),
        attempts: rows.attempts.all(row.id).map(attemptRowOf),
        missing: rows.missing.all(row.sectionId, row.id),
        causes: grouped(rows.causes.all(row.id)),
      };
    },
  };
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
  /** What the sheets of a revision are known to leave open. */
  readonly openSizesOf: (revisionId: number) => readonly string[];
  readonly requestsOf: (instructorId: number) => Desk['requests'];
  readonly activity: () => Desk['activity'];
  readonly queue: () => Desk['queue'];
}

export function assignmentRoutes(
  app: Hono<AppEnv>,
  { assignments, courses, revisionToIssue, openSizesOf, requestsOf, activity, queue }: AssignmentRouteParts,
): void {
  app.get('/api/desk', allow('read-course'), (c) => {
    const { id } = userOf(c);
    return c.json({
      activity: activity(),
      queue: queue(),
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
    const open = openSizesOf(revision.revisionId);
    if (open.length > 0 && issue.openReason === '')
      return refuseWith(
        c,
        'reason-needed',
        `The sheet does not say ${open.join(', ')}. Put it on the sheet and make a new revision, or write why it is issued so.`,
      );
    return c.json({ id: assignments.issue(issue, revision.revisionId) }, 201);
  });
}
