/** The one analyzed form of any model: plain data that can be stored and sent. Lengths in mm, angles in rad. */
export * from './schema.ts';
export { roundingMm, shapeOf } from './shape.ts';
export { trianglesOf, type Triangle } from './triangle.ts';
export { edgesBetween, pointsBetween } from './edge.ts';
export { axisOf, directionOf, placeSurface, type Axis } from './place.ts';
export {
  farthest,
  fingerprintOf,
  fingerprintOfPoints,
  FingerprintSchema,
  minus,
  plus,
  SAME_SHARE,
  scalesOf,
  type Fingerprint,
} from './fingerprint.ts';
