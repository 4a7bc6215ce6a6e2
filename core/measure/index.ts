/** Measuring a model by its faces and edges, as with a measuring tool: what each is, and how two lie to each other. */
export { describeFace, type FaceDescription } from './face.ts';
export { describeEdge, pickedEdge, type PickedEdge } from './edge.ts';
export { measureBetween } from './between.ts';
export type { Reading } from './reading.ts';
