/** Making one atlas: its mistakes are built some at a time, by as many workers as there are. */
import { addMinutes } from 'date-fns';
import type { Logger } from 'pino';

import { parseExercise, type Exercise } from '#core/exercise';
import type { MadeMistake } from '#core/mistake';
import { unwrap } from '#core/problem';
import type { FileStore } from '#server/files';

import { partOf } from '../part.ts';
import type { Queue } from '../queue.ts';
import type { Outcome, Runner } from '../task.ts';

import type { AtlasRow, AtlasStore } from './rows.ts';

/** Mistakes that are built in one go, so that a grade never waits long. */
const CHUNK = 5;

/** After a failure, the second one, and the third. */
const RETRY_AFTER_MINUTES = [5, 30, 240];

export interface AtlasWork {
  readonly store: AtlasStore;
  readonly files: FileStore;
  readonly runner: Runner;
  readonly queue: Queue;
  readonly log: Logger;
  readonly now: () => Date;
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
  if (made.kind !== 'done') {
    fail(work, part, reasonOf(made));
    return;
  }
  const gathered = await untilDone(work, waitedFor, () => runner.gather({ ...task, made: made.value }));
  if (stopped()) return;
  if (gathered.kind !== 'done') {
    fail(work, part, reasonOf(gathered));
    return;
  }
  const { sha256 } = await files.put(Buffer.from(gathered.value.atlasJson));
  const proposalsJson = JSON.stringify(gathered.value.proposals);
  store.setDone(part, { sha256, total: made.value.length, proposalsJson });
}

/** Notes that an atlas failed, and when it is tried again. */
export function fail({ store, now }: Pick<AtlasWork, 'store' | 'now'>, part: AtlasRow, reason: string): void {
  store.setFailed(part, reason, nextTry(now(), part.tries));
}

/** When something that failed is tried again: ever later, and in the end not by itself. `tries` are those before. */
export function nextTry(now: Date, tries: number): Date | null {
  const minutes = RETRY_AFTER_MINUTES[tries];
  return minutes === undefined ? null : addMinutes(now, minutes);
}

/** Why an outcome is none, as a sentence. */
function reasonOf(outcome: Exclude<Outcome<unknown>, { kind: 'done' }>): string {
  if (outcome.kind === 'refused') return outcome.problem.message;
  if (outcome.kind === 'timed-out') return 'Building the part with a mistake took too long.';
  return 'The geometry program stopped over this part.';
}

/** Runs a task of the background when nobody waits for a grade, and again where it gave way to one. */
async function untilDone<T>(
  { queue, stopped }: Pick<AtlasWork, 'queue' | 'stopped'>,
  waitedFor: boolean,
  run: () => Promise<Outcome<T>>,
): Promise<Outcome<T>> {
  for (;;) {
    if (!waitedFor) await queue.idle();
    const outcome = await run();
    if (outcome.kind !== 'gave-way' || stopped()) return outcome;
  }
}

/** Builds the mistakes of a part and notes how many are done; what came of the first where not even that could be built. */
async function buildMistakes(
  work: AtlasWork,
  part: AtlasRow,
  task: Omit<Parameters<Runner['atlas']>[0], 'from' | 'count'>,
  waitedFor: boolean,
): Promise<Outcome<readonly MadeMistake[]>> {
  const { store, runner, log, stopped } = work;
  const { revisionId, variant, stage } = part;
  const warn = (from: number, outcome: string): void =>
    log.warn({ revisionId, variant, stage, from, outcome }, 'mistakes could not be built');
  store.setRunning(part, { done: 0, total: 0 });
  const build = (start: number) =>
    untilDone(work, waitedFor, () => runner.atlas({ ...task, from: start, count: CHUNK }));
  const first = await build(0);
  if (first.kind !== 'done') {
    if (!stopped()) warn(0, first.kind);
    return first;
  }
  const { total } = first.value;
  const made = [...first.value.made];
  let from = CHUNK;
  let done = Math.min(CHUNK, total);
  const one = async (): Promise<void> => {
    while (from < total && !stopped()) {
      const start = from;
      from += CHUNK;
      const outcome = await build(start);
      if (stopped()) return;
      if (outcome.kind === 'done') made.push(...outcome.value.made);
      // A mistake that ends its worker takes those beside it along; the atlas goes on without them.
      else warn(start, outcome.kind);
      done = Math.min(done + CHUNK, total);
      if (!stopped()) store.setRunning(part, { done, total });
    }
  };
  await Promise.all(Array.from({ length: waitedFor ? runner.width : 1 }, one));
  return { kind: 'done', value: made };
}
