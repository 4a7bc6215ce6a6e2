import { Worker } from 'node:worker_threads';

import type { Exercise } from '#core/exercise';
import { unwrap, type Result } from '#core/problem';
import type { HandIn, Slip } from '#demo/workbench';

export interface ToBench {
  readonly id: number;
  readonly exercise: Exercise;
  readonly slip: Slip;
}

export interface FromBench {
  readonly id: number;
  readonly result: Result<HandIn>;
}

/** The simulated student workbench in a thread of its own, so that who waits for it can do other things. */
export function openBench(workerUrl: URL): {
  readonly model: (exercise: Exercise, slip: Slip) => Promise<HandIn>;
  readonly close: () => Promise<unknown>;
} {
  const worker = new Worker(workerUrl);
  const waiting = new Map<number, (result: Result<HandIn>) => void>();
  const broken = { reject: (_: Error): void => undefined };
  const failed = new Promise<never>((_, reject) => {
    broken.reject = reject;
  });
  failed.catch(() => undefined);
  worker.on('message', ({ id, result }: FromBench) => {
    waiting.get(id)?.(result);
    waiting.delete(id);
  });
  worker.on('error', (error) => {
    broken.reject(error instanceof Error ? error : new Error(String(error)));
  });
  let last = 0;
  return {
    model: async (exercise, slip) => {
      const id = ++last;
      const answer = new Promise<Result<HandIn>>((resolve) => waiting.set(id, resolve));
      worker.postMessage({ id, exercise, slip } satisfies ToBench);
      return unwrap(await Promise.race([answer, failed]));
    },
    close: () => worker.terminate(),
  };
}
