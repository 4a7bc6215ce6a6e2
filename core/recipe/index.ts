/** Parametric parts: schema, evaluation, and the build of a recipe with the kernel. */
export {
  AxisSchema,
  PlaneSchema,
  RECIPE_VERSION,
  RecipeSchema,
  StepSchema,
  SurfaceNameSchema,
  type AxisReference,
  type EdgeSelector,
  type Extent,
  type Mode,
  type Operation,
  type Parameter,
  type PlaneReference,
  type Recipe,
  type Step,
  type StepOf,
} from './schema.ts';
export {
  buildRecipe,
  RecipeBuilder,
  stringsIn,
  type Built,
  type NamedSurfaces,
  type Start,
  type Unfinished,
} from './build.ts';
export { basePlane, planeAt, planeOn } from './planes.ts';
export { describeOutline, describePlane, describeStep, OPERATION_NAMES } from './describe.ts';
export type { Thread } from './context.ts';
export { StepValues, withValues, type ParameterValues } from './values.ts';
export { pitchOf, threadLines } from './thread-lines.ts';
export { facesOn, sameSurface } from './surfaces.ts';
