import * as v from 'valibot';

import { LengthUnitSchema } from '#core/quantity';
import { EstimateSchema, MassPropertiesSchema, MODEL_FORMATS, Vec3Schema, WarningSchema } from '#core/solid';

import { FaceIdsSchema } from './entries.ts';
import { FrameSchema } from './frame.ts';

/** What a hole is on the model where the sheet gives it a size that it has not. */
export const ODD_HOLES = ['goes-through', 'no-counterbore', 'no-countersink'] as const;
export type OddHole = (typeof ODD_HOLES)[number];

export const CheckMeasurementSchema = v.object({
  checkId: v.string(),
  /** In mm, mm2, mm3 or g, or a count; null when what the check is about is not on the submission. */
  measured: v.nullable(v.number()),
  /** For the center of mass. */
  point: v.optional(Vec3Schema),
  /** Each of the rounds that share a dimension, in the order of the check plan. */
  members: v.optional(v.pipe(v.array(v.nullable(v.number())), v.readonly())),
  /** Half width that covers the error of the measured value, in its unit; absent where it is exact. */
  uncertainty: v.optional(v.number()),
  /** Why nothing could be measured. */
  reason: v.optional(v.string()),
  /** The same for a size of a hole that is there. */
  oddHole: v.optional(v.picklist(ODD_HOLES)),
  /** Faces of the submission and of the reference that the check is about. */
  faceIds: FaceIdsSchema,
  referenceFaceIds: FaceIdsSchema,
});
export type CheckMeasurement = Readonly<v.InferOutput<typeof CheckMeasurementSchema>>;

/** A feature that one of the two parts has and the other has not. */
export const OddFeatureSchema = v.object({
  kind: v.string(),
  /** In mm: a diameter, width, radius, depth or thickness, as the kind is told by. */
  sizeMm: v.number(),
  /** Of the part that has it. */
  faceIds: FaceIdsSchema,
});
export type OddFeature = Readonly<v.InferOutput<typeof OddFeatureSchema>>;

/** How a recipe that was handed in behaves with other values of its letters. */
export const ReplaySchema = v.object({
  /** Whether it gives the part of the file that came with it. */
  sameAsFile: v.boolean(),
  trials: v.pipe(
    v.array(
      v.object({
        values: v.record(v.string(), v.string()),
        outcome: v.picklist(['holds', 'differs', 'fails']),
        message: v.string(),
      }),
    ),
    v.readonly(),
  ),
});
export type Replay = Readonly<v.InferOutput<typeof ReplaySchema>>;

/** Everything that was measured on a submission; scoring needs nothing else of it. */
export const MeasurementSchema = v.object({
  frame: FrameSchema,
  checks: v.pipe(v.array(CheckMeasurementSchema), v.readonly()),
  bodies: v.number(),
  closed: v.boolean(),
  valid: v.boolean(),
  declaredUnit: v.nullable(LengthUnitSchema),
  format: v.optional(v.picklist(MODEL_FORMATS), 'step'),
  massProperties: MassPropertiesSchema,
  estimate: EstimateSchema,
  sizeMm: Vec3Schema,
  /** What speaks for or against build rules; null for what was measured before rules were looked at. */
  evidence: v.optional(
    v.nullable(
      v.object({
        /** Holes that end inside the part and go through the reference. */
        blindHoles: v.number(),
        symmetryPlanes: v.object({ reference: v.number(), model: v.number() }),
        /** Features of the model by kind; null for what was measured before they were counted. */
        features: v.optional(v.nullable(v.record(v.string(), v.number())), null),
      }),
    ),
    null,
  ),
  /** Null where no recipe was handed in. */
  replay: v.optional(v.nullable(ReplaySchema), null),
  missing: v.optional(v.pipe(v.array(OddFeatureSchema), v.readonly()), []),
  extra: v.optional(v.pipe(v.array(OddFeatureSchema), v.readonly()), []),
  warnings: v.pipe(v.array(WarningSchema), v.readonly()),
});
export type Measurement = Readonly<v.InferOutput<typeof MeasurementSchema>>;
