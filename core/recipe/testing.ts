/** Recipes for tests: a plate of 60 x 30 x 10 with steps after it, and what it gives. */
import * as v from 'valibot';

import type { Kernel } from '#core/kernel';
import type { MassProperties } from '#core/solid';

import { buildRecipe, facesOn, RECIPE_VERSION, RecipeSchema, type Recipe } from './index.ts';

export const PLATE_MM3 = 60 * 30 * 10;

const PLATE = {
  id: 'base',
  label: 'Plate',
  op: 'extrude',
  mode: 'add',
  plane: { base: 'XY' },
  outlines: [{ shape: 'rectangle', center: ['0', '0'], width: 'A', height: 'B' }],
  extent: { kind: 'depth', depth: '10' },
};

/** A recipe of these steps alone. */
export const recipeOf = (steps: readonly unknown[], parameters: readonly unknown[] = []): Recipe =>
  v.parse(RecipeSchema, {
    format: 'zorvet-recipe',
    version: RECIPE_VERSION,
    name: 'Part',
    unit: 'mm',
    parameters,
    steps,
  });

export const onPlate = (...steps: readonly unknown[]): Recipe =>
  recipeOf(
    [PLATE, ...steps],
    [
      { name: 'A', value: '60' },
      { name: 'B', value: 'A/2' },
    ],
  );

/** Builds, measures and frees. Throws the sentence of the problem. */
export function measured(kernel: Kernel, recipe: Recipe): MassProperties & { readonly lost: readonly string[] } {
  const built = buildRecipe(kernel, recipe);
  if (!built.ok) throw new Error(built.problem.message);
  const { shape, surfaces } = built.value;
  try {
    const { faces } = kernel.tables(shape);
    return {
      ...kernel.massProperties(shape),
      lost: [...surfaces].filter(([, surface]) => facesOn(faces, surface).length === 0).map(([name]) => name),
    };
  } finally {
    shape.free();
  }
}

/** The problem of a recipe that cannot be built. */
export function problemOf(kernel: Kernel, recipe: Recipe): { readonly code: string; readonly message: string } {
  const built = buildRecipe(kernel, recipe);
  if (!built.ok) return built.problem;
  built.value.shape.free();
  throw new Error('it was built');
}
