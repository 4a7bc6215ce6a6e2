/** Bodies that features are undone with. */
import type { Contour, Kernel, Shape, WorkPlane } from '#core/kernel';
import { cross, perpendicular, type Vec2, type Vec3 } from '#core/vector';

/** A closed outline of straight lines; the last point is the start. */
export const polygon = (start: Vec2, points: readonly Vec2[]): Contour => ({
  kind: 'path',
  start,
  segments: points.map((to) => ({ kind: 'line', to })),
});

/** A plane through a point, square to a direction. */
export function squarePlane(origin: Vec3, normal: Vec3): WorkPlane {
  const u = perpendicular(normal);
  return { origin, u, v: cross(normal, u), normal };
}

/** Area of some tools together. */
export function areaOf(kernel: Kernel, make: () => readonly Shape[]): number {
  const tools = make();
  try {
    return tools.reduce((sum, tool) => sum + kernel.massProperties(tool).areaMm2, 0);
  } finally {
    for (const tool of tools) tool.free();
  }
}

/** Several bodies; where one cannot be made, those before it are freed. */
export function eachMade(makers: readonly (() => Shape)[]): readonly Shape[] {
  const made: Shape[] = [];
  try {
    for (const make of makers) made.push(make());
    return made;
  } catch (error) {
    for (const shape of made) shape.free();
    throw error;
  }
}
