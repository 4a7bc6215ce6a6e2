import { applyEdits, numericArgumentsOf, type NumericArgument } from '#core/mistake';
import { attempt, unwrap } from '#core/problem';
import { LENGTH_UNITS, type Scope } from '#core/quantity';
import { RecipeBuilder, type NamedSurfaces, type ParameterValues, type Recipe } from '#core/recipe';
import type { Kernel } from '#core/kernel';
import { RECIPE_SOURCE, type Solid } from '#core/solid';

/** A number of the recipe that can be another one, and by how much it is varied: in the drawing unit, or degrees. */
export interface Variable {
  readonly argument: NumericArgument;
  readonly step: number;
}

/** Numbers of the recipe that change together, each by how many of its steps. */
export type Changes = readonly { readonly variable: Variable; readonly steps: number }[];

/** A part that was built with some numbers varied. */
export interface VariedPart {
  readonly solid: Solid;
  readonly surfaces: NamedSurfaces;
}

/** Small beside every feature, large beside what the kernel and arithmetic leave. */
const LENGTH_STEP_MM = 0.05;
const ANGLE_STEP_DEG = 0.1;
/** Fine enough for finding points on faces. */
const COARSE = { toleranceMm: 0.3, angleRad: 0.6 } as const;

/** The numbers of the steps that are on. */
export function variablesOf(recipe: Recipe, scope: Scope): readonly Variable[] {
  const unitMm = LENGTH_UNITS[recipe.unit];
  return numericArgumentsOf(recipe, scope).map((argument) => ({
    argument,
    step: argument.role === 'count' ? 1 : argument.role === 'angle' ? ANGLE_STEP_DEG : LENGTH_STEP_MM / unitMm,
  }));
}

/** Builds a part with some of its numbers varied; what earlier variations have in common is kept. */
export class Variations {
  private readonly kernel: Kernel;
  private readonly builder: RecipeBuilder;
  private readonly recipe: Recipe;
  private readonly values: ParameterValues;

  constructor(kernel: Kernel, recipe: Recipe, values: ParameterValues = {}) {
    this.kernel = kernel;
    this.builder = new RecipeBuilder(kernel);
    this.recipe = recipe;
    this.values = values;
  }

  /** The part with each variable changed by a number of its steps; null where there is no such part. */
  with(changes: Changes): VariedPart | null {
    const edits = changes.map(({ variable: { argument, step }, steps }) => ({
      kind: 'set' as const,
      stepId: argument.stepId,
      path: argument.path,
      value: String(argument.value + steps * step),
    }));
    const edited = applyEdits(this.recipe, edits);
    return edited.ok ? this.built(edited.value, this.values) : null;
  }

  /** The part with other values of its letters; null where there is no such part. */
  withLetters(values: ParameterValues): (VariedPart & { readonly scope: Scope }) | null {
    return this.built(this.recipe, { ...this.values, ...values });
  }

  private built(recipe: Recipe, values: ParameterValues): (VariedPart & { readonly scope: Scope }) | null {
    const made = attempt(() => {
      const { shape, surfaces, scope } = unwrap(this.builder.build(recipe, values));
      try {
        return { solid: unwrap(this.kernel.analyze(shape, RECIPE_SOURCE, COARSE)), surfaces, scope };
      } finally {
        shape.free();
      }
    });
    return made.ok ? made.value : null;
  }

  free(): void {
    this.builder.free();
  }
}
