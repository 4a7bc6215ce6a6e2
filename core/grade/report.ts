import * as v from 'valibot';

import { CauseKindSchema } from '#core/cause';
import {
  FrameSchema,
  OddFeatureSchema,
  CHECK_GROUPS,
  CHECK_KINDS,
  QUANTITIES,
  TypedValueNameSchema,
} from '#core/check';
import { DrawingUnitSchema, LengthUnitSchema } from '#core/quantity';
import { OverlaySummarySchema } from '#core/overlay';
import { MassPropertiesSchema, MODEL_FORMATS, Vec3Schema, WarningSchema } from '#core/solid';

/** How much a report tells a student, each more than the one before. */
export const FEEDBACK_DEGREES = ['score', 'checks', 'numbers', 'causes', 'overlay'] as const;
export const FeedbackDegreeSchema = v.picklist(FEEDBACK_DEGREES);
export type FeedbackDegree = v.InferOutput<typeof FeedbackDegreeSchema>;

/** `near` earns part of the points, `missing` means that what the check is about is not on the submission. */
export const VerdictSchema = v.picklist(['right', 'near', 'wrong', 'missing']);
export type Verdict = v.InferOutput<typeof VerdictSchema>;

/** What an instructor decided of a line, whatever was measured. It survives any new scoring. */
export const OverrideSchema = v.object({
  /** Share of the weight of the line, 0 to 1. */
  credit: v.pipe(v.number(), v.minValue(0), v.maxValue(1)),
  reason: v.pipe(v.string(), v.trim(), v.minLength(3, 'Say why, in a few words.'), v.maxLength(500)),
  /** Name of who decided. */
  by: v.string(),
});
export type Override = Readonly<v.InferOutput<typeof OverrideSchema>>;
const overridden = v.nullable(OverrideSchema);

export const ReportLineSchema = v.object({
  checkId: v.string(),
  kind: v.picklist(CHECK_KINDS),
  label: v.string(),
  group: v.picklist(CHECK_GROUPS),
  quantity: v.picklist(QUANTITIES),
  /** In mm, degrees, mm2, mm3, g or g/cm3; null when it is withheld. For the center of mass, a distance. */
  nominal: v.nullable(v.number()),
  measured: v.nullable(v.number()),
  deviation: v.nullable(v.number()),
  tolerance: v.nullable(v.number()),
  /** Signed limits of the deviation where they differ. */
  limits: v.nullable(v.object({ lower: v.number(), upper: v.number() })),
  /** Half width that covers the error of the measured value; the tolerance is widened by it. */
  uncertainty: v.number(),
  /** Why nothing could be measured. */
  reason: v.nullable(v.string()),
  nominalPoint: v.nullable(Vec3Schema),
  measuredPoint: v.nullable(Vec3Schema),
  verdict: VerdictSchema,
  /** Share of the weight that was earned, 0 to 1; null when it is withheld. */
  credit: v.nullable(v.number()),
  weight: v.number(),
  /** Faces of the submission. */
  faceIds: v.pipe(v.array(v.number()), v.readonly()),
  advice: v.nullable(v.string()),
  /** The value is what follows from a mistake made elsewhere. */
  followOn: v.boolean(),
  override: overridden,
});
export type ReportLine = Readonly<v.InferOutput<typeof ReportLineSchema>>;

export const TypedLineSchema = v.object({
  name: TypedValueNameSchema,
  text: v.string(),
  unit: v.string(),
  /** In g, mm3 or mm; null when it could not be read. */
  value: v.nullable(v.number()),
  /** Value of the reference; null when it is withheld. */
  reference: v.nullable(v.number()),
  /** Value of the student's own file, with the material of the exercise. */
  file: v.number(),
  matchesReference: v.boolean(),
  /** Whether the number belongs to the file: `other-material` when it does with another density of the table. */
  ofFile: v.picklist(['yes', 'other-material', 'no']),
  weight: v.number(),
  override: overridden,
});
export type TypedLine = Readonly<v.InferOutput<typeof TypedLineSchema>>;

export const CauseSchema = v.object({
  /** Of the vocabulary of causes, whether it was found among mistakes or observed. */
  id: CauseKindSchema,
  /** 0 to 1. */
  certainty: v.number(),
  message: v.string(),
  checkIds: v.pipe(v.array(v.string()), v.readonly()),
  /**
   * Whether the part with this cause is the very part that was handed in (`all`), is nearer to it (`most`), or whether it
   * was only observed.
   */
  explains: v.picklist(['all', 'most', 'observed']),
  /** It may have been this instead of the first. */
  instead: v.boolean(),
});
export type Cause = Readonly<v.InferOutput<typeof CauseSchema>>;

/** A build rule, and what geometry and the list of build steps prove of it. One that stays open earns and costs nothing. */
export const RuleLineSchema = v.object({
  text: v.string(),
  verdict: v.picklist(['kept', 'broken', 'open']),
  evidence: v.string(),
  weight: v.number(),
  override: overridden,
});
export type RuleLine = Readonly<v.InferOutput<typeof RuleLineSchema>>;

const DeductionSchema = v.object({ reason: v.string(), points: v.number() });
export type Deduction = Readonly<v.InferOutput<typeof DeductionSchema>>;

export const ReportSchema = v.object({
  /** 0 to 100. */
  score: v.number(),
  /** The score as it is told while answers are withheld: a check whose answer is withheld counts fully or not at all. */
  scoreBeforeRelease: v.number(),
  /** Why the score cannot be higher, or null. */
  cap: v.nullable(v.string()),
  lines: v.pipe(v.array(ReportLineSchema), v.readonly()),
  typed: v.pipe(v.array(TypedLineSchema), v.readonly()),
  causes: v.pipe(v.array(CauseSchema), v.readonly()),
  rules: v.pipe(v.array(RuleLineSchema), v.readonly()),
  /** What the list of build steps says that the part does not show, and the reverse. */
  questions: v.pipe(v.array(v.string()), v.readonly()),
  /** Points taken off the whole, such as for a late hand-in. */
  deductions: v.pipe(v.array(DeductionSchema), v.readonly()),
  frame: FrameSchema,
  unit: DrawingUnitSchema,
  decimals: v.number(),
  declaredUnit: v.nullable(LengthUnitSchema),
  format: v.picklist(MODEL_FORMATS),
  massProperties: MassPropertiesSchema,
  /** Missing and extra material; null where it could not be compared, or is withheld. */
  overlay: v.nullable(OverlaySummarySchema),
  /** Features of the reference that the model has not, without faces, and of the model that the reference has not. */
  missing: v.pipe(v.array(OddFeatureSchema), v.readonly()),
  extra: v.pipe(v.array(OddFeatureSchema), v.readonly()),
  warnings: v.pipe(v.array(WarningSchema), v.readonly()),
  /** True when the values of the reference that are not on the sheet were left out. */
  withheld: v.boolean(),
  /** How much of it is told. */
  detail: FeedbackDegreeSchema,
});
/** What instructor and student read about one attempt. */
export type Report = Readonly<v.InferOutput<typeof ReportSchema>>;
