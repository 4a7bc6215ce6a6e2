/** The attempts that wait to be graded: which comes next, and what happens where nothing can be written. */
import type { QueueState } from '#api';
import { isUnwritable } from '#server/db';

import { createGrader, type GraderParts } from './grader.ts';
import { createJobStore, type JobRow } from './job-rows.ts';

/** How long grading waits before it tries again to write. */
const PAUSE_MS = 10_000;

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

export interface QueueParts extends Omit<GraderParts, 'jobs'> {
  readonly now: () => Date;
}

/** Jobs live in the database until their result is written in the same transaction: a crash loses none. */
export function createQueue(parts: QueueParts): Queue {
  const { db, runner, log, now } = parts;
  const jobs = createJobStore(db, now);
  const grader = createGrader({ ...parts, jobs });
  let running = 0;
  let stopped = false;
  let isRecovered = false;
  let pausing: NodeJS.Timeout | null = null;
  /** Jobs that are to wait again as soon as that can be written. */
  const handBack = new Set<number>();
  const idlers: (() => void)[] = [];

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
      grader.giveUpOrRetry(job);
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
    for (let job = jobs.next(); job !== null; job = jobs.next())
      if (!grader.refusedAsHopeless(job)) {
        jobs.begin(job);
        return job;
      }
    return null;
  }

  function pump(): void {
    try {
      while (!stopped && pausing === null && running < runner.width) {
        const job = begun();
        if (job === null) break;
        running++;
        grader
          .grade(job, () => stopped)
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
