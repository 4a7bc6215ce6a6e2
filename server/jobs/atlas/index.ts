/** Atlases of mistakes: made in the background, one part after the other, while nobody waits for a grade. */
import type { Logger } from 'pino';

import { isUnwritable, type Db } from '#server/db';
import type { Events } from '#server/events';
import type { FileStore } from '#server/files';

import type { Queue } from '../queue.ts';
import type { Runner } from '../task.ts';

import { lookAgain } from './look.ts';
import { fail, makeAtlas } from './make.ts';
import { planAtlases, renewAtlases } from './plan.ts';
import { createAtlasStore, type AtlasState } from './rows.ts';

export type { AtlasState } from './rows.ts';

export interface Atlases {
  /** Notes what a new revision needs; call after the revision is stored. */
  plan(revisionId: number): void;
  /** Begins to work off what is planned, and goes on with every new plan. */
  start(): void;
  /** An attempt waits for a closer look. */
  wake(): void;
  /** Takes the closer look now. */
  lookAgain(): Promise<void>;
  /** What failed of a revision is tried again. */
  retry(revisionId: number): void;
  /** Makes the atlas of one part now. */
  make(revisionId: number, variant?: number, stage?: number): Promise<void>;
  stateOf(revisionId: number, variant?: number, stage?: number): AtlasState;
  stop(): void;
}

export interface AtlasesParts {
  readonly db: Db;
  readonly files: FileStore;
  readonly events: Events;
  readonly runner: Runner;
  readonly queue: Queue;
  readonly log: Logger;
  readonly now: () => Date;
  /** Scores an attempt anew, with what is known of its mistakes. */
  readonly rescore: (attemptId: number) => Promise<void>;
}

const NO_ATLAS: AtlasState = {
  state: 'none',
  done: 0,
  total: 0,
  atlasSha256: null,
  proposalsJson: '[]',
  reason: null,
  retryAt: null,
};

/** How often the background looks whether something that failed is due again. */
const LOOK_EVERY_MS = 60_000;

export function createAtlases({ db, files, events, runner, queue, log, now, rescore }: AtlasesParts): Atlases {
  const store = createAtlasStore(db, now);
  const life = { stopped: false, started: false, working: false, recovered: false };
  const stopped = (): boolean => life.stopped;
  const parts = { store, files, events, runner, queue, log, now, rescore, stopped };
  let clock: NodeJS.Timeout | undefined;

  function plan(revisionId: number): void {
    planAtlases(store, revisionId);
    wake();
  }

  /** Works in the background; where nothing can be written, what runs is taken up at the next wake. */
  function wake(): void {
    if (!life.started) return;
    work().catch((error: unknown) => {
      life.recovered = false;
      if (!stopped()) log.error({ error: String(error) }, 'mistakes wait');
    });
  }

  async function work(): Promise<void> {
    if (life.working) return;
    life.working = true;
    try {
      if (!life.recovered) store.recover();
      life.recovered = true;
      await lookAgain(parts);
      for (let part = store.next(); part !== null && !stopped(); part = store.next()) {
        try {
          await makeAtlas(parts, part, false);
        } catch (error) {
          if (stopped() || isUnwritable(error)) throw error;
          log.error({ revisionId: part.revisionId, error: String(error) }, 'atlas failed');
          fail(parts, part, 'Something went wrong on the server.');
        }
        await lookAgain(parts);
      }
    } finally {
      life.working = false;
    }
  }

  return {
    plan,
    wake,
    lookAgain: () => lookAgain(parts),
    start() {
      life.started = true;
      clock = setInterval(wake, LOOK_EVERY_MS).unref();
      void renewAtlases(store, log, stopped).then(() => {
        if (stopped()) return;
        for (const id of store.unplanned()) plan(id);
        wake();
      });
    },
    async make(revisionId, variant = -1, stage = 1) {
      plan(revisionId);
      const part = store.one({ revisionId, variant, stage });
      if (part !== null) await makeAtlas(parts, part, true);
      await lookAgain(parts);
    },
    stateOf: (revisionId, variant = -1, stage = 1) => store.stateOf({ revisionId, variant, stage }) ?? NO_ATLAS,
    retry(revisionId) {
      store.retry(revisionId);
      wake();
    },
    stop() {
      clearInterval(clock);
      life.stopped = true;
    },
  };
}
