/** Parametric parts: operations, schema, evaluation, and the build of a recipe with the kernel. */
export {
  AxisSchema,
  PlaneSchema,
  SurfaceNameSchema,
  type AxisReference,
  type EdgeSelector,
  type Extent,
  type Mode,
  type PlaneReference,
} from './entries.ts';
export {
  operationOf,
  OPERATIONS,
  StepSchema,
  type AnyOperation,
  type Operation,
  type Step,
  type StepOf,
} from './operations/index.ts';
export type { Effect, PlacedMember, Repeat, StepExtent, StepMistake } from './operation.ts';
export type { NumberRole } from './numbers.ts';
export {
  angle,
  axisOrLine,
  choice,
  count,
  kindOfValue,
  length,
  SKIP,
  type Choice,
  type Field,
  type FieldPath,
} from './form.ts';
export { getIn, setIn } from './path.ts';
export { isJsonObject, migrateRecipe, renamedSurfaces, type Json } from './migrate.ts';
export { RECIPE_VERSION, RecipeSchema, type Parameter, type Recipe } from './schema.ts';
export { BuildRuleSchema, type BuildRule } from './rule.ts';
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
export { describeOutline, describePlane } from './words.ts';
export { describeStep, operationName, outlinesIn } from './ask.ts';
export type { Thread } from './context.ts';
export { StepValues, withValues, type ParameterValues } from './values.ts';
export { pitchOf, threadLines } from './thread-lines.ts';
export { facesOn, sameSurface } from './surfaces.ts';
export { labelOf, stepOfSurface, surfaceLabel, surfaceWords } from './surface-words.ts';
