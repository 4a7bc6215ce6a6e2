/** Measuring a model by its faces, as with a measuring tool: what a face is, and how two faces lie to each other. */
export { describeFace, type FaceDescription } from './face.ts';
export { measureBetween } from './between.ts';
export type { Reading } from './reading.ts';
