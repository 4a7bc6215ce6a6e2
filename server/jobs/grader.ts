/** Grades one job: has its file measured, and writes what came of it. */
import type { Logger } from 'pino';
import * as v from 'valibot';

import { TypedInputsSchema, type AttemptEvent } from '#api';
import { parseExercise, type Exercise } from '#core/exercise';
import { policyIn, type ScoringPolicy } from '#core/grade';
import type { Stage } from '#core/model';
import { unwrap, type Problem } from '#core/problem';
import type { Db } from '#server/db';
import type { Events } from '#server/events';
import type { FileStore } from '#server/files';

import type { JobRow, JobStore } from './job-rows.ts';
import { createCircumstances, partOf, type KnownCircumstances } from './part.ts';
import type { Graded, GradeTask, Outcome, Runner } from './task.ts';

/** A file that made its worker end is tried once more, in case it only shared the fate of another. */
const MOST_TRIES = 2;

/** A file that took the whole server along so often is not measured any more; restarts alone hardly come to so many. */
const MOST_INTERRUPTIONS = 10;

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

export interface GraderParts {
  readonly db: Db;
  readonly files: FileStore;
  readonly events: Events;
  readonly runner: Runner;
  readonly log: Logger;
  readonly jobs: JobStore;
  /** An attempt was graded whose mistakes are not known yet, though there is an atlas. */
  readonly onUnexplained?: () => void;
  /** How long a stage of an attempt took, and which refusal one met. */
  readonly onStage?: (stage: Stage, seconds: number) => void;
  readonly onRefused?: (code: string) => void;
  /** An attempt was graded by a policy that does not hold any more, or without its overrides. */
  readonly onOutdated?: (attemptId: number) => Promise<void>;
}

export interface Grader {
  /** Grades the file of a job that has begun, and writes the result unless `isStopped` by then. */
  grade(job: JobRow, isStopped: () => boolean): Promise<void>;
  /** Refuses a job that was tried or interrupted too often, and says whether it did. */
  refusedAsHopeless(job: JobRow): boolean;
  /** Refuses a job that failed after its last try; lets it wait for the next one otherwise. */
  giveUpOrRetry(job: JobRow): void;
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

export function createGrader({
  db,
  files,
  events,
  runner,
  log,
  jobs,
  onUnexplained = () => undefined,
  onStage = () => undefined,
  onRefused = () => undefined,
  onOutdated = () => Promise.resolve(),
}: GraderParts): Grader {
  const circumstancesOf = createCircumstances(db);

  const tell = (job: JobRow, state: AttemptEvent['state'], stage: Stage | null = null): void => {
    const { attemptId, assignmentId, studentId, courseId } = job;
    events.publish({ event: { attemptId, assignmentId, state, stage }, studentId, courseId });
  };

  function refuse(job: JobRow, problem: Problem): void {
    const state = jobs.refuse(job.attemptId, problem);
    if (state === 'refused') onRefused(problem.code);
    tell(job, state);
  }

  /** Has the file measured; tells of each stage, and how long it took. */
  async function measured(job: JobRow, policy: ScoringPolicy): Promise<Outcome<Graded>> {
    let [last, since]: [Stage, number] = ['reading', performance.now()];
    const timed = (): void => {
      onStage(last, (performance.now() - since) / 1000);
    };
    tell(job, 'running', last);
    const outcome = await runner.grade(taskOf(job, files, policy, circumstancesOf(job)), (stage) => {
      timed();
      [last, since] = [stage, performance.now()];
      tell(job, 'running', stage);
    });
    timed();
    return outcome;
  }

  async function finish(job: JobRow, graded: Graded, { policy, since }: { policy: ScoringPolicy; since: number }) {
    const stored = await storedOf(files, graded);
    jobs.finish(job, { graded, stored, durationMs: Math.round(performance.now() - since), policy });
    // The policy may have been changed while the model was measured, and overrides survive a new measuring.
    if (jobs.isOutdated(job)) await scoredAgain(job);
    tell(job, 'graded');
    if (job.atlasSha256 !== null && graded.diagnosis === null) onUnexplained();
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

  return {
    giveUpOrRetry,
    refusedAsHopeless(job) {
      if (job.tries < MOST_TRIES && job.interruptions < MOST_INTERRUPTIONS) return false;
      refuse(job, job.tries >= MOST_TRIES ? CRASHED : INTERRUPTED);
      return true;
    },
    async grade(job, isStopped) {
      const since = performance.now();
      const policy = policyIn(job.policyJson, exerciseOf(job).scoring);
      const outcome = await measured(job, policy);
      if (isStopped()) return;
      switch (outcome.kind) {
        case 'done':
          await finish(job, outcome.value, { policy, since });
          return;
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
    },
  };
}
