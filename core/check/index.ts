/** Check kinds, references, and from a submission to measured values. */
export { CHECK_GROUPS, QUANTITIES, type AxisIndex, type CheckGroup, type Quantity, type Tolerance } from './entries.ts';
export type { Drafting, HoleNotePart, Judging, JudgeFacts, Span, SpanEnd } from './kind.ts';
export {
  CHECK_KINDS,
  CheckSchema,
  kindOf,
  TargetSchema,
  type Check,
  type CheckKind,
  type CheckOf,
  type Target,
  type TargetOf,
} from './kinds/index.ts';
export {
  chainRoleOf,
  checkFromSurfaces,
  draftingOf,
  facesOfTarget,
  isDimension,
  isOnSheet,
  pickingOf,
  quantityOfKind,
  saysWhere,
  spanOf,
  spanOfCheck,
  subjectOf,
  type DimensionCheck,
} from './ask.ts';
export { freeCheckId, usualTolerance } from './fresh.ts';
export { offerOf, type PlanOffer } from './offer.ts';
export { groupOf, prepareReference, ReferenceSchema, type CheckedPart, type Reference } from './reference.ts';
export { TYPED_VALUES, TypedValueNameSchema, type TypedValueName } from './typed-value.ts';
export { alignFrames, FrameSchema, originShift, type Frame } from './frame.ts';
export { matchFaces, type FacePartners } from './match.ts';
export {
  CheckMeasurementSchema,
  MeasurementSchema,
  OddFeatureSchema,
  ReplaySchema,
  type CheckMeasurement,
  type Measurement,
  type OddFeature,
  type Replay,
  ODD_HOLES,
  type OddHole,
} from './measurement.ts';
export { measureInPlace, measureSubmission } from './measure.ts';
export { scaledWeights } from './weights.ts';
export { checkValueText } from './value-text.ts';
export { principalMoments } from './kinds/principal-moments.ts';
