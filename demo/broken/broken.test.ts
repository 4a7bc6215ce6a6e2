import { beforeAll, expect, it } from 'vitest';

import type { Kernel } from '#core/kernel';
import { trianglesOf } from '#core/mesh';
import { readModel } from '#core/model';
import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import { brokenFiles, type BrokenFile } from '#demo/broken';
import { gudgeonBracketExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { sampleOf } from '../exercises/testing.ts';

/** Far above what any of them takes, far below what would hold up a class. */
const LIMIT_MS = 10_000;

let kernel: Kernel;
let files: readonly BrokenFile[];
beforeAll(async () => {
  kernel = await loadKernel();
  const { shape } = unwrap(buildRecipe(kernel, gudgeonBracketExercise.recipe));
  const step = kernel.writeStep(shape, 'mm', 'part');
  files = brokenFiles(step, trianglesOf(kernel.displayMesh(shape, { toleranceMm: 0.1, angleRad: 0.5 })));
  shape.free();
});

it('every broken file ends in time with a clear refusal, a warning, or as the part it still is', async () => {
  expect(files.length).toBeGreaterThanOrEqual(300);
  const faults: string[] = [];
  const looked = sampleOf(files, 120);
  let traps = 0;
  for (const { name, fileName, bytes } of looked) {
    const start = performance.now();
    let outcome = '';
    try {
      const read = readModel(kernel, bytes, { fileName });
      if (!read.ok && !/^[A-Z0-9].{20,}[.)]$/s.test(read.problem.message))
        outcome = `says only "${read.problem.message}"`;
      if (read.ok && !Number.isFinite(read.value.massProperties.volumeMm3)) outcome = 'has a volume that is no number';
    } catch (error) {
      // A trap of the kernel ends its worker, and the file is refused; whatever else is thrown is our own fault.
      if (!(error instanceof WebAssembly.RuntimeError)) outcome = `throws ${String(error)}`;
      kernel = await loadKernel();
      traps++;
    }
    if (performance.now() - start > LIMIT_MS) outcome = `takes ${((performance.now() - start) / 1000).toFixed(1)} s`;
    if (outcome !== '') faults.push(`${name}: ${outcome}`);
  }
  expect(faults).toEqual([]);
  expect(traps).toBeLessThan(0.05 * looked.length);
});

it('after all of them the kernel reads a sound file as before', () => {
  const { shape } = unwrap(buildRecipe(kernel, gudgeonBracketExercise.recipe));
  const solid = unwrap(readModel(kernel, kernel.writeStep(shape, 'mm', 'part'), { fileName: 'part.step' }));
  shape.free();
  expect(solid).toMatchObject({ bodies: 1, closed: true, valid: true });
});
