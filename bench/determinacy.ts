/** What it costs to know whether a sheet determines its part: the variations once, and an answer after each change of the plan. */
import { DeterminacyStudy, openSizesOf } from '#core/determinacy';
import { openPart } from '#core/model';
import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import { demoExercises } from '#demo/exercises';
import { loadKernel, useBaselineCompiler } from '#runtime';

import { median, ms, printTable, timed } from './statistics.ts';

const RUNS = 3;

/** Prints, for every demo part, the time of the study beside that of one whole build, and what sheet and plan leave open. */
export async function benchDeterminacy(): Promise<void> {
  useBaselineCompiler();
  const kernel = await loadKernel();
  const rows = demoExercises.map((exercise) => {
    const basis = openPart(kernel, exercise);
    const build = median(timed(() => unwrap(buildRecipe(kernel, exercise.recipe)).shape.free(), RUNS, 1));
    const study = new DeterminacyStudy(kernel, basis);
    const begun = performance.now();
    const varied = [...study.build()].length;
    const variations = performance.now() - begun;
    const first = performance.now();
    const open = openSizesOf(study, basis);
    const answered = performance.now() - first;
    const again = median(timed(() => openSizesOf(study, basis), RUNS, 0));
    study.free();
    return [
      exercise.title,
      String(varied),
      ms(build),
      ms(variations),
      `${(variations / build).toFixed(0)} x`,
      ms(answered),
      ms(again),
      String(open.undetermined.length),
      String(open.unchecked.length),
    ];
  });
  printTable(
    'Determinacy',
    ['part', 'varied', 'build', 'variations', 'to build', 'first answer', 'next', 'not said', 'not checked'],
    rows,
  );
}
