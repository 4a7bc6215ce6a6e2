/** Surfaces through points: planes, cylinders, cones, spheres and tori by least squares, and how sure the result is. */
export * from './shape.ts';
export { recognizeSurface } from './recognize.ts';
