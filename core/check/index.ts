/** From an exercise to targets, and from a submission to measured values. */
export {
  prepareReference,
  principalMoments,
  ReferenceSchema,
  TargetSchema,
  type Reference,
  type Target,
} from './target.ts';
export { alignFrames, FrameSchema, originShift, type Frame } from './frame.ts';
export { matchFaces, type FacePartners } from './match.ts';
export {
  CheckMeasurementSchema,
  type Replay,
  OddFeatureSchema,
  type OddFeature,
  MeasurementSchema,
  measureSubmission,
  type CheckMeasurement,
  type Measurement,
} from './measure.ts';
