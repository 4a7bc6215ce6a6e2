/** An exercise as a document: the part, its check plan, material, notes and what the student types. */
import * as v from 'valibot';

import { ExpressionSchema, RecipeSchema, SurfaceNameSchema } from '#core/recipe';

const IdSchema = v.pipe(v.string(), v.regex(/^[a-z][a-z0-9-]{0,39}$/));
const LabelSchema = v.pipe(v.string(), v.minLength(1), v.maxLength(80));

export const CHECK_GROUPS = ['dimensions', 'features', 'properties', 'hygiene'] as const;
export type CheckGroup = (typeof CHECK_GROUPS)[number];

/** Which view of the sheet a dimension is written in; the sheet chooses when it is not said. */
export const SheetViewSchema = v.picklist(['front', 'top', 'right']);
export type SheetViewName = v.InferOutput<typeof SheetViewSchema>;

const common = {
  id: IdSchema,
  label: LabelSchema,
  /** Share of the score, relative to the other checks. */
  weight: v.pipe(v.number(), v.minValue(0), v.maxValue(1000)),
};
const sized = {
  ...common,
  nominal: ExpressionSchema,
  /** Allowed deviation to both sides, in the drawing unit. */
  tolerance: ExpressionSchema,
  view: v.optional(SheetViewSchema),
  /** Text before the value on the sheet, such as "4 x". */
  prefix: v.optional(v.pipe(v.string(), v.maxLength(20))),
  /** False when another dimension of the sheet already says it. */
  onSheet: v.optional(v.boolean()),
};
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
  /** Between two parallel axes. */
  v.strictObject({ ...sized, kind: v.literal('center-distance'), from: SurfaceNameSchema, to: SurfaceNameSchema }),
  /** Largest extent of the part along an axis of its own frame. */
  v.strictObject({ ...sized, kind: v.literal('overall-size'), axis: v.picklist(['x', 'y', 'z']) }),
  /** Number of holes with the diameter of a named one. */
  v.strictObject({ ...common, kind: v.literal('hole-count'), like: SurfaceNameSchema, nominal: ExpressionSchema }),
  v.strictObject({ ...relative, kind: v.literal('volume') }),
  v.strictObject({ ...relative, kind: v.literal('area') }),
  v.strictObject({ ...relative, kind: v.literal('mass') }),
  /** In the frame of the part as the file has it; tolerance in the drawing unit, as a distance. */
  v.strictObject({ ...common, kind: v.literal('center-of-mass'), tolerance: ExpressionSchema }),
  v.strictObject({ ...common, kind: v.literal('single-body') }),
]);
/** One thing that is measured and judged; a dimension is also drawn on the sheet, under the same id. */
export type Check = Readonly<v.InferOutput<typeof CheckSchema>>;
export type CheckKind = Check['kind'];
/** Checks that are dimensions of the sheet. */
export type DimensionCheck = Extract<Check, { nominal: string; tolerance: string }>;

export const isDimension = (check: Check): check is DimensionCheck => 'nominal' in check && 'tolerance' in check;

export const groupOf = (kind: CheckKind): CheckGroup => {
  switch (kind) {
    case 'distance':
    case 'overall-size':
    case 'hole-position':
    case 'center-distance':
    case 'diameter':
    case 'radius':
      return 'dimensions';
    case 'hole-count':
      return 'features';
    case 'volume':
    case 'area':
    case 'mass':
    case 'center-of-mass':
      return 'properties';
    case 'single-body':
      return 'hygiene';
  }
};

export const TYPED_VALUES = ['mass', 'volume', 'x', 'y', 'z'] as const;
export const TypedValueNameSchema = v.picklist(TYPED_VALUES);
/** Numbers that a student reads off the model: mass, volume, and the center of mass. */
export type TypedValueName = v.InferOutput<typeof TypedValueNameSchema>;

export const ExerciseSchema = v.pipe(
  v.strictObject({
    format: v.literal('zorvet-exercise'),
    version: v.literal(1),
    number: v.pipe(v.string(), v.minLength(1), v.maxLength(20)),
    title: v.pipe(v.string(), v.minLength(1), v.maxLength(80)),
    level: v.picklist(['introduction', 'basic', 'intermediate', 'advanced']),
    brief: v.pipe(v.string(), v.maxLength(1000)),
    recipe: RecipeSchema,
    material: IdSchema,
    /** Where the origin is and how the part lies, in words, for the student. */
    origin: v.pipe(v.string(), v.maxLength(200)),
    projection: v.picklist(['first-angle', 'third-angle']),
    /** Decimals of lengths on the sheet and in reports. */
    decimals: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(4)),
    notes: v.pipe(v.array(v.pipe(v.string(), v.maxLength(120))), v.maxLength(12), v.readonly()),
    checks: v.pipe(v.array(CheckSchema), v.minLength(1), v.maxLength(200), v.readonly()),
    typedValues: v.pipe(v.array(TypedValueNameSchema), v.readonly()),
    scoring: v.strictObject({
      /** A deviation up to this many tolerances still earns part of the points. */
      partialReach: v.pipe(v.number(), v.minValue(1), v.maxValue(100)),
      /** Weight of each typed value; 0 reports it without points. */
      typedValueWeight: v.pipe(v.number(), v.minValue(0), v.maxValue(1000)),
      /** Highest score, in percent, of a model that is not one closed body. */
      notOneBodyCap: v.pipe(v.number(), v.minValue(0), v.maxValue(100)),
    }),
  }),
  v.check((exercise) => new Set(exercise.checks.map((c) => c.id)).size === exercise.checks.length, 'check ids repeat'),
  v.readonly(),
);
export type Exercise = v.InferOutput<typeof ExerciseSchema>;

/** The path and text of the first thing that is wrong with a document, for people. */
export function describeIssues(issues: readonly v.BaseIssue<unknown>[]): string {
  const [first] = issues;
  if (first === undefined) return 'unknown fault';
  const path = v.getDotPath(first);
  return path === null ? first.message : `${path}: ${first.message}`;
}
