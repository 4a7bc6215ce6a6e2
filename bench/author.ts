/** What authoring costs: building a part, building it again after a change, finding variants. */
import { unwrap } from '#core/problem';
import { RecipeBuilder, type Recipe, type Step } from '#core/recipe';
import { generateVariants } from '#core/variant';
import { demoExercises, pumpCoverExercise } from '#demo/exercises';
import { loadKernel, useBaselineCompiler } from '#runtime';

import { median, ms, printTable, timed } from './statistics.ts';

const RUNS = 10;
const VARIANTS = 30;

/** The recipe with one number of its last step a little larger, another one each time. */
function lastChanged(recipe: Recipe, turn: number): Recipe {
  const last = recipe.steps.at(-1);
  if (last === undefined) return recipe;
  const grown = JSON.stringify(last).replace(
    /"(\d[\d ./]*)"/,
    (_, number: string) => `"(${number}) + ${String(turn / 100_000)}"`,
  );
  return { ...recipe, steps: [...recipe.steps.slice(0, -1), JSON.parse(grown) as Step] };
}

/** Prints medians in ms for every demo part, and the time of thirty variants. */
export async function benchAuthor(): Promise<void> {
  useBaselineCompiler();
  const kernel = await loadKernel();
  const rows = demoExercises.map(({ title, recipe }) => {
    const whole = median(
      timed(
        () => {
          const builder = new RecipeBuilder(kernel);
          unwrap(builder.build(recipe)).shape.free();
          builder.free();
        },
        RUNS,
        2,
      ),
    );
    const builder = new RecipeBuilder(kernel);
    let turn = 0;
    const last = median(
      timed(
        () => {
          const built = builder.build(lastChanged(recipe, ++turn));
          if (built.ok) built.value.shape.free();
        },
        RUNS,
        2,
      ),
    );
    const { shape } = unwrap(builder.build(recipe));
    const shown = median(
      timed(
        () => {
          kernel.displayMesh(shape);
          kernel.massProperties(shape);
        },
        RUNS,
        2,
      ),
    );
    shape.free();
    builder.free();
    return [title, String(recipe.steps.length), ms(whole), `${ms(last)} (${(last / whole).toFixed(2)})`, ms(shown)];
  });
  printTable(
    `Authoring, warm kernel: medians of ${String(RUNS)} in ms (ratio to the whole)`,
    ['part', 'steps', 'whole', 'last step changed', 'mesh and mass'],
    rows,
  );
  const builder = new RecipeBuilder(kernel);
  const start = performance.now();
  const { variants } = unwrap(
    generateVariants(kernel, builder, pumpCoverExercise, {
      ranges: [
        { name: 'A', from: 90, to: 160, step: 1 },
        { name: 'B', from: 4, to: 12, step: 0.25 },
        { name: 'C', from: 18, to: 32, step: 0.5 },
      ],
      wanted: VARIANTS,
      seed: 5,
    }),
  );
  builder.free();
  printTable(
    `${String(VARIANTS)} variants of the bilge-pump cover, built and compared`,
    ['found', 's'],
    [[String(variants.length), ((performance.now() - start) / 1000).toFixed(1)]],
  );
}
