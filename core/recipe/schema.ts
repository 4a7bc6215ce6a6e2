import * as v from 'valibot';

import { DrawingUnitSchema, ExpressionSchema } from '#core/quantity';

import { StepSchema } from './operations/index.ts';

const ParameterSchema = v.strictObject({
  name: v.pipe(v.string(), v.regex(/^[A-Za-z][A-Za-z0-9_]{0,19}$/)),
  value: ExpressionSchema,
  label: v.optional(v.pipe(v.string(), v.maxLength(80))),
});
export type Parameter = v.InferOutput<typeof ParameterSchema>;

export const RECIPE_VERSION = 3;
export const RecipeSchema = v.pipe(
  v.strictObject({
    format: v.literal('zorvet-recipe'),
    version: v.literal(RECIPE_VERSION),
    name: v.pipe(v.string(), v.minLength(1), v.maxLength(80)),
    unit: DrawingUnitSchema,
    parameters: v.pipe(v.array(ParameterSchema), v.maxLength(60), v.readonly()),
    steps: v.pipe(v.array(StepSchema), v.maxLength(100), v.readonly()),
  }),
  v.check((recipe) => new Set(recipe.steps.map((step) => step.id)).size === recipe.steps.length, 'step ids repeat'),
  v.check(
    (recipe) => new Set(recipe.parameters.map(({ name }) => name)).size === recipe.parameters.length,
    'parameter names repeat',
  ),
  v.readonly(),
);
/** How a part is built: parameters and build steps. */
export type Recipe = v.InferOutput<typeof RecipeSchema>;
