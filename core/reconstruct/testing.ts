/** Parts for tests: what is recognized in the STEP file of a recipe. */
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import type { DrawingUnit } from '#core/quantity';
import { buildRecipe, RecipeBuilder, type Step } from '#core/recipe';

import { reconstruct, stretchedRecipe, stretchedStart, type Stretch } from './index.ts';
import { recipeOf } from './reconstruct.ts';

const SOURCE = { format: 'step', declaredUnit: 'mm', productName: null, originatingSystem: null } as const;

/** The steps that are recognized, and the volumes of the part as read, of what is left, and of what is made of it again. */
export function takenApart(kernel: Kernel, steps: readonly Step[], unit: DrawingUnit = 'mm') {
  const built = unwrap(buildRecipe(kernel, recipeOf(unit, steps)));
  const { shape } = unwrap(kernel.readStep(kernel.writeStep(built.shape, unit, 'part')));
  built.shape.free();
  const read = unwrap(kernel.analyze(shape, SOURCE));
  const made = reconstruct(kernel, shape, read, unit);
  shape.free();
  const builder = new RecipeBuilder(kernel, made.start);
  const again = unwrap(builder.build(recipeOf(unit, made.steps)));
  const volumes = [made.start.body, again.shape].map((body) => kernel.massProperties(body).volumeMm3);
  again.shape.free();
  builder.free();
  return { ...made, readMm3: read.massProperties.volumeMm3, leftMm3: volumes[0] ?? 0, againMm3: volumes[1] ?? 0 };
}

/** Mass properties of a part that is taken apart, stretched, and built again. */
export function stretched(kernel: Kernel, steps: readonly Step[], stretch: Stretch) {
  const { start, steps: made } = takenApart(kernel, steps);
  const at = stretchedStart(kernel, start, stretch);
  const builder = new RecipeBuilder(kernel, at);
  const { shape } = unwrap(builder.build(stretchedRecipe(recipeOf('mm', made), start.surfaces, stretch)));
  const properties = kernel.massProperties(shape);
  shape.free();
  builder.free();
  at.body.free();
  return properties;
}
