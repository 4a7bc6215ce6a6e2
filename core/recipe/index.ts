/** Parametric parts: schema, evaluation, and the build of a recipe with the kernel. */
export { RecipeSchema, StepSchema, ExpressionSchema, SurfaceNameSchema, type Recipe, type Step } from './schema.ts';
export { buildRecipe, withValues, type Built, type NamedSurfaces, type ParameterValues } from './build.ts';
export { circleCenter } from './outline.ts';
export { facesOn, sameSurface } from './surfaces.ts';
