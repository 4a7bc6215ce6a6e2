/** Times of the core for a warm kernel, as a worker has it. */
import { gradeFile, prepareExercise } from '#core/attempt';
import { measureSubmission } from '#core/check';
import { findFeatures } from '#core/feature';
import { gradeMeasurement } from '#core/grade';
import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import { firstExercises } from '#demo/exercises';
import { modelLikeStudent } from '#demo/workbench';
import { loadKernel, loadOverlayer, useBaselineCompiler } from '#runtime';

import { median, ms, printTable, timed } from './statistics.ts';

const RUNS = 20;

/** Prints a table: one row a stage, one column a part, medians in ms; in parentheses the ratio to the import. */
export async function benchCore(): Promise<void> {
  useBaselineCompiler();
  const kernel = await loadKernel();
  const overlayer = await loadOverlayer();
  const columns = firstExercises.map((exercise) => {
    const { reference } = unwrap(prepareExercise(kernel, exercise));
    const { step, typed } = unwrap(
      modelLikeStudent(kernel, exercise, { kind: 'radius-for-diameter', step: 'bolts', hole: 1 }),
    );
    const { shape, source } = unwrap(kernel.readStep(step));
    const solid = unwrap(kernel.analyze(shape, source));
    const measurement = measureSubmission(reference, solid);
    const stages: readonly (readonly [string, () => void])[] = [
      ['STEP import', () => unwrap(kernel.readStep(step)).shape.free()],
      ['mass properties', () => kernel.massProperties(shape)],
      ['meshing', () => kernel.displayMesh(shape)],
      ['whole analysis', () => unwrap(kernel.analyze(shape, source))],
      ['matching and measuring', () => measureSubmission(reference, solid)],
      ['scoring and causes', () => gradeMeasurement(reference, measurement, { typed, policy: exercise.scoring })],
      ['recognizing features', () => findFeatures({ ...solid })],
      [
        'missing and extra material',
        () => unwrap(overlayer.compare(reference.solid, solid, measurement.frame.placement)),
      ],
      [
        'whole attempt',
        () => unwrap(gradeFile(kernel, reference, { bytes: step, typed, policy: exercise.scoring }, { overlayer })),
      ],
      ['rebuild of the recipe', () => unwrap(buildRecipe(kernel, exercise.recipe)).shape.free()],
      ['reference and sheet', () => unwrap(prepareExercise(kernel, exercise))],
    ];
    const times = stages.map(([name, work]) => ({ name, time: median(timed(work, RUNS)) }));
    shape.free();
    return { title: exercise.title, faces: solid.faces.length, kilobytes: step.length / 1024, times };
  });
  const rows = (columns[0]?.times ?? []).map(({ name }, i) => [
    name,
    ...columns.map(({ times }) => {
      const [time, baseline] = [times[i]?.time ?? Number.NaN, times[0]?.time ?? Number.NaN];
      return `${ms(time)} (${(time / baseline).toFixed(2)})`;
    }),
  ]);
  printTable(
    `Core, warm kernel: median of ${String(RUNS)} runs in ms (ratio to the STEP import of the same part)`,
    ['stage', ...columns.map(({ title }) => title)],
    [
      ['faces / file', ...columns.map(({ faces, kilobytes }) => `${String(faces)} / ${kilobytes.toFixed(0)} KB`)],
      ...rows,
    ],
  );
}
