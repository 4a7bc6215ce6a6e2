/** Times for large and foreign models: dense triangle files, the largest STEP file at hand, memory over many attempts. */
import { readFileSync, statSync, readdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import path from 'node:path';

import { gradeFile, prepareExercise } from '#core/attempt';
import { trianglesOf, writeStl, type Triangles } from '#core/mesh';
import type { Kernel } from '#core/kernel';
import { readModel } from '#core/model';
import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import { pumpCoverExercise, winchDrumExercise } from '#demo/exercises';
import { modelLikeStudent } from '#demo/workbench';
import { loadKernel, loadOverlayer, useBaselineCompiler } from '#runtime';

import { median, ms, printTable, timed } from './statistics.ts';

const ATTEMPTS = 500;

/** A bumpy ball of about `count` triangles: no plain surface goes through it, which is the hard case. */
function bumpyBall(count: number): Triangles {
  const n = Math.round(Math.sqrt(count / 2));
  const positions: number[] = [];
  const indices: number[] = [];
  for (let i = 0; i <= n; i++)
    for (let j = 0; j < n; j++) {
      const [theta, phi] = [(Math.PI * i) / n, (2 * Math.PI * j) / n];
      const r = 30 + 2 * Math.sin(5 * phi) * Math.sin(theta) ** 3 + Math.cos(4 * theta);
      positions.push(r * Math.sin(theta) * Math.cos(phi), r * Math.sin(theta) * Math.sin(phi), r * Math.cos(theta));
    }
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      const [a, b] = [i * n + j, i * n + ((j + 1) % n)];
      indices.push(a, a + n, b, b, a + n, b + n);
    }
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices) };
}

function stepFiles(): { readonly name: string; readonly bytes: Uint8Array }[] {
  const root = path.dirname(createRequire(import.meta.url).resolve('occt-import-js/package.json'));
  const folder = path.join(root, 'test/testfiles');
  return readdirSync(folder, { recursive: true })
    .map(String)
    .filter((name) => /\.(stp|step)$/i.test(name))
    .sort((a, b) => statSync(path.join(folder, b)).size - statSync(path.join(folder, a)).size)
    .filter((name, i, all) => all.findIndex((other) => path.basename(other) === path.basename(name)) === i)
    .slice(0, 3)
    .map((name) => ({ name: path.basename(name), bytes: new Uint8Array(readFileSync(path.join(folder, name))) }));
}

/** A plate with a grid of holes, a STEP file of about 2 MB. */
function perforatedPlate(kernel: Kernel): Uint8Array {
  const [columns, rows] = [30, 13];
  const points = Array.from({ length: columns * rows }, (_, i): [string, string] => [
    String((i % columns) * 8 - ((columns - 1) * 8) / 2),
    String(Math.floor(i / columns) * 8 - ((rows - 1) * 8) / 2),
  ]);
  const { shape } = unwrap(
    buildRecipe(kernel, {
      format: 'zorvet-recipe',
      version: 3,
      name: 'Strainer plate',
      unit: 'mm',
      parameters: [],
      steps: [
        {
          id: 'plate',
          op: 'extrude',
          mode: 'add',
          plane: { base: 'XY' },
          outlines: [{ shape: 'rectangle', center: ['0', '0'], width: '250', height: '200' }],
          extent: { kind: 'depth', depth: '4' },
        },
        {
          id: 'holes',
          op: 'hole',
          plane: { surface: 'plate.end' },
          at: { kind: 'points', points },
          diameter: '5',
          depth: { kind: 'through' },
        },
      ],
    }),
  );
  const bytes = kernel.writeStep(shape, 'mm', 'Strainer plate');
  shape.free();
  return bytes;
}

/** Prints times of large models beside that of the winch drum, and the kernel's memory over many attempts. */
export async function benchModels(): Promise<void> {
  useBaselineCompiler();
  const kernel = await loadKernel();
  const overlayer = await loadOverlayer();
  const { shape } = unwrap(buildRecipe(kernel, winchDrumExercise.recipe));
  const usual = kernel.writeStep(shape, 'in', 'drum');
  const fine = writeStl(trianglesOf(kernel.displayMesh(shape, { toleranceMm: 0.01, angleRad: 0.1 })));
  shape.free();
  const cover = unwrap(buildRecipe(kernel, pumpCoverExercise.recipe)).shape;
  const finest = writeStl(trianglesOf(kernel.displayMesh(cover, { toleranceMm: 0.005, angleRad: 0.05 })));
  cover.free();
  const cases = [
    { name: 'winch drum, STEP', bytes: usual, runs: 5 },
    { name: 'winch drum, fine STL', bytes: fine, runs: 2 },
    { name: 'bilge-pump cover, very fine STL', bytes: finest, runs: 2 },
    { name: 'bumpy ball, STL', bytes: writeStl(bumpyBall(200_000)), runs: 2 },
    { name: 'plate with 390 holes, STEP', bytes: perforatedPlate(kernel), runs: 1 },
    ...stepFiles().map(({ name, bytes }) => ({ name, bytes, runs: 2 })),
  ];
  const rows = cases.map(({ name, bytes, runs }) => ({
    name,
    size: `${(bytes.length / 1024).toFixed(0)} KB`,
    time: median(
      timed(() => void readModel(kernel, bytes, { fileName: name.includes('STL') ? 'a.stl' : 'a.step' }), runs, 1),
    ),
  }));
  const baseline = rows[0]?.time ?? Number.NaN;
  printTable(
    'Reading and analyzing large models, warm, median in ms (ratio to the winch drum as STEP)',
    ['model', 'file', 'time'],
    rows.map(({ name, size, time }) => [name, size, `${ms(time)} (${(time / baseline).toFixed(1)})`]),
  );

  const { reference } = unwrap(prepareExercise(kernel, winchDrumExercise));
  const { step, typed } = unwrap(
    modelLikeStudent(kernel, winchDrumExercise, { kind: 'one-forgotten', step: 'bolts', hole: 2 }),
  );
  const heaps: [string, string][] = [];
  for (let i = 1; i <= ATTEMPTS; i++) {
    unwrap(gradeFile(kernel, reference, { bytes: step, typed, policy: winchDrumExercise.scoring }, { overlayer }));
    if ([1, 50, 100, 200, 300, 400, ATTEMPTS].includes(i))
      heaps.push([
        String(i),
        `${(kernel.heapBytes() / 1024 / 1024).toFixed(0)} / ${(process.memoryUsage().rss / 1024 / 1024).toFixed(0)}`,
      ]);
  }
  printTable('Memory over attempts on one kernel, MB', ['attempts', "kernel's memory / process"], heaps);
}
