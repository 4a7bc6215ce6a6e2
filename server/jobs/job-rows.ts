/** What the database holds of the jobs of the queue. */
import type { QueueState } from '#api';
import type { ScoringPolicy } from '#core/grade';
import type { Problem } from '#core/problem';
import type { LengthUnit } from '#core/quantity';
import { JOIN_EXERCISE, type Db } from '#server/db';
import { createReportStore } from '#server/report';

import { DUE_AT, JOIN_ATLAS, JOIN_EXTENSION, JOIN_PART, REFERENCE_SHA256, type StoredCircumstances } from './part.ts';
import { PROGRAM_VERSION } from './program.ts';
import type { Graded } from './task.ts';

/** An attempt that waits to be measured, with all that its grading needs. */
export interface JobRow extends StoredCircumstances {
  readonly attemptId: number;
  /** How often a worker ended over it. */
  readonly tries: number;
  /** How often the whole server ended while it ran. */
  readonly interruptions: number;
  readonly assignmentId: number;
  readonly studentId: number;
  readonly fileSha256: string;
  readonly fileName: string;
  readonly fileUnit: LengthUnit | null;
  readonly typedJson: string;
  readonly variant: number;
  readonly stage: number;
  readonly referenceSha256: string;
  readonly documentJson: string;
  readonly atlasSha256: string | null;
  readonly policyJson: string | null;
}

/** The files that a grading left. */
export interface Stored {
  readonly modelSha256: string;
  readonly overlaySha256: string | null;
}

/** A finished job. */
export interface Finished {
  readonly graded: Graded;
  readonly stored: Stored;
  readonly durationMs: number;
  readonly policy: ScoringPolicy;
}

interface Waiting {
  readonly attemptId: number;
  readonly studentId: number;
}

export interface JobStore {
  add(attemptId: number): void;
  counts(): Omit<QueueState, 'isPaused'>;
  /**
   * The job that is next: the first one of the student who had a turn longest ago, as long as somebody waits, so that
   * nobody's many files keep the others waiting.
   */
  next(): JobRow | null;
  /** A worker takes the job; its tries count. */
  begin(job: JobRow): void;
  waitAgain(attemptId: number): void;
  /** A job that nothing could be written of waits again, as if it had not been begun. */
  handBack(attemptId: number): void;
  /** What ran when the last process ended waits again. */
  recover(): void;
  /** Writes the report and ends the job, both or neither. */
  finish(job: JobRow, finished: Finished): void;
  /** Ends the job of a file that is not read; what was measured before keeps its report, and stays graded. */
  refuse(attemptId: number, problem: Problem): 'refused' | 'graded';
  /** Whether a report was scored by a policy that does not hold any more, or without its overrides. */
  isOutdated(job: JobRow): boolean;
}

export function createJobStore(db: Db, now: () => Date): JobStore {
  const reports = createReportStore(db);
  const insert = db.prepare<[number, string]>('INSERT INTO jobs (attempt_id, queued_at) VALUES (?, ?)');
  const firstOfEach = db.prepare<[], Waiting>(
    `SELECT min(jobs.attempt_id) AS attemptId, attempts.student_id AS studentId
     FROM jobs JOIN attempts ON attempts.id = jobs.attempt_id WHERE attempts.state = 'waiting'
     GROUP BY attempts.student_id ORDER BY min(jobs.attempt_id)`,
  );
  const counts = db.prepare<[], Omit<QueueState, 'isPaused'>>(
    `SELECT coalesce(sum(attempts.state = 'waiting'), 0) AS waiting, coalesce(sum(attempts.state = 'running'), 0) AS running,
            min(jobs.queued_at) AS oldestAt FROM jobs JOIN attempts ON attempts.id = jobs.attempt_id`,
  );
  const waiting = db.prepare<[number], JobRow>(
    `SELECT jobs.attempt_id AS attemptId, jobs.tries, jobs.interruptions, attempts.assignment_id AS assignmentId,
            attempts.student_id AS studentId, exercises.course_id AS courseId, exercises.id AS exerciseId, attempts.file_sha256 AS fileSha256,
            attempts.file_name AS fileName, attempts.file_unit AS fileUnit,
            attempts.typed_json AS typedJson, attempts.build_log AS buildLog, attempts.handed_in_at AS handedInAt,
            attempts.round_open AS roundOpen, attempts.round_all AS roundAll,
            ${DUE_AT} AS dueAt, attempts.stage, coalesce(assigned_variants.variant, -1) AS variant,
            ${REFERENCE_SHA256} AS referenceSha256,
            exercise_revisions.document_json AS documentJson,
            atlases.atlas_sha256 AS atlasSha256, assignments.policy_json AS policyJson
     FROM jobs JOIN attempts ON attempts.id = jobs.attempt_id
     ${JOIN_EXERCISE}
     ${JOIN_PART}
     ${JOIN_EXTENSION}
     ${JOIN_ATLAS}
     WHERE jobs.attempt_id = ?`,
  );
  const currentPolicy = db.prepare<[number], { policyJson: string | null }>(
    'SELECT policy_json AS policyJson FROM assignments WHERE id = ?',
  );
  const hasOverrides = db.prepare<[number], { yes: 1 }>('SELECT 1 AS yes FROM overrides WHERE attempt_id = ? LIMIT 1');
  const begin = db.transaction((attemptId: number) => {
    db.prepare('UPDATE jobs SET tries = tries + 1 WHERE attempt_id = ?').run(attemptId);
    db.prepare("UPDATE attempts SET state = 'running' WHERE id = ?").run(attemptId);
  });
  const removeJob = db.prepare<[number]>('DELETE FROM jobs WHERE attempt_id = ?');
  const setGraded = db.prepare<[number]>(
    "UPDATE attempts SET state = 'graded', refusal_code = NULL, refusal_message = NULL WHERE id = ?",
  );
  const setRefused = db.prepare<[string, string, number]>(
    "UPDATE attempts SET state = 'refused', refusal_code = ?, refusal_message = ? WHERE id = ?",
  );
  const setWaiting = db.prepare<[number]>("UPDATE attempts SET state = 'waiting' WHERE id = ?");
  /** Attempts of a correction that are measured anew. */
  const setCorrected = db.prepare<[string, number]>(
    'UPDATE corrected_attempts SET measured_at = ? WHERE attempt_id = ? AND measured_at IS NULL',
  );
  const finish = db.transaction((job: JobRow, { graded, stored, durationMs, policy }: Finished) => {
    const { report, measurement, diagnosis } = graded;
    reports.put({
      attemptId: job.attemptId,
      report,
      measurement,
      diagnosis,
      ...stored,
      gradedAt: now(),
      durationMs,
      policy,
      program: PROGRAM_VERSION,
    });
    setGraded.run(job.attemptId);
    setCorrected.run(now().toISOString(), job.attemptId);
    removeJob.run(job.attemptId);
  });
  const hasReport = db.prepare<[number], { yes: 1 }>('SELECT 1 AS yes FROM reports WHERE attempt_id = ?');
  const refuse = db.transaction((attemptId: number, problem: Problem): 'refused' | 'graded' => {
    const isMeasured = hasReport.get(attemptId) !== undefined;
    if (isMeasured) setGraded.run(attemptId);
    else setRefused.run(problem.code, problem.message, attemptId);
    removeJob.run(attemptId);
    return isMeasured ? 'graded' : 'refused';
  });

  // That the server ended, or could not write, is not counted as a try.
  const recover = db.transaction(() => {
    db.prepare(
      `UPDATE jobs SET tries = max(tries - 1, 0), interruptions = interruptions + 1
       WHERE attempt_id IN (SELECT id FROM attempts WHERE state = 'running')`,
    ).run();
    db.prepare("UPDATE attempts SET state = 'waiting' WHERE state = 'running'").run();
  });
  const untry = db.prepare<[number]>('UPDATE jobs SET tries = max(tries - 1, 0) WHERE attempt_id = ?');
  const handBack = db.transaction((attemptId: number) => {
    untry.run(attemptId);
    setWaiting.run(attemptId);
  });

  /** When each student last had a turn, counted. */
  const turns = new Map<number, number>();
  let turn = 0;

  return {
    add: (attemptId) => insert.run(attemptId, now().toISOString()),
    counts: () => counts.get() ?? { waiting: 0, running: 0, oldestAt: null },
    next() {
      const [first, ...others] = firstOfEach.all();
      if (first === undefined) {
        turns.clear();
        return null;
      }
      const turnOf = ({ studentId }: Waiting): number => turns.get(studentId) ?? 0;
      return (
        waiting.get(others.reduce((best, one) => (turnOf(one) < turnOf(best) ? one : best), first).attemptId) ?? null
      );
    },
    begin(job) {
      begin(job.attemptId);
      turns.set(job.studentId, ++turn);
    },
    waitAgain: (attemptId) => setWaiting.run(attemptId),
    handBack,
    recover,
    finish,
    refuse,
    isOutdated: ({ attemptId, assignmentId, policyJson }) =>
      (currentPolicy.get(assignmentId)?.policyJson ?? null) !== policyJson || hasOverrides.get(attemptId) !== undefined,
  };
}
