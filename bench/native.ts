/** Import and mass properties beside the same kernel built natively, where its headers and a compiler are installed. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import path from 'node:path';

import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import { distance } from '#core/vector';
import { firstExercises } from '#demo/exercises';
import { loadKernel, useBaselineCompiler } from '#runtime';

import { median, ms, printTable, timed } from './statistics.ts';

const RUNS = 10;
const LIBRARIES = [
  'TKSTEP',
  'TKSTEPBase',
  'TKXSBase',
  'TKTopAlgo',
  'TKBRep',
  'TKGeomBase',
  'TKG3d',
  'TKMath',
  'TKernel',
];

interface Native {
  readonly importMs: number;
  readonly massMs: number;
  readonly volumeMm3: number;
  readonly areaMm2: number;
  readonly centroidMm: readonly [number, number, number];
  readonly momentsMm5: readonly [number, number, number];
}

/** Compiles the native program into a folder; null, with the reason printed, where that is not possible. */
function compiled(folder: string): string | null {
  const program = path.join(folder, 'occt');
  try {
    execFileSync(
      'g++',
      ['-O2', '-w', '-I/usr/include/opencascade', 'bench/native/occt.cpp', '-o', program].concat(
        LIBRARIES.map((name) => `-l${name}`),
      ),
      { stdio: ['ignore', 'ignore', 'pipe'] },
    );
    return program;
  } catch {
    process.stdout.write(
      '\nNo native kernel to compare with. On Debian: apt-get install g++ libocct-data-exchange-dev libocct-modeling-algorithms-dev\n',
    );
    return null;
  }
}

function testFiles(): { readonly name: string; readonly bytes: Uint8Array }[] {
  const root = path.join(path.dirname(createRequire(import.meta.url).resolve('occt-import-js/package.json')), 'test');
  return readdirSync(root, { recursive: true })
    .map(String)
    .filter((name) => /\.(stp|step)$/i.test(name))
    .filter((name, i, all) => all.findIndex((other) => path.basename(other) === path.basename(name)) === i)
    .map((name) => ({ name: path.basename(name), bytes: new Uint8Array(readFileSync(path.join(root, name))) }));
}

/** Prints ratios of times and relative differences of the results to the native kernel. */
export async function benchNative(): Promise<void> {
  const folder = mkdtempSync(path.join(tmpdir(), 'zorvet-native-'));
  try {
    const program = compiled(folder);
    if (program === null) return;
    useBaselineCompiler();
    const kernel = await loadKernel();
    const models = firstExercises.map((exercise) => {
      const { shape } = unwrap(buildRecipe(kernel, exercise.recipe));
      const bytes = kernel.writeStep(shape, exercise.recipe.unit, exercise.title);
      shape.free();
      return { name: exercise.title, bytes };
    });
    const rows = [...models, ...testFiles()].flatMap(({ name, bytes }) => {
      const read = kernel.readStep(bytes);
      if (!read.ok) return [];
      const { shape } = read.value;
      const file = path.join(folder, 'model.step');
      writeFileSync(file, bytes);
      const native = JSON.parse(
        execFileSync(program, [String(RUNS), file], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] }),
      ) as Native;
      const own = kernel.massProperties(shape);
      const importMs = median(timed(() => unwrap(kernel.readStep(bytes)).shape.free(), RUNS, 2));
      const massMs = median(timed(() => kernel.massProperties(shape), RUNS, 2));
      shape.free();
      const sizeMm = Math.cbrt(Math.abs(native.volumeMm3));
      const relative = (a: number, b: number) => Math.abs(a - b) / Math.abs(b);
      return [
        {
          name,
          kilobytes: bytes.length / 1024,
          imports: [importMs, native.importMs] as const,
          masses: [massMs, native.massMs] as const,
          errors: {
            volume: relative(own.volumeMm3, native.volumeMm3),
            area: relative(own.areaMm2, native.areaMm2),
            centroid: distance(own.centroidMm, native.centroidMm) / sizeMm,
            moments: Math.max(
              ...native.momentsMm5.map((moment, i) => relative(own.inertiaMm5[i as 0 | 1 | 2][i as 0 | 1 | 2], moment)),
            ),
          },
        },
      ];
    });
    const compare = ([own, native]: readonly [number, number]) =>
      `${ms(own)} / ${ms(native)} (${(own / native).toFixed(2)})`;
    printTable(
      `Beside the kernel built natively: medians of ${String(RUNS)} in ms, own / native (ratio), and relative differences`,
      ['model', 'KB', 'STEP import', 'mass properties', 'volume', 'area', 'center', 'moments'],
      rows.map(({ name, kilobytes, imports, masses, errors }) => [
        name,
        kilobytes.toFixed(0),
        compare(imports),
        compare(masses),
        ...Object.values(errors).map((error) => error.toExponential(0)),
      ]),
    );
    const ratios = (pick: (row: (typeof rows)[number]) => readonly [number, number]) =>
      rows.map((row) => pick(row)[0] / pick(row)[1]);
    printTable(
      'Ratios over all models',
      ['what', 'median', 'worst'],
      [
        ['STEP import', ...spread(ratios((row) => row.imports))],
        ['mass properties', ...spread(ratios((row) => row.masses))],
      ],
    );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const spread = (values: readonly number[]): [string, string] => [
  median(values).toFixed(2),
  Math.max(...values).toFixed(2),
];
