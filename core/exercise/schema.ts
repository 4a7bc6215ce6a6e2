import * as v from 'valibot';

import { FEATURE_KINDS } from '#core/feature';
import { ExpressionSchema, LengthUnitSchema } from '#core/quantity';
import { RecipeSchema, SurfaceNameSchema } from '#core/recipe';

import { SheetSettingsSchema } from './sheet.ts';

const IdSchema = v.pipe(v.string(), v.regex(/^[a-z][a-z0-9-]{0,39}$/));
const LabelSchema = v.pipe(v.string(), v.minLength(1), v.maxLength(80));

export const CHECK_GROUPS = ['dimensions', 'features', 'properties', 'hygiene'] as const;
export type CheckGroup = (typeof CHECK_GROUPS)[number];

/** In the drawing unit; degrees for angles. */
const ToleranceSchema = v.union([
  ExpressionSchema,
  v.strictObject({ upper: ExpressionSchema, lower: ExpressionSchema }),
]);
export type Tolerance = v.InferOutput<typeof ToleranceSchema>;

const common = {
  id: IdSchema,
  label: LabelSchema,
  /** Share of the score, relative to the other checks. */
  weight: v.pipe(v.number(), v.minValue(0), v.maxValue(1000)),
  /** A check that is switched off is neither measured nor drawn. */
  off: v.optional(v.boolean()),
  /** The group that the check is shown and weighed in, where it is not that of its kind. */
  group: v.optional(v.picklist(CHECK_GROUPS)),
  /** The stage, from 2, with which the check begins; where nothing is said, it holds in all. */
  fromStage: v.optional(v.pipe(v.number(), v.integer(), v.minValue(2), v.maxValue(5))),
};
const sized = {
  ...common,
  nominal: ExpressionSchema,
  /** Allowed deviation in the drawing unit: to both sides, or separately up and down (both as signed deviations). */
  tolerance: ToleranceSchema,
  /** Id of the view of the sheet that it is written in; the sheet chooses when it is not said. */
  view: v.optional(v.pipe(v.string(), v.maxLength(20))),
  /** Text before the value on the sheet, such as "4 x". */
  prefix: v.optional(v.pipe(v.string(), v.maxLength(20))),
  /** False when another dimension of the sheet already says it. */
  onSheet: v.optional(v.boolean()),
};
const angular = {
  ...common,
  /** In degrees. */
  nominal: ExpressionSchema,
  tolerance: ToleranceSchema,
};
const located = {
  ...common,
  /** In the drawing unit. */
  tolerance: ExpressionSchema,
};
const AxisNameSchema = v.picklist(['x', 'y', 'z']);
export const HOLE_SIZES = ['depth', 'counterbore-diameter', 'counterbore-depth', 'countersink-diameter'] as const;
export const HoleSizeSchema = v.picklist(HOLE_SIZES);
const relative = {
  ...common,
  /** Allowed deviation in percent of the reference. */
  tolerancePercent: v.pipe(v.number(), v.minValue(0.0001), v.maxValue(50)),
};

const SurfaceNamesSchema = v.pipe(v.array(SurfaceNameSchema), v.minLength(1), v.maxLength(100), v.readonly());

export const CheckSchema = v.variant('kind', [
  /** Between two parallel flat surfaces. */
  v.strictObject({ ...sized, kind: v.literal('distance'), from: SurfaceNameSchema, to: SurfaceNameSchema }),
  /** Of holes or shafts that share one dimension; the worst of them counts. */
  v.strictObject({ ...sized, kind: v.literal('diameter'), of: SurfaceNamesSchema }),
  /** Of rounds that share one dimension; the worst of them counts. */
  v.strictObject({ ...sized, kind: v.literal('radius'), of: SurfaceNamesSchema }),
  /** From a flat surface to the axis of a hole or shaft. */
  v.strictObject({ ...sized, kind: v.literal('hole-position'), of: SurfaceNameSchema, from: SurfaceNameSchema }),
  /** Between two parallel axes; with `along`, as it is seen along that axis of the part. */
  v.strictObject({
    ...sized,
    kind: v.literal('center-distance'),
    from: SurfaceNameSchema,
    to: SurfaceNameSchema,
    along: v.optional(AxisNameSchema),
  }),
  /** Of a wall between two flat surfaces that look away from each other. */
  v.strictObject({ ...sized, kind: v.literal('thickness'), from: SurfaceNameSchema, to: SurfaceNameSchema }),
  /** Degrees between two surfaces: normals of flat ones, axes of round ones. */
  v.strictObject({ ...angular, kind: v.literal('angle'), from: SurfaceNameSchema, to: SurfaceNameSchema }),
  /** A size of the hole whose wall is named. */
  v.strictObject({ ...sized, kind: v.literal('hole-size'), of: SurfaceNameSchema, size: HoleSizeSchema }),
  /** Whole angle of the countersink of the hole whose wall is named, in degrees. */
  v.strictObject({ ...angular, kind: v.literal('countersink-angle'), of: SurfaceNameSchema }),
  /** What the chamfer between two surfaces takes off the first of them. */
  v.strictObject({ ...sized, kind: v.literal('chamfer-size'), on: SurfaceNameSchema, to: SurfaceNameSchema }),
  /** Of the circle through the axes of holes. */
  v.strictObject({ ...sized, kind: v.literal('bolt-circle'), of: SurfaceNamesSchema }),
  /** Distance between two axes that should be one. */
  v.strictObject({ ...located, kind: v.literal('concentric'), from: SurfaceNameSchema, to: SurfaceNameSchema }),
  /** Step between two flat surfaces that should lie in one plane. */
  v.strictObject({ ...located, kind: v.literal('flush'), from: SurfaceNameSchema, to: SurfaceNameSchema }),
  /** Largest extent of the part along an axis of its own frame. */
  v.strictObject({ ...sized, kind: v.literal('overall-size'), axis: AxisNameSchema }),
  /** Number of holes with the diameter of a named one. */
  v.strictObject({ ...common, kind: v.literal('hole-count'), like: SurfaceNameSchema, nominal: ExpressionSchema }),
  /** Number of features of a kind on the whole part. */
  v.strictObject({
    ...common,
    kind: v.literal('feature-count'),
    feature: v.picklist(FEATURE_KINDS),
    nominal: ExpressionSchema,
  }),
  /** Whether the feature that a surface belongs to is there at all. */
  v.strictObject({ ...common, kind: v.literal('presence'), of: SurfaceNameSchema }),
  /** Whether the part is symmetric about the plane through its center of mass that is square to an axis of the part. */
  v.strictObject({ ...common, kind: v.literal('symmetric'), axis: AxisNameSchema }),
  v.strictObject({ ...relative, kind: v.literal('principal-moments') }),
  v.strictObject({ ...relative, kind: v.literal('volume') }),
  v.strictObject({ ...relative, kind: v.literal('area') }),
  v.strictObject({ ...relative, kind: v.literal('mass') }),
  /** In the frame of the part as the file has it; tolerance in the drawing unit, as a distance. */
  v.strictObject({ ...common, kind: v.literal('center-of-mass'), tolerance: ExpressionSchema }),
  v.strictObject({ ...common, kind: v.literal('single-body') }),
  /** No face is cut in two without need, none is a sliver. */
  v.strictObject({ ...common, kind: v.literal('no-needless-edges') }),
  /** The lengths are those of the drawing, whatever unit the file states. */
  v.strictObject({ ...common, kind: v.literal('unit') }),
  /** The part lies where the sheet puts it. With this check, the center of mass is judged in the frame of the part. */
  v.strictObject({ ...common, kind: v.literal('frame') }),
  /** The typed mass and the volume of the file give the density of the exercise's material. */
  v.strictObject({ ...relative, kind: v.literal('material') }),
]);
/** One thing that is measured and judged; a dimension is also drawn on the sheet, under the same id. */
export type Check = Readonly<v.InferOutput<typeof CheckSchema>>;
export type CheckKind = Check['kind'];

/** Whether a check that is a dimension stands on the sheet. */
export const isOnSheet = (check: Check): boolean =>
  check.off !== true && !('onSheet' in check && check.onSheet === false);

/** Checks that are dimensions of the sheet. */
export type DimensionCheck = Exclude<
  Extract<Check, { nominal: string; tolerance: Tolerance }>,
  { kind: 'angle' | 'countersink-angle' }
>;

export const isDimension = (check: Check): check is DimensionCheck =>
  'nominal' in check && 'tolerance' in check && check.kind !== 'angle' && check.kind !== 'countersink-angle';

/** Every kind of check. */
export const CHECK_KINDS = CheckSchema.options.map(({ entries }) => entries.kind.literal);

export const groupOf = (kind: CheckKind): CheckGroup => {
  switch (kind) {
    case 'distance':
    case 'overall-size':
    case 'hole-position':
    case 'center-distance':
    case 'diameter':
    case 'radius':
    case 'thickness':
    case 'angle':
    case 'hole-size':
    case 'countersink-angle':
    case 'chamfer-size':
    case 'bolt-circle':
    case 'concentric':
    case 'flush':
      return 'dimensions';
    case 'hole-count':
    case 'feature-count':
    case 'presence':
    case 'symmetric':
      return 'features';
    case 'volume':
    case 'area':
    case 'mass':
    case 'center-of-mass':
    case 'principal-moments':
    case 'material':
      return 'properties';
    case 'single-body':
    case 'no-needless-edges':
    case 'unit':
    case 'frame':
      return 'hygiene';
  }
};

/** Whether a check that fails says where something is wrong: a dimension or a feature, rather than the part as a whole. */
export const saysWhere = ({ kind }: Pick<Check, 'kind'>): boolean =>
  groupOf(kind) === 'dimensions' || groupOf(kind) === 'features';

export const TYPED_VALUES = ['mass', 'volume', 'x', 'y', 'z'] as const;
export const TypedValueNameSchema = v.picklist(TYPED_VALUES);
/** Numbers that a student reads off the model: mass, volume, and the center of mass. */
export type TypedValueName = v.InferOutput<typeof TypedValueNameSchema>;

/** The material with the density that this exercise uses: the same name differs between programs. */
export const ExerciseMaterialSchema = v.strictObject({
  id: IdSchema,
  name: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(60)),
  densityGPerCm3: v.pipe(v.number(), v.minValue(0.01), v.maxValue(30)),
  /** Where the density comes from. */
  source: v.pipe(v.string(), v.maxLength(120)),
});
export type ExerciseMaterial = Readonly<v.InferOutput<typeof ExerciseMaterialSchema>>;

/** Values of letters; letters that are not named keep that of the recipe. */
const ValuesSchema = v.record(v.pipe(v.string(), v.regex(/^[A-Za-z][A-Za-z0-9_]{0,19}$/)), ExpressionSchema);
const VariantSchema = v.strictObject({
  name: v.pipe(v.string(), v.minLength(1), v.maxLength(20)),
  values: ValuesSchema,
});
export type Variant = Readonly<v.InferOutput<typeof VariantSchema>>;

/** The same part again with changed letters or more steps, asked for after the one before. */
const StageSchema = v.strictObject({
  title: LabelSchema,
  brief: v.pipe(v.string(), v.maxLength(500)),
  values: ValuesSchema,
  /** Steps that are switched off in the part and that this stage, and those after it, add. */
  adds: v.optional(v.pipe(v.array(v.string()), v.maxLength(60), v.readonly())),
});
export type ExerciseStage = Readonly<v.InferOutput<typeof StageSchema>>;

/** A model file that is the reference in place of a recipe. */
export const ModelFileSchema = v.strictObject({
  sha256: v.pipe(v.string(), v.regex(/^[0-9a-f]{64}$/)),
  fileName: v.pipe(v.string(), v.minLength(1), v.maxLength(120)),
  /** What its numbers are in, as the author confirmed; null until then. */
  unit: v.nullable(LengthUnitSchema),
});
export type ModelFile = Readonly<v.InferOutput<typeof ModelFileSchema>>;

export const OPERATIONS = [
  'extrude',
  'revolve',
  'hole',
  'fillet',
  'full-round',
  'chamfer',
  'rib',
  'loft',
  'mirror',
  'linear-pattern',
  'circular-pattern',
  'plane',
  'axis',
  'thread',
] as const;
const OperationSchema = v.picklist(OPERATIONS);

/** How the part should have been built. */
export const BuildRuleSchema = v.variant('kind', [
  v.strictObject({
    kind: v.literal('required'),
    operation: OperationSchema,
    /** Other operations that do as well: schools differ in how a round or a hole is made. */
    or: v.optional(v.pipe(v.array(OperationSchema), v.maxLength(OPERATIONS.length), v.readonly())),
  }),
  v.strictObject({ kind: v.literal('excluded'), operation: OperationSchema }),
  v.strictObject({
    kind: v.literal('most-steps'),
    count: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(100)),
  }),
  v.strictObject({ kind: v.literal('order'), first: OperationSchema, then: OperationSchema }),
  /** Through holes go through all, not to a fixed depth. */
  v.strictObject({ kind: v.literal('through') }),
  v.strictObject({ kind: v.literal('symmetry') }),
  v.strictObject({ kind: v.literal('one-body') }),
  /** With other values of its letters, the part is still right. */
  v.strictObject({ kind: v.literal('holds') }),
]);
export type BuildRule = Readonly<v.InferOutput<typeof BuildRuleSchema>>;

/** How measurements become points. */
export const ScoringSchema = v.strictObject({
  /** A deviation up to this many tolerances still earns part of the points. */
  partialReach: v.pipe(v.number(), v.minValue(1), v.maxValue(100)),
  /** Weight of each typed value; 0 reports it without points. */
  typedValueWeight: v.pipe(v.number(), v.minValue(0), v.maxValue(1000)),
  /** Highest score, in percent, of a model that is not one closed body. */
  notOneBodyCap: v.pipe(v.number(), v.minValue(0), v.maxValue(100)),
  /** What merely follows from a mistake whose cause was found earns its points. */
  rootCauseOnce: v.optional(v.boolean()),
  /** Weight of each build rule that could be judged; 0, or nothing said, reports them without points. */
  ruleWeight: v.optional(v.pipe(v.number(), v.minValue(0), v.maxValue(1000))),
  /** Checks that must be right: a score with one of them wrong is not higher than this. */
  gates: v.optional(
    v.pipe(
      v.array(v.strictObject({ checkId: IdSchema, most: v.pipe(v.number(), v.minValue(0), v.maxValue(100)) })),
      v.maxLength(20),
      v.readonly(),
    ),
  ),
  /** Step of the score, 0.1 where nothing is said. */
  roundTo: v.optional(v.picklist([0.1, 0.5, 1, 5])),
});

export const EXERCISE_VERSION = 2;
export const ExerciseSchema = v.pipe(
  v.strictObject({
    format: v.literal('zorvet-exercise'),
    version: v.literal(EXERCISE_VERSION),
    number: v.pipe(v.string(), v.minLength(1), v.maxLength(20)),
    title: v.pipe(v.string(), v.minLength(1), v.maxLength(80)),
    level: v.picklist(['introduction', 'basic', 'intermediate', 'advanced']),
    brief: v.pipe(v.string(), v.maxLength(1000)),
    recipe: RecipeSchema,
    /** The reference part itself, where it was not built here. */
    model: v.optional(ModelFileSchema),
    material: ExerciseMaterialSchema,
    /** How the sheet is drawn. */
    sheet: v.optional(SheetSettingsSchema),
    /** Where the origin is and how the part lies, in words, for the student. */
    origin: v.pipe(v.string(), v.maxLength(200)),
    projection: v.picklist(['first-angle', 'third-angle']),
    /** Decimals of lengths on the sheet and in reports. */
    decimals: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(4)),
    notes: v.pipe(v.array(v.pipe(v.string(), v.maxLength(2000))), v.maxLength(12), v.readonly()),
    checks: v.pipe(v.array(CheckSchema), v.maxLength(200), v.readonly()),
    variants: v.pipe(v.array(VariantSchema), v.maxLength(200), v.readonly()),
    stages: v.pipe(v.array(StageSchema), v.maxLength(4), v.readonly()),
    rules: v.pipe(v.array(BuildRuleSchema), v.maxLength(40), v.readonly()),
    typedValues: v.pipe(v.array(TypedValueNameSchema), v.readonly()),
    /** How often students make a kind of mistake, beside what is usual; 0 is never. Kinds that are not named are usual. */
    likelihoods: v.optional(v.record(IdSchema, v.pipe(v.number(), v.minValue(0), v.maxValue(10)))),
    scoring: ScoringSchema,
  }),
  v.check((exercise) => new Set(exercise.checks.map((c) => c.id)).size === exercise.checks.length, 'check ids repeat'),
  v.check(
    (exercise) => new Set(exercise.variants.map(({ name }) => name)).size === exercise.variants.length,
    'variant names repeat',
  ),
  v.check(
    ({ recipe, variants, stages }) =>
      [...variants, ...stages].every(({ values }) =>
        Object.keys(values).every((name) => recipe.parameters.some((parameter) => parameter.name === name)),
      ),
    'a variant or stage gives a value to a letter that the part does not have',
  ),
  v.check(
    ({ recipe, stages }) =>
      stages.every(({ adds }) => (adds ?? []).every((id) => recipe.steps.some((step) => step.id === id))),
    'a stage adds a step that the part does not have',
  ),
  v.check(
    ({ recipe, model, variants }) => model === undefined || (recipe.steps.length === 0 && variants.length === 0),
    'a part is either built by steps or read from a file, and a file has no variants',
  ),
  v.readonly(),
);
export type Exercise = v.InferOutput<typeof ExerciseSchema>;

/** A file that is kept beside the document of an exercise. */
export const FileOfExerciseSchema = v.object({ sha256: v.string(), fileName: v.string() });
export type FileOfExercise = Readonly<v.InferOutput<typeof FileOfExerciseSchema>>;

/** Files that belong to an exercise beside its document, by their SHA-256: model file, uploaded drawing and its pages. */
export const filesOf = ({ model, sheet }: Pick<Exercise, 'model' | 'sheet'>): readonly FileOfExercise[] => [
  ...(model === undefined ? [] : [model]),
  ...(sheet?.drawing === undefined
    ? []
    : [
        sheet.drawing,
        ...sheet.drawing.pages.map(({ sha256 }, i) => ({ sha256, fileName: `drawing-page-${String(i + 1)}.png` })),
      ]),
];

/** The path and text of the first thing that is wrong with a document, for people. */
export function describeIssues(issues: readonly v.BaseIssue<unknown>[]): string {
  const [first] = issues;
  if (first === undefined) return 'unknown fault';
  const path = v.getDotPath(first);
  return path === null ? first.message : `${path}: ${first.message}`;
}
