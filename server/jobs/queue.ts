import type { Logger } from 'pino';
import * as v from 'valibot';

import { TypedInputsSchema, type AttemptEvent } from '#api';
import { parseExercise } from '#core/exercise';
import { policyIn, type ScoringPolicy } from '#core/grade';
import type { Stage } from '#core/model';
import { unwrap, type Problem } from '#core/problem';
import type { LengthUnit } from '#core/quantity';
import type { Db } from '#server/db';
import type { Events } from '#server/events';
import type { FileStore } from '#server/files';

import { createCircumstances, JOIN_ATLAS, JOIN_PART, partOf, type StoredCircumstances } from './part.ts';
import { PROGRAM_VERSION } from './program.ts';
import type { Graded, Runner } from './task.ts';

interface JobRow extends StoredCircumstances {
  readonly attemptId: number;
  readonly tries: number;
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

interface Stored {
  readonly modelSha256: string;
  readonly overlaySha256: string | null;
}

/** A file that made its worker end is tried once more, in case it only shared the fate of another. */
const MOST_TRIES = 2;

const TOO_LONG: Problem = {
  code: 'too-long',
  message:
    'Reading this model took too long and was stopped. Simplify it (modeled threads and text are the usual reason), export it again, and hand in the new file. This attempt does not count.',
};
const CRASHED: Problem = {
  code: 'kernel-crash',
  message:
    'The geometry of this file makes the measuring program stop. Rebuild the feature you added last, export the model again, and hand in the new file. This attempt does not count.',
};

export interface Queue {
  /** Adds the job of an attempt; call inside the transaction that writes the attempt. */
  add(attemptId: number): void;
  /** Starts what is waiting; call after the transaction. */
  wake(): void;
  /** Resolves when nothing waits or runs. */
  idle(): Promise<void>;
  /** Takes no new jobs and waits for none: what runs is taken up again at the next start. */
  stop(): void;
}

export interface QueueParts {
  readonly db: Db;
  readonly files: FileStore;
  readonly events: Events;
  readonly runner: Runner;
  readonly log: Logger;
  readonly now: () => Date;
  /** An attempt was graded whose mistakes are not known yet, though there is an atlas. */
  readonly onUnexplained?: () => void;
  /** An attempt was graded by a policy that does not hold any more, or without its overrides. */
  readonly onOutdated?: (attemptId: number) => Promise<void>;
}

/** Jobs live in the database until their result is written in the same transaction: a crash loses none. */
export function createQueue({
  db,
  files,
  events,
  runner,
  log,
  now,
  onUnexplained = () => undefined,
  onOutdated = () => Promise.resolve(),
}: QueueParts): Queue {
  const insert = db.prepare<[number, string]>('INSERT INTO jobs (attempt_id, queued_at) VALUES (?, ?)');
  const waiting = db.prepare<[], JobRow>(
    `SELECT jobs.attempt_id AS attemptId, jobs.tries, attempts.assignment_id AS assignmentId,
            attempts.student_id AS studentId, exercises.course_id AS courseId, exercises.id AS exerciseId, attempts.file_sha256 AS fileSha256,
            attempts.file_name AS fileName, attempts.file_unit AS fileUnit,
            attempts.typed_json AS typedJson, attempts.build_log AS buildLog, attempts.handed_in_at AS handedInAt,
            assignments.due_at AS dueAt, attempts.stage, coalesce(assigned_variants.variant, -1) AS variant,
            coalesce(revision_parts.reference_sha256, exercise_revisions.reference_sha256) AS referenceSha256,
            exercise_revisions.document_json AS documentJson,
            atlases.atlas_sha256 AS atlasSha256, assignments.policy_json AS policyJson
     FROM jobs JOIN attempts ON attempts.id = jobs.attempt_id
     JOIN assignments ON assignments.id = attempts.assignment_id
     JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id
     JOIN exercises ON exercises.id = exercise_revisions.exercise_id
     ${JOIN_PART}
     ${JOIN_ATLAS}
     WHERE attempts.state = 'waiting' ORDER BY jobs.queued_at, jobs.attempt_id LIMIT 1`,
  );
  const circumstancesOf = createCircumstances(db);
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
  const writeReport = db.prepare<
    [number, number, string, string, string | null, string, string | null, string, number, string, string]
  >(
    `INSERT INTO reports (attempt_id, score, measurement_json, report_json, diagnosis_json, model_sha256, overlay_sha256, graded_at, duration_ms, policy_json, program)
     VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
     ON CONFLICT (attempt_id) DO UPDATE SET score = excluded.score, measurement_json = excluded.measurement_json,
       report_json = excluded.report_json, diagnosis_json = excluded.diagnosis_json, model_sha256 = excluded.model_sha256, overlay_sha256 = excluded.overlay_sha256, graded_at = excluded.graded_at,
       duration_ms = excluded.duration_ms, policy_json = excluded.policy_json, program = excluded.program`,
  );
  const finish = db.transaction(
    (job: JobRow, graded: Graded, stored: Stored, durationMs: number, policy: ScoringPolicy) => {
      const { report, measurement, diagnosis } = graded;
      writeReport.run(
        job.attemptId,
        report.score,
        JSON.stringify(measurement),
        JSON.stringify(report),
        diagnosis === null ? null : JSON.stringify(diagnosis),
        stored.modelSha256,
        stored.overlaySha256,
        now().toISOString(),
        durationMs,
        JSON.stringify(policy),
        PROGRAM_VERSION,
      );
      setGraded.run(job.attemptId);
      removeJob.run(job.attemptId);
    },
  );
  const refuse = db.transaction((attemptId: number, problem: Problem) => {
    setRefused.run(problem.code, problem.message, attemptId);
    removeJob.run(attemptId);
  });

  // What ran when the last process ended is taken up again.
  db.prepare("UPDATE attempts SET state = 'waiting' WHERE state = 'running'").run();

  let running = 0;
  let stopped = false;
  const idlers: (() => void)[] = [];

  const tell = (job: JobRow, state: AttemptEvent['state'], stage: Stage | null = null): void => {
    const { attemptId, assignmentId, studentId, courseId } = job;
    events.publish({ event: { attemptId, assignmentId, state, stage }, studentId, courseId });
  };

  async function work(job: JobRow): Promise<void> {
    const started = performance.now();
    tell(job, 'running', 'reading');
    const exercise = unwrap(parseExercise(JSON.parse(job.documentJson)));
    const policy = policyIn(job.policyJson, exercise.scoring);
    const circumstances = circumstancesOf(job);
    const outcome = await runner.grade(
      {
        filePath: files.pathOf(job.fileSha256),
        fileName: job.fileName,
        fileUnit: job.fileUnit,
        referencePath: files.pathOf(job.referenceSha256),
        typed: v.parse(TypedInputsSchema, JSON.parse(job.typedJson)),
        policy,
        circumstances,
        replay: circumstances.log?.recipe ? partOf(exercise, job) : null,
        atlasPath: job.atlasSha256 === null ? null : files.pathOf(job.atlasSha256),
      },
      (stage) => {
        tell(job, 'running', stage);
      },
    );
    if (stopped) return;
    switch (outcome.kind) {
      case 'done': {
        const model = await files.put(Buffer.from(outcome.value.modelJson));
        const { overlayJson } = outcome.value;
        const overlay = overlayJson === null ? null : await files.put(Buffer.from(overlayJson));
        const stored = { modelSha256: model.sha256, overlaySha256: overlay?.sha256 ?? null };
        finish(job, outcome.value, stored, Math.round(performance.now() - started), policy);
        // The policy may have been changed while the model was measured, and overrides survive a new measuring.
        if (
          (currentPolicy.get(job.assignmentId)?.policyJson ?? null) !== job.policyJson ||
          hasOverrides.get(job.attemptId)
        )
          await onOutdated(job.attemptId);
        tell(job, 'graded');
        if (job.atlasSha256 !== null && outcome.value.diagnosis === null) onUnexplained();
        return;
      }
      case 'refused':
        refuse(job.attemptId, outcome.problem);
        tell(job, 'refused');
        return;
      case 'timed-out':
        log.warn({ attemptId: job.attemptId }, 'grading took too long');
        refuse(job.attemptId, TOO_LONG);
        tell(job, 'refused');
        return;
      case 'crashed':
        log.warn({ attemptId: job.attemptId, reason: outcome.reason, tries: job.tries + 1 }, 'grading crashed');
        giveUpOrRetry(job);
    }
  }

  function giveUpOrRetry(job: JobRow): void {
    if (job.tries + 1 >= MOST_TRIES) {
      refuse(job.attemptId, CRASHED);
      tell(job, 'refused');
    } else {
      setWaiting.run(job.attemptId);
      tell(job, 'waiting');
    }
  }

  function pump(): void {
    while (!stopped && running < runner.width) {
      const job = waiting.get();
      if (job === undefined) break;
      if (job.tries >= MOST_TRIES) {
        refuse(job.attemptId, CRASHED);
        tell(job, 'refused');
        continue;
      }
      begin(job.attemptId);
      running++;
      work(job)
        .catch((error: unknown) => {
          log.error({ attemptId: job.attemptId, error: String(error) }, 'job failed');
          if (!stopped) giveUpOrRetry(job);
        })
        .finally(() => {
          running--;
          pump();
        });
    }
    if (running === 0) for (const resolve of idlers.splice(0)) resolve();
  }

  return {
    add: (attemptId) => {
      insert.run(attemptId, now().toISOString());
    },
    wake: () => setImmediate(pump),
    idle: () =>
      new Promise((resolve) => {
        idlers.push(resolve);
        setImmediate(pump);
      }),
    stop: () => {
      stopped = true;
    },
  };
}
