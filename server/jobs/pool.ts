import { availableParallelism } from 'node:os';
import { MessageChannel } from 'node:worker_threads';

import PQueue from 'p-queue';
import { Piscina } from 'piscina';
import type { Logger } from 'pino';

import type { OpenInWords } from '#api';
import type { Lookalikes } from '#core/lookalike';
import type { Coverage, Diagnosis } from '#core/mistake';
import type { Stage } from '#core/model';
import { compileKernel, useBaselineCompiler } from '#runtime';
import type { Unpacked } from '#server/archive';
import type { CutTerm } from '#server/extract';

import type { AtlasChunk, Gathered, Graded, Outcome, Prepared, Runner } from './task.ts';

export interface PoolOptions {
  /** URL of the bundled worker. */
  readonly workerUrl: URL;
  /** Of one task, from when a worker takes it: what waits for a worker does not grow old. */
  readonly timeLimitMs: number;
  readonly log: Logger;
  readonly threads?: number;
  /** A worker is replaced after so many tasks: memory of the kernel never shrinks. */
  readonly recycleAfterTasks?: number;
  /** The background may have all workers: nobody hands in, as when a demo course is made. */
  readonly isAllForBackground?: boolean;
}

/** A study builds a part some fifty times; nobody waits for it. */
const STUDY_LIMIT_MS = 300_000;

/** Copying and cutting the database of a school with 15,000 attempts takes some seconds. */
const TERM_LIMIT_MS = 300_000;
/** Reading an archive of the largest size takes a second. */
const UNPACK_LIMIT_MS = 30_000;

const BACKGROUND = 0;
/** Who has a worker first: students who wait for a grade, then authors, then what nobody waits for. */
const RANKS = {
  grade: 2,
  prepare: 1,
  unpack: 1,
  print: 1,
  cutTerm: 1,
  coverage: 1,
  diagnose: BACKGROUND,
  atlas: BACKGROUND,
  gather: BACKGROUND,
  study: BACKGROUND,
  lookalikes: BACKGROUND,
} as const;

/** What a worker sends back; one that is worn out wants to be replaced, and has done its task all the same. */
type Reply<T> = Outcome<T> & { readonly worn?: boolean };

/**
 * A pool of kernel workers. One core is left for the server itself where there are more than two. Each worker has a place of
 * its own: when it is worn out, crashed or was stopped, the place gets a new one before it takes the next task, so that no
 * task meets a worker that is about to end. What nobody waits for leaves one worker free; where there is only one, it gives way
 * to a grade, though that costs a new worker.
 */
export async function startPool({
  workerUrl,
  timeLimitMs,
  log,
  threads,
  recycleAfterTasks,
  isAllForBackground = false,
}: PoolOptions): Promise<Runner> {
  useBaselineCompiler();
  const kernel = await compileKernel();
  const cores = availableParallelism();
  const width = threads ?? Math.max(1, cores > 2 ? cores - 1 : cores);
  const hire = (isFirst: boolean): Piscina => {
    const worker = new Piscina({
      filename: workerUrl.href,
      // The first one is always there; the others end when there is nothing to do.
      minThreads: isFirst ? 1 : 0,
      maxThreads: 1,
      idleTimeout: 60_000,
      workerData: { kernel, recycleAfterTasks },
      resourceLimits: { maxOldGenerationSizeMb: 512 },
    });
    // Without a listener, a worker that cannot start would end the server.
    worker.on('error', (error: unknown) => {
      log.error({ error: String(error) }, 'worker failed');
    });
    return worker;
  };
  const places = Array.from({ length: width }, (_, i) => ({ isFirst: i === 0, worker: i === 0 ? hire(true) : null }));
  const free: { readonly isFirst: boolean; worker: Piscina | null }[] = [...places].reverse();
  const closing = new AbortController();

  // As many tasks as there are workers are under way; the others wait by rank, and their time does not run.
  const line = new PQueue({ concurrency: width });
  // One worker is left for those who wait, warm and free, where there is more than one.
  const inBackground = new PQueue({ concurrency: isAllForBackground ? width : Math.max(1, width - 1) });
  /** Tasks of the background that have a worker, the youngest last. */
  const background: AbortController[] = [];
  const run = <T>(what: Omit<Run, 'giveWay'>): Promise<Outcome<T>> => {
    const rank = RANKS[what.name];
    const inLine = (): Promise<Outcome<T>> =>
      line.add(() => runInPlace<T>(what, rank === BACKGROUND), { priority: rank });
    // Pictures are a matter of seconds, and a class is at its sheets; atlases take minutes.
    if (rank === BACKGROUND) return inBackground.add(inLine, { priority: what.name === 'lookalikes' ? 1 : 0 });
    if (rank === RANKS.grade && !isAllForBackground && background.length === width) background.at(-1)?.abort();
    return inLine();
  };

  const ended = { crashed: 0, timedOut: 0, replaced: 0 };
  async function runInPlace<T>(what: Omit<Run, 'giveWay'>, isBackground: boolean): Promise<Outcome<T>> {
    const place = free.pop();
    if (place === undefined || closing.signal.aborted) return { kind: 'crashed', reason: 'The server is closing.' };
    const giveWay = new AbortController();
    if (isBackground) background.push(giveWay);
    try {
      place.worker ??= hire(place.isFirst);
      const { worn, ...outcome } = await runOn<T>(place.worker, { ...what, giveWay: giveWay.signal });
      if (worn === true) {
        if (outcome.kind === 'crashed') ended.crashed++;
        else if (outcome.kind === 'timed-out') ended.timedOut++;
        else ended.replaced++;
        await replace(place);
      }
      return outcome;
    } finally {
      if (isBackground) background.splice(background.indexOf(giveWay), 1);
      free.push(place);
    }
  }

  async function replace(place: { readonly isFirst: boolean; worker: Piscina | null }): Promise<void> {
    const old = place.worker;
    place.worker = place.isFirst && !closing.signal.aborted ? hire(true) : null;
    await old?.destroy();
  }

  return {
    width,
    ended: () => ({ ...ended }),
    async grade(given, onStage) {
      const { port1, port2 } = new MessageChannel();
      port1.on('message', (stage: Stage) => {
        onStage(stage);
      });
      try {
        const task = { kind: 'grade', ...given, port: port2 };
        return await run<Graded>({ name: 'grade', task, transfer: { transferList: [port2] }, limitMs: timeLimitMs });
      } finally {
        port1.close();
      }
    },
    prepare: (task) => run<Prepared>({ name: 'prepare', task: { kind: 'prepare', ...task }, limitMs: timeLimitMs }),
    print: (task) => run<Uint8Array>({ name: 'print', task, limitMs: timeLimitMs }),
    cutTerm: (task) => run<CutTerm>({ name: 'cutTerm', task, limitMs: TERM_LIMIT_MS }),
    unpack: (bytes) => run<Unpacked>({ name: 'unpack', task: { bytes }, limitMs: UNPACK_LIMIT_MS }),
    atlas: (task) => run<AtlasChunk>({ name: 'atlas', task: { kind: 'atlas', ...task }, limitMs: timeLimitMs }),
    gather: (task) => run<Gathered>({ name: 'gather', task: { kind: 'gather', ...task }, limitMs: timeLimitMs }),
    study: (task) => run<OpenInWords>({ name: 'study', task: { kind: 'study', ...task }, limitMs: STUDY_LIMIT_MS }),
    lookalikes: (task) =>
      run<Lookalikes>({ name: 'lookalikes', task: { kind: 'lookalikes', ...task }, limitMs: timeLimitMs }),
    coverage: (task) =>
      run<Coverage>({ name: 'coverage', task: { kind: 'coverage', ...task }, limitMs: UNPACK_LIMIT_MS }),
    diagnose: (task) => run<Diagnosis>({ name: 'diagnose', task: { kind: 'diagnose', ...task }, limitMs: timeLimitMs }),
    close: async () => {
      closing.abort();
      await Promise.all(places.map(async ({ worker }) => worker?.destroy()));
    },
  };
}

type Transfer = Parameters<Piscina['run']>[1];

interface Run {
  readonly name: keyof typeof RANKS;
  readonly task: object;
  readonly transfer?: Transfer;
  readonly limitMs: number;
  /** Ends it, so that somebody who waits can have the worker. */
  readonly giveWay: AbortSignal;
}

/** Runs a task on a worker. One that ended, or had to be ended, is worn out. */
async function runOn<T>(worker: Piscina, { name, task, transfer = {}, limitMs, giveWay }: Run): Promise<Reply<T>> {
  const limit = AbortSignal.timeout(limitMs);
  try {
    const signal = AbortSignal.any([limit, giveWay]);
    return (await worker.run(task, { ...transfer, name, signal })) as Reply<T>;
  } catch (error) {
    if (giveWay.aborted) return { kind: 'gave-way', worn: true };
    if (limit.aborted) return { kind: 'timed-out', worn: true };
    return { kind: 'crashed', reason: error instanceof Error ? error.message : String(error), worn: true };
  }
}
