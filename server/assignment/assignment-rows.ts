import type { AssignmentSummary, Need } from '#api';
import type { CauseKind } from '#core/cause';
import { joinStaff, staffMay } from '#server/auth';
import { JOIN_EXERCISE, type Db } from '#server/db';

import { SELECT_ASSIGNMENT, type AssignmentRow } from './facts.ts';
import { SELECT_ATTEMPT_ROWS, type StoredAttemptRow } from './rows.ts';

export type Counts = Pick<AssignmentSummary, 'students' | 'handedIn' | 'graded' | 'refused' | 'inWork' | 'toReview'>;

/** The score of one attempt. */
export interface ScoreRow {
  readonly id: number;
  readonly studentId: number;
  readonly stage: number;
  readonly score: number;
}

export interface CauseRow {
  readonly attemptId: number;
  readonly student: string;
  readonly id: CauseKind;
  readonly message: string;
}

/** When nothing can be handed in any more. */
const ENDED = 'coalesce(assignments.late_until, assignments.due_at)';

const TAUGHT = `${joinStaff('courses.id', 'read-course')} WHERE course_staff.user_id = ?`;

/** Assignments in the database: as those who teach them see them. */
export function createAssignmentRows(db: Db) {
  return { ...listing(db), ...countingOf(db), put: putting(db) };
}

function listing(db: Db) {
  const list = db.prepare<[number, string], AssignmentRow>(
    `${SELECT_ASSIGNMENT} ${TAUGHT} AND ${ENDED} > ? ORDER BY assignments.due_at DESC, assignments.id DESC`,
  );
  const find = db.prepare<[number, number], AssignmentRow>(`${SELECT_ASSIGNMENT} ${TAUGHT} AND assignments.id = ?`);
  const attempts = db.prepare<[number], StoredAttemptRow>(`${SELECT_ATTEMPT_ROWS} ORDER BY attempts.id DESC`);
  const causes = db.prepare<[number], CauseRow>(
    `SELECT attempts.id AS attemptId, users.name AS student, report_causes.kind AS id, report_causes.message
     FROM attempts JOIN report_causes ON report_causes.attempt_id = attempts.id
     JOIN users ON users.id = attempts.student_id
     WHERE attempts.assignment_id = ?
       AND attempts.id = (SELECT max(newer.id) FROM attempts AS newer WHERE newer.assignment_id = attempts.assignment_id
             AND newer.student_id = attempts.student_id AND newer.state = 'graded')
     ORDER BY users.name, report_causes.attempt_id, report_causes.place`,
  );
  const missing = db.prepare<[number, number], { id: number; name: string }>(
    `SELECT users.id, users.name FROM enrollments JOIN users ON users.id = enrollments.user_id
     WHERE enrollments.section_id = ? AND users.id NOT IN
       (SELECT student_id FROM attempts WHERE assignment_id = ? AND state <> 'refused') ORDER BY users.name`,
  );
  const needs = db.prepare<[number, string, number], Need>(
    `WITH newest AS (
       -- The state and score are those of the row with the greatest id.
       SELECT max(attempts.id) AS id, attempts.state, attempts.score
       FROM course_staff CROSS JOIN sections ON sections.course_id = course_staff.course_id
       CROSS JOIN assignments ON assignments.section_id = sections.id
       CROSS JOIN attempts ON attempts.assignment_id = assignments.id
       WHERE course_staff.user_id = ? AND ${staffMay('read-course')} AND ${ENDED} > ?
       GROUP BY attempts.assignment_id, attempts.student_id),
     wanted AS (
       SELECT newest.id FROM newest JOIN attempts ON attempts.id = newest.id
       LEFT JOIN reviews ON reviews.attempt_id = newest.id
       WHERE (newest.state = 'refused' OR newest.score < ?) AND reviews.accepted_at IS NULL
       ORDER BY attempts.handed_in_at DESC LIMIT 50)
     SELECT attempts.id AS attemptId, assignments.id AS assignmentId, exercises.number AS exerciseNumber,
            exercises.title AS exerciseTitle, sections.name AS section, courses.title AS course,
            users.name AS student, attempts.state, attempts.score,
            coalesce(attempts.refusal_message, reports.finding) AS finding,
            attempts.handed_in_at AS handedInAt
     FROM wanted JOIN attempts ON attempts.id = wanted.id JOIN users ON users.id = attempts.student_id
     ${JOIN_EXERCISE} JOIN sections ON sections.id = assignments.section_id
     JOIN courses ON courses.id = sections.course_id
     LEFT JOIN reports INDEXED BY reports_in_lists ON reports.attempt_id = attempts.id
     ORDER BY attempts.handed_in_at DESC`,
  );
  const older = db
    .prepare<[number, string], number>(
      `SELECT count(*) FROM assignments JOIN sections ON sections.id = assignments.section_id
       ${joinStaff('sections.course_id', 'read-course')} WHERE course_staff.user_id = ? AND ${ENDED} <= ?`,
    )
    .pluck();
  return { list, older, find, attempts, causes, missing, needs };
}

/** Assignments that an instructor teaches and that ended after a moment, or one assignment. */
export interface Chosen {
  readonly instructorId: number | null;
  /** ISO 8601; empty for all. */
  readonly since: string;
  readonly assignmentId: number | null;
}

/**
 * What was handed in for each assignment, in numbers. `CROSS JOIN` keeps the order of the tables: from few assignments to
 * their attempts, each read from an index alone.
 */
function countingOf(db: Db) {
  const chosen = `
    WITH chosen AS (
      SELECT assignments.id, assignments.section_id, assignments.release FROM assignments
      JOIN sections ON sections.id = assignments.section_id
      WHERE assignments.id = @assignmentId OR (${ENDED} > @since AND sections.course_id IN (
        SELECT course_id FROM course_staff WHERE user_id = @instructorId AND ${staffMay('read-course')})))`;
  const counts = db.prepare<[Chosen], Counts & { id: number }>(
    `${chosen},
     newest AS (
       SELECT max(attempts.id) AS id, attempts.assignment_id AS assignmentId FROM chosen
       CROSS JOIN attempts ON attempts.assignment_id = chosen.id
       WHERE chosen.release <> 'automatic' AND attempts.state = 'graded'
       GROUP BY attempts.assignment_id, attempts.student_id, attempts.stage),
     open_reviews AS MATERIALIZED (
       SELECT newest.assignmentId, count(*) AS toReview FROM newest
       LEFT JOIN reviews ON reviews.attempt_id = newest.id
       WHERE reviews.accepted_at IS NULL GROUP BY newest.assignmentId)
     SELECT chosen.id, (SELECT count(*) FROM enrollments WHERE section_id = chosen.section_id) AS students,
            count(DISTINCT CASE WHEN state <> 'refused' THEN student_id END) AS handedIn,
            coalesce(sum(state = 'graded'), 0) AS graded, coalesce(sum(state = 'refused'), 0) AS refused,
            coalesce(sum(state IN ('waiting', 'running')), 0) AS inWork,
            coalesce(max(toReview), 0) AS toReview
     FROM chosen LEFT JOIN attempts ON attempts.assignment_id = chosen.id
     LEFT JOIN open_reviews ON open_reviews.assignmentId = chosen.id GROUP BY chosen.id`,
  );
  const best = db.prepare<[Chosen], { assignmentId: number; sums: string }>(
    `${chosen},
     stages AS (
       SELECT attempts.assignment_id, attempts.student_id, max(score) AS best
       FROM chosen CROSS JOIN attempts ON attempts.assignment_id = chosen.id
       WHERE score IS NOT NULL GROUP BY attempts.assignment_id, attempts.student_id, stage),
     students AS (SELECT assignment_id, sum(best) AS total FROM stages GROUP BY assignment_id, student_id)
     SELECT assignment_id AS assignmentId, json_group_array(total) AS sums FROM students GROUP BY assignment_id`,
  );
  const scores = db.prepare<[number], ScoreRow>(
    `SELECT id, student_id AS studentId, stage, score FROM attempts WHERE assignment_id = ? AND score IS NOT NULL`,
  );
  return { counts, best, scores };
}

const putting = (db: Db) =>
  db.prepare(
    `INSERT INTO assignments (revision_id, section_id, opens_at, due_at, attempts_allowed, answers, late_until, release, feedback_json, aids_json, open_reason, created_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
  );
