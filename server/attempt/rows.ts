/** What the database holds of attempts, read in the shapes that the other files of this folder need. */
import { type AttemptState } from '#api';
import {
  extendedBy,
  SELECT_ASSIGNMENT,
  SELECT_ATTEMPT_ROWS,
  SHOWN_STATE,
  type AssignmentRow,
  type GivenDates,
  type StoredAttemptRow,
} from '#server/assignment';
import type { Db } from '#server/db';
import { JOIN_PART, REFERENCE_SHA256 } from '#server/jobs';

/** One attempt with its report. */
export interface AttemptRecord {
  readonly id: number;
  readonly assignmentId: number;
  readonly studentId: number;
  readonly student: string;
  readonly state: AttemptState;
  readonly number: number | null;
  readonly stage: number;
  readonly fileName: string;
  readonly fileSizeBytes: number;
  readonly fileSha256: string;
  readonly handedInAt: string;
  readonly typedJson: string;
  readonly buildLog: string;
  readonly refusalCode: string | null;
  readonly refusalMessage: string | null;
  readonly reportJson: string | null;
  readonly program: string | null;
  readonly modelSha256: string | null;
  readonly overlaySha256: string | null;
  readonly gradedAt: string | null;
  readonly durationMs: number | null;
}

/** An attempt to store; typed numbers are JSON, the list of build steps is text. */
export interface NewAttempt {
  readonly assignmentId: number;
  readonly studentId: number;
  readonly stage: number;
  readonly fileSha256: string;
  readonly fileName: string;
  readonly fileSizeBytes: number;
  readonly fileUnit: string | null;
  readonly typedJson: string;
  readonly buildLog: string;
  readonly key: string | null;
  readonly handedInAt: string;
  /** Dimensions that were not measured before, of how many; null where that does not count. */
  readonly roundOpen: number | null;
  readonly roundAll: number | null;
}

export interface AttemptStore {
  /** The attempt that a hand-in of this name became, or null. */
  attemptOfKey(studentId: number, key: string): number | null;
  /** How many files of a student since some time took too long, or ended their worker. */
  slowSince(studentId: number, since: string): number;
  /** The assignments of the sections that a student is enrolled in, by due time. */
  workOf(studentId: number): AssignmentRow[];
  /** One of them, or null where the student is not enrolled. */
  work(studentId: number, assignmentId: number): AssignmentRow | null;
  assignment(assignmentId: number): AssignmentRow | null;
  /** An assignment as it is for a student: with the dates and attempts of an extension. */
  assignmentFor(assignmentId: number, studentId: number): AssignmentRow | null;
  attempt(attemptId: number): AttemptRecord | null;
  /** The attempts of a student, the newest first. */
  attemptsOf(assignmentId: number, studentId: number): StoredAttemptRow[];
  /** How many attempts count as used: all that were not refused. */
  used(assignmentId: number, studentId: number, stage: number): number;
  /** The ids of the attempts that were measured, in the order of hand-in. */
  measured(assignmentId: number, studentId: number, stage: number): readonly number[];
  gradedStages(assignmentId: number, studentId: number): ReadonlySet<number>;
  /** Hash of the reference that an attempt was measured against. */
  referenceOf(attemptId: number): string | null;
  /** From student to student: of each, the newest attempt of each stage that was graded. */
  reviewOrder(assignmentId: number): { id: number; studentId: number; stage: number }[];
  /** Stores an attempt as waiting and gives its id. */
  add(attempt: NewAttempt): number;
}

/** Also what is being measured anew after a correction: it has its score meanwhile. */
const WAS_MEASURED = 'score IS NOT NULL';
const ENROLLED = `JOIN enrollments ON enrollments.section_id = sections.id
  WHERE enrollments.user_id = ? AND assignments.withdrawn_at IS NULL AND courses.archived_at IS NULL`;

export function createAttemptStore(db: Db): AttemptStore {
  const workList = db.prepare<[number], AssignmentRow>(`${SELECT_ASSIGNMENT} ${ENROLLED} ORDER BY assignments.due_at`);
  const work = db.prepare<[number, number], AssignmentRow>(`${SELECT_ASSIGNMENT} ${ENROLLED} AND assignments.id = ?`);
  const assignment = db.prepare<[number], AssignmentRow>(`${SELECT_ASSIGNMENT} WHERE assignments.id = ?`);
  const extension = db.prepare<[number, number], GivenDates>(
    'SELECT due_at AS dueAt, extra_attempts AS extraAttempts FROM extensions WHERE assignment_id = ? AND student_id = ?',
  );
  const extended = (row: AssignmentRow, studentId: number): AssignmentRow =>
    extendedBy(row, extension.get(row.id, studentId));
  const used = db.prepare<[number, number, number], { count: number }>(
    "SELECT count(*) AS count FROM attempts WHERE assignment_id = ? AND student_id = ? AND stage = ? AND state <> 'refused'",
  );
  const measured = db
    .prepare<[number, number, number], number>(
      `SELECT id FROM attempts WHERE assignment_id = ? AND student_id = ? AND stage = ? AND ${WAS_MEASURED} ORDER BY id`,
    )
    .pluck();
  const gradedStages = db.prepare<[number, number], { stage: number }>(
    `SELECT DISTINCT stage FROM attempts WHERE assignment_id = ? AND student_id = ? AND ${WAS_MEASURED} ORDER BY stage`,
  );
  const own = db.prepare<[number, number], StoredAttemptRow>(
    `${SELECT_ATTEMPT_ROWS} AND attempts.student_id = ? ORDER BY attempts.id DESC`,
  );
  const insert = db.prepare<NewAttempt>(
    `INSERT INTO attempts (assignment_id, student_id, stage, file_sha256, file_name, file_size_bytes, file_unit, typed_json, build_log, hand_in_key, handed_in_at, round_open, round_all, state)
     VALUES (@assignmentId, @studentId, @stage, @fileSha256, @fileName, @fileSizeBytes, @fileUnit, @typedJson, @buildLog, @key, @handedInAt, @roundOpen, @roundAll, 'waiting')`,
  );
  const ofKey = db
    .prepare<[number, string], number>('SELECT id FROM attempts WHERE student_id = ? AND hand_in_key = ?')
    .pluck();
  const slow = db
    .prepare<[number, string], number>(
      `SELECT count(*) FROM attempts WHERE student_id = ? AND handed_in_at > ? AND state = 'refused'
         AND refusal_code IN ('too-long', 'kernel-crash')`,
    )
    .pluck();
  const find = db.prepare<[number], AttemptRecord>(
    `SELECT attempts.id, assignment_id AS assignmentId, student_id AS studentId, users.name AS student, ${SHOWN_STATE} AS state, stage,
            file_name AS fileName, file_size_bytes AS fileSizeBytes, file_sha256 AS fileSha256,
            handed_in_at AS handedInAt, typed_json AS typedJson, build_log AS buildLog, refusal_code AS refusalCode,
            refusal_message AS refusalMessage, report_json AS reportJson, program, model_sha256 AS modelSha256, overlay_sha256 AS overlaySha256,
            graded_at AS gradedAt, duration_ms AS durationMs,
            CASE WHEN state = 'refused' THEN NULL ELSE (SELECT count(*) FROM attempts AS earlier
              WHERE earlier.assignment_id = attempts.assignment_id AND earlier.student_id = attempts.student_id
                AND earlier.stage = attempts.stage AND earlier.state <> 'refused' AND earlier.id <= attempts.id) END AS number
     FROM attempts JOIN users ON users.id = attempts.student_id LEFT JOIN reports ON reports.attempt_id = attempts.id
     WHERE attempts.id = ?`,
  );
  const referenceOf = db.prepare<[number], { sha256: string }>(
    `SELECT ${REFERENCE_SHA256} AS sha256
     FROM attempts JOIN assignments ON assignments.id = attempts.assignment_id
     JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id ${JOIN_PART} WHERE attempts.id = ?`,
  );
  const reviewOrder = db.prepare<[number], { id: number; studentId: number; stage: number }>(
    `SELECT max(attempts.id) AS id, student_id AS studentId, stage FROM attempts JOIN users ON users.id = student_id
     WHERE assignment_id = ? AND state = 'graded' GROUP BY student_id, stage ORDER BY users.name, stage`,
  );

  return {
    workOf: (studentId) => workList.all(studentId).map((row) => extended(row, studentId)),
    work(studentId, assignmentId) {
      const row = work.get(studentId, assignmentId);
      return row === undefined ? null : extended(row, studentId);
    },
    assignmentFor(assignmentId, studentId) {
      const row = assignment.get(assignmentId);
      return row === undefined ? null : extended(row, studentId);
    },
    assignment: (assignmentId) => assignment.get(assignmentId) ?? null,
    attempt: (attemptId) => find.get(attemptId) ?? null,
    attemptsOf: (assignmentId, studentId) => own.all(assignmentId, studentId),
    used: (assignmentId, studentId, stage) => used.get(assignmentId, studentId, stage)?.count ?? 0,
    measured: (assignmentId, studentId, stage) => measured.all(assignmentId, studentId, stage),
    gradedStages: (assignmentId, studentId) =>
      new Set(gradedStages.all(assignmentId, studentId).map(({ stage }) => stage)),
    referenceOf: (attemptId) => referenceOf.get(attemptId)?.sha256 ?? null,
    reviewOrder: (assignmentId) => reviewOrder.all(assignmentId),
    attemptOfKey: (studentId, key) => ofKey.get(studentId, key) ?? null,
    slowSince: (studentId, since) => slow.get(studentId, since) ?? 0,
    add: (attempt) => Number(insert.run(attempt).lastInsertRowid),
  };
}
