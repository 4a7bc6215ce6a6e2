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
}

/** A study builds a part some fifty times; nobody waits for it. */
const STUDY_LIMIT_MS = 300_000;

/** A pool of kernel workers. One core is left for the server itself where there are more than two. */
export async function startPool({ workerUrl, timeLimitMs, log, threads }: PoolOptions): Promise<Runner> {
  useBaselineCompiler();
  const kernel = await compileKernel();
  const cores = availableParallelism();
  const width = threads ?? Math.max(1, cores > 2 ? cores - 1 : cores);
  const pool = new Piscina({
    filename: workerUrl.href,
    minThreads: 1,
    maxThreads: width,
    idleTimeout: 60_000,
    workerData: { kernel },
    resourceLimits: { maxOldGenerationSizeMb: 512 },
  });
  // Without a listener, a worker that cannot start would end the server.
  pool.on('error', (error: unknown) => {
    log.error({ error: String(error) }, 'worker failed');
  });

  // As many tasks as there are workers are in the pool; the others wait before it, where their time does not run.
  const oneOfMany = pLimit(width);
  const run = <T>(
    name: string,
    task: object,
    transfer: Parameters<typeof pool.run>[1] = {},
    limitMs = timeLimitMs,
  ): Promise<Outcome<T>> => oneOfMany(() => runNow<T>(name, task, transfer, limitMs));

  async function runNow<T>(
    name: string,
    task: object,
    transfer: Parameters<typeof pool.run>[1],
    limitMs: number,
  ): Promise<Outcome<T>> {
    const signal = AbortSignal.timeout(limitMs);
    try {
      return (await pool.run(task, { ...transfer, name, signal })) as Outcome<T>;
    } catch (error) {
      if (signal.aborted) return { kind: 'timed-out' };
      return { kind: 'crashed', reason: error instanceof Error ? error.message : String(error) };
    }
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
    close: () => pool.destroy(),
  };
}
