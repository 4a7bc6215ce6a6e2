/** Studies of what sheets leave open: worked out in the background, one stage after the other, while nobody waits. */
import type { Logger } from 'pino';
import * as v from 'valibot';

import { OpenInWordsSchema, type OpenInWords } from '#api';
import { exerciseOfStage, parseExercise, stageCount, type Exercise } from '#core/exercise';
import { unwrap } from '#core/problem';
import { isUnwritable, type Db } from '#server/db';
import { hashOf } from '#server/files';

import type { Queue } from '../queue.ts';
import type { Runner } from '../task.ts';

import { createStudyStore, type StudyRow, type StudyState } from './rows.ts';

/** What the sheet of a stage leaves open; null until it is known. */
export interface StageStudy {
  readonly stage: number;
  readonly state: StudyState;
  readonly open: OpenInWords | null;
}

export interface Studies {
  /** Notes what a new revision needs; call after the revision is stored. */
  plan(revisionId: number): void;
  /** Begins to work off what is planned, and goes on with every new plan. */
  start(): void;
  /** Works out all that is planned now. */
  finish(): Promise<void>;
  of(revisionId: number): readonly StageStudy[];
  stop(): void;
}

export interface StudiesParts {
  readonly db: Db;
  readonly runner: Pick<Runner, 'study'>;
  readonly queue: Queue;
  readonly log: Logger;
}

/** What a study is worked out of: the same part, plan and notes leave the same open. */
function inputsOf(document: Exercise, stage: number): string {
  const { recipe, checks, notes, decimals } = exerciseOfStage(document, stage);
  return hashOf(Buffer.from(JSON.stringify([STUDY_VERSION, recipe, checks, notes, decimals])));
}

/** How often the background looks whether something waits that it was not told of. */
const LOOK_EVERY_MS = 60_000;

/** Counts up when studies find other things. */
const STUDY_VERSION = 1;

export function createStudies({ db, runner, queue, log }: StudiesParts): Studies {
  const store = createStudyStore(db);
  const life = { stopped: false, started: false, working: false, recovered: false };
  const stopped = (): boolean => life.stopped;
  let clock: NodeJS.Timeout | undefined;

  function plan(revisionId: number): void {
    const json = store.documentOf(revisionId);
    if (json === null) return;
    const document = unwrap(parseExercise(JSON.parse(json)));
    // A part from a file has no numbers to vary, and a drawing made elsewhere is not read.
    if (document.recipe.steps.length === 0 || document.sheet?.drawing !== undefined) return;
    for (let stage = 1; stage <= stageCount(document); stage++)
      store.add({ revisionId, stage }, inputsOf(document, stage));
    if (life.started) wake();
  }

  async function study(row: StudyRow): Promise<void> {
    const known = store.known(row.inputs);
    if (known !== null) {
      store.setDone(row, known);
      return;
    }
    store.setState(row, 'running');
    const exercise = unwrap(parseExercise(JSON.parse(row.documentJson)));
    const outcome = await runner.study({ exercise, stage: row.stage });
    if (stopped()) return;
    if (outcome.kind === 'gave-way') store.setState(row, 'waiting');
    else if (outcome.kind === 'done') store.setDone(row, JSON.stringify(outcome.value));
    else {
      log.warn({ revisionId: row.revisionId, stage: row.stage, outcome: outcome.kind }, 'sheet could not be studied');
      store.setState(row, 'failed');
    }
  }

  async function work(): Promise<void> {
    if (life.working) return;
    life.working = true;
    try {
      if (!life.recovered) store.recover();
      life.recovered = true;
      for (let row = store.next(); row !== null && !stopped(); row = store.next()) {
        await queue.idle();
        if (stopped()) return;
        try {
          await study(row);
        } catch (error) {
          if (stopped() || isUnwritable(error)) throw error;
          log.error({ revisionId: row.revisionId, stage: row.stage, error: String(error) }, 'study failed');
          store.setState(row, 'failed');
        }
      }
    } finally {
      life.working = false;
    }
  }

  /** Works in the background; where nothing can be written, what runs is taken up at the next wake. */
  const wake = (): void => {
    work().catch((error: unknown) => {
      life.recovered = false;
      if (!stopped()) log.error({ error: String(error) }, 'studies wait');
    });
  };

  return {
    plan,
    start() {
      life.started = true;
      for (const id of store.unplanned()) plan(id);
      clock = setInterval(wake, LOOK_EVERY_MS).unref();
      wake();
    },
    finish: work,
    of: (revisionId) =>
      store.of(revisionId).map(({ stage, state, openJson }) => ({
        stage,
        state,
        open: openJson === null ? null : v.parse(OpenInWordsSchema, JSON.parse(openJson)),
      })),
    stop() {
      clearInterval(clock);
      life.stopped = true;
    },
  };
}
