import type { AssignmentSummary, Need } from '#api';
import type { CauseKind } from '#core/cause';
import { joinStaff } from '#server/auth';
import { JOIN_EXERCISE, type Db } from '#server/db';

import { SELECT_ASSIGNMENT, type AssignmentRow } from './facts.ts';
import { SELECT_ATTEMPT_ROWS, type StoredAttemptRow } from './rows.ts';

export type Counts = Pick<AssignmentSummary, 'students' | 'handedIn' | 'graded' | 'refused' | 'inWork' | 'toReview'>;

export interface CauseRow {
  readonly attemptId: number;
  readonly student: string;
  readonly id: CauseKind;
  readonly message: string;
}

const TAUGHT = `${joinStaff('courses.id', 'read-course')} WHERE course_staff.user_id = ?`;

/** Assignments in the database: as those who teach them see them. */
export function createAssignmentRows(db: Db) {
  return { ...listing(db), ...countingOf(db), put: putting(db) };
}

function listing(db: Db) {
  const list = db.prepare<[number], AssignmentRow>(
    `${SELECT_ASSIGNMENT} ${TAUGHT} ORDER BY assignments.due_at DESC, assignments.id DESC`,
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
  const needs = db.prepare<[number, number], Need>(
    `SELECT attempts.id AS attemptId, assignments.id AS assignmentId, exercises.number AS exerciseNumber,
            exercises.title AS exerciseTitle, users.name AS student, attempts.state, reports.score,
            coalesce(attempts.refusal_message, reports.finding) AS finding,
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
  return { list, find, attempts, causes, missing, needs };
}

/** What was handed in for an assignment, in numbers. */
function countingOf(db: Db) {
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
  return { counts, scores };
}

const putting = (db: Db) =>
  db.prepare(
    `INSERT INTO assignments (revision_id, section_id, opens_at, due_at, attempts_allowed, answers, late_until, release, feedback_json, open_reason, created_at)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
  );
