/** Closed outlines: their language, their evaluation to lines and arcs with roles, and the surfaces they sweep. */
export {
  MoveSchema,
  OUTLINE_SHAPES,
  OutlineSchema,
  PointSchema,
  type MirrorLine,
  type Move,
  type Outline,
} from './schema.ts';
export { area, evaluateOutline, type PlaneKernel } from './evaluate.ts';
export { contourOf, pointsAlong, profileOf, type Element, type Loop, type Region } from './loop.ts';
export { cylinder, prismCaps, prismWalls, turnedWalls, type Named } from './swept.ts';
export type { Values } from './shapes.ts';
