import { availableParallelism } from 'node:os';
import { MessageChannel } from 'node:worker_threads';

import pLimit from 'p-limit';
import { Piscina } from 'piscina';
import type { Logger } from 'pino';

import type { OpenInWords } from '#api';
import type { Diagnosis } from '#core/mistake';
import type { Stage } from '#core/model';
import { compileKernel, useBaselineCompiler } from '#runtime';

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
}

/** A study builds a part some fifty times; nobody waits for it. */
const STUDY_LIMIT_MS = 300_000;

/** What a worker sends back; one that is worn out wants to be replaced, and has done its task all the same. */
type Reply<T> = Outcome<T> & { readonly worn?: boolean };

/**
 * A pool of kernel workers. One core is left for the server itself where there are more than two. Each worker has a place of
 * its own: when it is worn out, crashed or was stopped, the place gets a new one before it takes the next task, so that no
 * task meets a worker that is about to end.
 */
export async function startPool({
  workerUrl,
  timeLimitMs,
  log,
  threads,
  recycleAfterTasks,
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

  // As many tasks as there are workers are under way; the others wait, and their time does not run.
  const oneOfMany = pLimit(width);
  const run = <T>(name: string, task: object, transfer: Transfer = {}, limitMs = timeLimitMs): Promise<Outcome<T>> =>
    oneOfMany(async () => {
      const place = free.pop();
      if (place === undefined || closing.signal.aborted) return { kind: 'crashed', reason: 'The server is closing.' };
      try {
        place.worker ??= hire(place.isFirst);
        const { worn, ...outcome } = await runOn<T>(place.worker, { name, task, transfer, limitMs });
        if (worn === true) await replace(place);
        return outcome;
      } finally {
        free.push(place);
      }
    });

  async function replace(place: { readonly isFirst: boolean; worker: Piscina | null }): Promise<void> {
    const old = place.worker;
    place.worker = place.isFirst && !closing.signal.aborted ? hire(true) : null;
    await old?.destroy();
  }

  return {
    width,
    async grade(task, onStage) {
      const { port1, port2 } = new MessageChannel();
      port1.on('message', (stage: Stage) => {
        onStage(stage);
      });
      try {
        return await run<Graded>('grade', { kind: 'grade', ...task, port: port2 }, { transferList: [port2] });
      } finally {
        port1.close();
      }
    },
    prepare: (task) => run<Prepared>('prepare', { kind: 'prepare', ...task }),
    atlas: (task) => run<AtlasChunk>('atlas', { kind: 'atlas', ...task }),
    gather: (task) => run<Gathered>('gather', { kind: 'gather', ...task }),
    study: (task) => run<OpenInWords>('study', { kind: 'study', ...task }, {}, STUDY_LIMIT_MS),
    diagnose: (task) => run<Diagnosis>('diagnose', { kind: 'diagnose', ...task }),
    close: async () => {
      closing.abort();
      await Promise.all(places.map(async ({ worker }) => worker?.destroy()));
    },
  };
}

type Transfer = Parameters<Piscina['run']>[1];

interface Run {
  readonly name: string;
  readonly task: object;
  readonly transfer: Transfer;
  readonly limitMs: number;
}

/** Runs a task on a worker. One that ended, or had to be ended, is worn out. */
async function runOn<T>(worker: Piscina, { name, task, transfer, limitMs }: Run): Promise<Reply<T>> {
  const signal = AbortSignal.timeout(limitMs);
  try {
    return (await worker.run(task, { ...transfer, name, signal })) as Reply<T>;
  } catch (error) {
    if (signal.aborted) return { kind: 'timed-out', worn: true };
    return { kind: 'crashed', reason: error instanceof Error ? error.message : String(error), worn: true };
  }
}
