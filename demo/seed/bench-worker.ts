/** Makes the models of simulated students; see bench.ts. */
import { parentPort } from 'node:worker_threads';

import { modelLikeStudent } from '#demo/workbench';
import { loadKernel } from '#runtime';

import type { FromBench, ToBench } from './bench.ts';

const kernel = loadKernel();
parentPort?.on('message', ({ id, exercise, slip }: ToBench) => {
  void kernel.then((loaded) => {
    parentPort?.postMessage({ id, result: modelLikeStudent(loaded, exercise, slip) } satisfies FromBench);
  });
});
