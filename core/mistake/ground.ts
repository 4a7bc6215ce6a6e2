import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { detectFormat } from '#core/model';
import { attempt, unwrap, type Result } from '#core/problem';
import { reconstruct, stretchedRecipe, stretchedStart, type Stretch } from '#core/reconstruct';
import { RecipeBuilder, type Built, type Recipe, type Start } from '#core/recipe';

import { drivenSizes, type DrivenSize } from './driven.ts';

/** What mistakes are made in: an exercise with the steps of its part, and what its parts are built with. */
export interface Ground {
  /** The whole document; of a part that was read from a file, with the steps that were recognized in it. */
  readonly exercise: Exercise;
  readonly builder: RecipeBuilder;
  /** What a part that was read from a file begins with. */
  readonly start: Start | null;
  readonly sizes: readonly DrivenSize[];
  /** Bytes of the model file, for a part that was read from one. */
  readonly model: Uint8Array | undefined;
  /** Frees everything that it keeps. */
  free(): void;
}

const SOURCE = { format: 'step', declaredUnit: 'mm', productName: null, originatingSystem: null } as const;

/**
 * The ground of an exercise. A part in exact surfaces that was read from a file is taken apart into steps; triangles have
 * none, and no mistakes then. Raises the problems of reading files.
 */
export function groundOf(kernel: Kernel, document: Exercise, model?: Uint8Array): Ground {
  const { model: file, recipe } = document;
  if (file === undefined || model === undefined || detectFormat(model, file.fileName) !== 'step') {
    const builder = new RecipeBuilder(kernel);
    return {
      exercise: document,
      builder,
      start: null,
      sizes: [],
      model,
      free: () => {
        builder.free();
      },
    };
  }
  const { shape } = unwrap(kernel.readStep(model));
  try {
    const solid = unwrap(kernel.analyze(shape, SOURCE));
    const { start, steps, solid: body, free } = reconstruct(kernel, shape, solid, recipe.unit);
    const builder = new RecipeBuilder(kernel, start);
    const exercise = { ...document, recipe: { ...recipe, steps } };
    return {
      exercise,
      builder,
      start,
      sizes: drivenSizes(exercise, solid, body, start.surfaces),
      model,
      free: () => {
        builder.free();
        free();
      },
    };
  } finally {
    shape.free();
  }
}

/** Builds a part on its ground, stretched first where that is asked for. Refuses as building does; the caller frees the shape. */
export function buildOn(
  kernel: Kernel,
  { builder, start }: Ground,
  recipe: Recipe,
  stretches: readonly Stretch[],
): Result<Built> {
  if (start === null || stretches.length === 0) return builder.build(recipe);
  return attempt(() => {
    let [at, steps]: [Start, Recipe] = [start, recipe];
    try {
      for (const stretch of stretches) {
        steps = stretchedRecipe(steps, at.surfaces, stretch);
        const next = stretchedStart(kernel, at, stretch);
        if (at !== start) at.body.free();
        at = next;
      }
      const own = new RecipeBuilder(kernel, at);
      try {
        return unwrap(own.build(steps));
      } finally {
        own.free();
      }
    } finally {
      if (at !== start) at.body.free();
    }
  });
}
