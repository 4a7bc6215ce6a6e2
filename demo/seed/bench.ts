import { Piscina } from 'piscina';

import type { Exercise } from '#core/exercise';
import { unwrap, type Result } from '#core/problem';
import type { HandIn, Slip } from '#demo/workbench';

export interface BenchTask {
  readonly exercise: Exercise;
  readonly slip: Slip;
}

/** The simulated student workbench in a thread of its own, so that who waits for it can do other things. */
export function openBench(workerUrl: URL): {
  readonly model: (exercise: Exercise, slip: Slip) => Promise<HandIn>;
  readonly close: () => Promise<void>;
} {
  const pool = new Piscina({ filename: workerUrl.href, maxThreads: 1 });
  return {
    model: async (exercise, slip) => unwrap((await pool.run({ exercise, slip } satisfies BenchTask)) as Result<HandIn>),
    close: () => pool.close(),
  };
}
