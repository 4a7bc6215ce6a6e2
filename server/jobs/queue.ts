import type { Logger } from 'pino';
import * as v from 'valibot';

import { TypedInputsSchema, type AttemptEvent, type QueueState } from '#api';
import { parseExercise, type Exercise } from '#core/exercise';
import { policyIn, type ScoringPolicy } from '#core/grade';
import type { Stage } from '#core/model';
import { unwrap, type Problem } from '#core/problem';
import { isUnwritable, type Db } from '#server/db';
import type { Events } from '#server/events';
import type { FileStore } from '#server/files';

import { createJobStore, type JobRow } from './job-rows.ts';
import { createCircumstances, partOf, type KnownCircumstances } from './part.ts';
import type { Graded, GradeTask, Runner } from './task.ts';

/** A file that made its worker end is tried once more, in case it only shared the fate of another. */
const MOST_TRIES = 2;

/** A file that took the whole server along so often is not measured any more; restarts alone hardly come to so many. */
const MOST_INTERRUPTIONS = 10;

/** How long grading waits before it tries again to write. */
const PAUSE_MS = 10_000;

const TOO_LONG: Problem = {
  code: 'too-long',
  message:
    'Reading this model took too long and was stopped. Simplify it (modeled threads and text are the usual reason), export it again, and hand in the new file. This attempt does not count.',
};
const INTERRUPTED: Problem = {
  code: 'interrupted',
  message:
    'The server ended each time while it measured this file, and gave up. Hand in the file once more; if that happens again, tell your instructor. This attempt does not count.',
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
  state(): QueueState;
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
  /** How long a stage of an attempt took, and which refusal one met. */
  readonly onStage?: (stage: Stage, seconds: number) => void;
  readonly onRefused?: (code: string) => void;
  /** An attempt was graded by a policy that does not hold any more, or without its overrides. */
  readonly onOutdated?: (attemptId: number) => Promise<void>;
}

const exerciseOf = ({ documentJson }: JobRow): Exercise => unwrap(parseExercise(JSON.parse(documentJson)));

/** What a worker needs to grade the file of a job. */
const taskOf = (
  job: JobRow,
  files: FileStore,
  policy: ScoringPolicy,
  circumstances: KnownCircumstances,
): Omit<GradeTask, 'kind'> => ({
  filePath: files.pathOf(job.fileSha256),
  fileName: job.fileName,
  fileUnit: job.fileUnit,
  referencePath: files.pathOf(job.referenceSha256),
  typed: v.parse(TypedInputsSchema, JSON.parse(job.typedJson)),
  policy,
  circumstances,
  replay: circumstances.log?.recipe ? partOf(exerciseOf(job), job) : null,
  atlasPath: job.atlasSha256 === null ? null : files.pathOf(job.atlasSha256),
});

async function storedOf(
  files: FileStore,
  { modelJson, overlayJson }: Graded,
): Promise<{ readonly modelSha256: string; readonly overlaySha256: string | null }> {
  const model = await files.put(Buffer.from(modelJson));
  const overlay = overlayJson === null ? null : await files.put(Buffer.from(overlayJson));
  return { modelSha256: model.sha256, overlaySha256: overlay?.sha256 ?? null };
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
  onStage = () => undefined,
  onRefused = () => undefined,
  onOutdated = () => Promise.resolve(),
}: QueueParts): Queue {
  const jobs = createJobStore(db, now);
  const circumstancesOf = createCircumstances(db);
  let running = 0;
  let stopped = false;
  let isRecovered = false;
  let pausing: NodeJS.Timeout | null = null;
  /** Jobs that are to wait again as soon as that can be written. */
  const handBack = new Set<number>();
  const idlers: (() => void)[] = [];

  const tell = (job: JobRow, state: AttemptEvent['state'], stage: Stage | null = null): void => {
    const { attemptId, assignmentId, studentId, courseId } = job;
    events.publish({ event: { attemptId, assignmentId, state, stage }, studentId, courseId });
  };

  function refuse(job: JobRow, problem: Problem): void {
    jobs.refuse(job.attemptId, problem);
    onRefused(problem.code);
    tell(job, 'refused');
  }

  async function work(job: JobRow): Promise<void> {
    const started = performance.now();
    tell(job, 'running', 'reading');
    const policy = policyIn(job.policyJson, exerciseOf(job).scoring);
    let [last, since]: [Stage, number] = ['reading', started];
    const timed = (): void => {
      onStage(last, (performance.now() - since) / 1000);
    };
    const outcome = await runner.grade(taskOf(job, files, policy, circumstancesOf(job)), (stage) => {
      timed();
      [last, since] = [stage, performance.now()];
      tell(job, 'running', stage);
    });
    timed();
    if (stopped) return;
    switch (outcome.kind) {
      case 'done': {
        const stored = await storedOf(files, outcome.value);
        const durationMs = Math.round(performance.now() - started);
        jobs.finish(job, { graded: outcome.value, stored, durationMs, policy });
        // The policy may have been changed while the model was measured, and overrides survive a new measuring.
        if (jobs.isOutdated(job)) await scoredAgain(job);
        tell(job, 'graded');
        if (job.atlasSha256 !== null && outcome.value.diagnosis === null) onUnexplained();
        return;
      }
      case 'refused':
        refuse(job, outcome.problem);
        return;
      case 'timed-out':
        log.warn({ attemptId: job.attemptId }, 'grading took too long');
        refuse(job, TOO_LONG);
        return;
      case 'crashed':
        log.warn({ attemptId: job.attemptId, reason: outcome.reason, tries: job.tries + 1 }, 'grading crashed');
        giveUpOrRetry(job);
    }
  }

  /** The report is there; that it could not be scored by the newest policy is no reason to measure it again. */
  async function scoredAgain({ attemptId }: JobRow): Promise<void> {
    try {
      await onOutdated(attemptId);
    } catch (error) {
      log.error({ attemptId, error: String(error) }, 'an attempt could not be scored anew');
    }
  }

  function giveUpOrRetry(job: JobRow): void {
    if (job.tries + 1 >= MOST_TRIES) {
      refuse(job, CRASHED);
    } else {
      jobs.waitAgain(job.attemptId);
      tell(job, 'waiting');
    }
  }

  /** A job ended with an exception: that may be its own fault, or nothing could be written. */
  function failed(job: JobRow, error: unknown): void {
    if (stopped) return;
    if (isUnwritable(error)) {
      handBack.add(job.attemptId);
      pause(error);
      return;
    }
    log.error({ attemptId: job.attemptId, error: String(error) }, 'job failed');
    try {
      giveUpOrRetry(job);
    } catch (second) {
      handBack.add(job.attemptId);
      pause(second);
    }
  }

  /** Nothing is begun for a while: the disk is full, or the database cannot be written for another reason. */
  function pause(error: unknown): void {
    if (pausing !== null || stopped) return;
    log.error({ error: String(error) }, 'grading waits: nothing can be written');
    pausing = setTimeout(resume, PAUSE_MS).unref();
  }

  /** Tries to write again, and goes on where that works. */
  function resume(): void {
    if (pausing !== null) clearTimeout(pausing);
    pausing = null;
    pump();
  }

  function begun(): JobRow | null {
    for (const attemptId of handBack) {
      jobs.handBack(attemptId);
      handBack.delete(attemptId);
    }
    if (!isRecovered) jobs.recover();
    isRecovered = true;
    for (let job = jobs.next(); job !== null; job = jobs.next()) {
      if (job.tries < MOST_TRIES && job.interruptions < MOST_INTERRUPTIONS) {
        jobs.begin(job);
        return job;
      }
      refuse(job, job.tries >= MOST_TRIES ? CRASHED : INTERRUPTED);
    }
    return null;
  }

  function pump(): void {
    try {
      while (!stopped && pausing === null && running < runner.width) {
        const job = begun();
        if (job === null) break;
        running++;
        work(job)
          .catch((error: unknown) => {
            failed(job, error);
          })
          .finally(() => {
            running--;
            pump();
          });
      }
    } catch (error) {
      pause(error);
    }
    if (running === 0 && pausing === null) for (const resolve of idlers.splice(0)) resolve();
  }

  return {
    add: (attemptId) => {
      jobs.add(attemptId);
    },
    wake: () => setImmediate(resume),
    idle: () =>
      new Promise((resolve) => {
        idlers.push(resolve);
        setImmediate(pump);
      }),
    state: () => ({ ...jobs.counts(), isPaused: pausing !== null }),
    stop: () => {
      stopped = true;
      if (pausing !== null) clearTimeout(pausing);
    },
  };
}
