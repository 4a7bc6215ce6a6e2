/** What the schemas of several check kinds have in common. */
import * as v from 'valibot';

import { ExpressionSchema } from '#core/quantity';
import { SurfaceNameSchema } from '#core/recipe';

export const CHECK_GROUPS = ['dimensions', 'features', 'properties', 'model-quality'] as const;
/** What checks are shown and weighed in. */
export type CheckGroup = (typeof CHECK_GROUPS)[number];

/** What a check measures: it decides in which unit values are written, and with how many digits. */
export const QUANTITIES = [
  'length',
  'angle',
  'area',
  'volume',
  'mass',
  'density',
  'percent',
  'count',
  'yes-no',
  'point',
] as const;
export type Quantity = (typeof QUANTITIES)[number];

export const CheckIdSchema = v.pipe(v.string(), v.regex(/^[a-z][a-z0-9-]{0,39}$/));

/** In the drawing unit; degrees for angles. */
export const ToleranceSchema = v.union([
  ExpressionSchema,
  v.strictObject({ upper: ExpressionSchema, lower: ExpressionSchema }),
]);
/** Allowed deviation as expressions: to both sides, or separately up and down (both signed). */
export type Tolerance = v.InferOutput<typeof ToleranceSchema>;

export const AxisNameSchema = v.picklist(['x', 'y', 'z']);
/** An axis of the part. */
export type AxisName = v.InferOutput<typeof AxisNameSchema>;
export const AxisIndexSchema = v.picklist([0, 1, 2]);
export type AxisIndex = v.InferOutput<typeof AxisIndexSchema>;
export const AXIS_INDEX: Readonly<Record<AxisName, AxisIndex>> = { x: 0, y: 1, z: 2 };

export const SurfaceNamesSchema = v.pipe(v.array(SurfaceNameSchema), v.minLength(1), v.maxLength(100), v.readonly());
export const FaceIdsSchema = v.pipe(v.array(v.number()), v.readonly());
/** One list of faces for each of several alike surfaces. */
export const MembersSchema = v.pipe(v.array(FaceIdsSchema), v.readonly());

/** Of every check, as a check plan writes it. */
export const planned = {
  id: CheckIdSchema,
  label: v.pipe(v.string(), v.minLength(1), v.maxLength(80)),
  /** Share of the score, relative to the other checks. */
  weight: v.pipe(v.number(), v.minValue(0), v.maxValue(1000)),
  /** A check that is switched off is neither measured nor drawn. */
  off: v.optional(v.boolean()),
  /** The group that the check is shown and weighed in, where it is not that of its kind. */
  group: v.optional(v.picklist(CHECK_GROUPS)),
  /** The stage, from 2, with which the check begins; where nothing is said, it holds in all. */
  fromStage: v.optional(v.pipe(v.number(), v.integer(), v.minValue(2), v.maxValue(5))),
};

/** Of a dimension of the sheet. */
export const plannedSize = {
  nominal: ExpressionSchema,
  /** In the drawing unit: to both sides, or separately up and down (both as signed deviations). */
  tolerance: ToleranceSchema,
  /** Id of the view of the sheet that it is written in; the sheet chooses when it is not said. */
  view: v.optional(v.pipe(v.string(), v.maxLength(20))),
  /** Text before the value on the sheet, such as "4 x". */
  prefix: v.optional(v.pipe(v.string(), v.maxLength(20))),
  /** False when another dimension of the sheet already says it. */
  onSheet: v.optional(v.boolean()),
};

/** Of what is measured between two surfaces. */
export const plannedPair = { from: SurfaceNameSchema, to: SurfaceNameSchema };

/** Of an angle; nominal and tolerance in degrees. */
export const plannedAngle = {
  nominal: ExpressionSchema,
  tolerance: ToleranceSchema,
  /** False when the sheet says it otherwise. */
  onSheet: v.optional(v.boolean()),
};

/** Of two places that should be one; the distance that is allowed, in the drawing unit. */
export const plannedCoincidence = { tolerance: ExpressionSchema };

/** Of a property of the whole part; allowed deviation in percent of the reference. */
export const plannedProperty = { tolerancePercent: v.pipe(v.number(), v.minValue(0.0001), v.maxValue(50)) };

/** Of every check with its expressions evaluated. */
export const targeted = {
  checkId: v.string(),
  label: v.string(),
  group: v.picklist(CHECK_GROUPS),
  weight: v.number(),
  /** Not printed on the sheet: its value follows from what is. */
  offSheet: v.optional(v.boolean()),
};

/** `nominal` and `tolerance` in mm, degrees, mm2, mm3 or g. */
export const targetValue = {
  nominal: v.number(),
  tolerance: v.number(),
  /** Signed limits of the deviation where they differ; `tolerance` is then the larger of the two. */
  limits: v.optional(v.pipe(v.object({ lower: v.number(), upper: v.number() }), v.readonly())),
};

/** Of a dimension: also the nominal as the check plan writes it, for working out what follows from a wrong size. */
export const targetSize = { ...targetValue, expression: v.string() };

/** Of what is measured between two surfaces of the reference. */
export const targetPair = { fromFaceIds: FaceIdsSchema, toFaceIds: FaceIdsSchema };
