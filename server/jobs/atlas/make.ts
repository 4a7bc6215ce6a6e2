/** Making one atlas: its mistakes are built some at a time, by as many workers as there are. */
import type { Logger } from 'pino';

import { parseExercise, type Exercise } from '#core/exercise';
import type { MadeMistake } from '#core/mistake';
import { unwrap } from '#core/problem';
import type { FileStore } from '#server/files';

import { partOf } from '../part.ts';
import type { Queue } from '../queue.ts';
import type { Runner } from '../task.ts';

import type { AtlasRow, AtlasStore } from './rows.ts';

/** Mistakes that are built in one go, so that a grade never waits long. */
const CHUNK = 5;

export interface AtlasWork {
  readonly store: AtlasStore;
  readonly files: FileStore;
  readonly runner: Runner;
  readonly queue: Queue;
  readonly log: Logger;
  readonly stopped: () => boolean;
}

/** Where the files lie that a task of this document reads. */
export const pathsOf = (files: FileStore, { model }: Exercise, referenceSha256: string) => ({
  referencePath: files.pathOf(referenceSha256),
  ...(model === undefined ? {} : { modelPath: files.pathOf(model.sha256) }),
});

/**
 * Makes an atlas: all at once where somebody waits for it, else a little at a time while nobody waits for a grade.
 * It ends as done or failed in the database, or stays as running where the server is stopped.
 */
export async function makeAtlas(work: AtlasWork, part: AtlasRow, waitedFor: boolean): Promise<void> {
  const { store, files, runner, stopped } = work;
  const shared = store.known(part.inputs);
  if (shared !== null) {
    store.setDone(part, shared);
    return;
  }
  const document = unwrap(parseExercise(JSON.parse(part.documentJson)));
  const task = { ...partOf(document, part), ...pathsOf(files, document, part.referenceSha256) };
  const made = await buildMistakes(work, part, task, waitedFor);
  if (stopped()) return;
  const gathered = made && (await runner.gather({ ...task, made }));
  if (stopped()) return;
  if (made === null || gathered?.kind !== 'done') {
    store.setState(part, 'failed', { done: 0, total: 0 });
    return;
  }
  const { sha256 } = await files.put(Buffer.from(gathered.value.atlasJson));
  const proposalsJson = JSON.stringify(gathered.value.proposals);
  store.setDone(part, { sha256, total: made.length, proposalsJson });
}

/** Builds the mistakes of a part and notes how many are done; null where not even the first could be built. */
async function buildMistakes(
  { store, runner, queue, log, stopped }: AtlasWork,
  part: AtlasRow,
  task: Omit<Parameters<Runner['atlas']>[0], 'from' | 'count'>,
  waitedFor: boolean,
): Promise<readonly MadeMistake[] | null> {
  const { revisionId, variant, stage } = part;
  const warn = (from: number, outcome: string): void =>
    log.warn({ revisionId, variant, stage, from, outcome }, 'mistakes could not be built');
  store.setState(part, 'running', { done: 0, total: 0 });
  const first = await runner.atlas({ ...task, from: 0, count: CHUNK });
  if (first.kind !== 'done') {
    if (!stopped()) warn(0, first.kind);
    return null;
  }
  const { total } = first.value;
  const made = [...first.value.made];
  let from = CHUNK;
  let done = Math.min(CHUNK, total);
  const one = async (): Promise<void> => {
    while (from < total && !stopped()) {
      const start = from;
      from += CHUNK;
      if (!waitedFor) await queue.idle();
      if (stopped()) return;
      const outcome = await runner.atlas({ ...task, from: start, count: CHUNK });
      if (outcome.kind === 'done') made.push(...outcome.value.made);
      // A mistake that ends its worker takes those beside it along; the atlas goes on without them.
      else warn(start, outcome.kind);
      done = Math.min(done + CHUNK, total);
      if (!stopped()) store.setState(part, 'running', { done, total });
    }
  };
  await Promise.all(Array.from({ length: waitedFor ? runner.width : 1 }, one));
  return made;
}
