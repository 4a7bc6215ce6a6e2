/** Bodies that features are undone with. */
import type { Contour, Shape } from '#core/kernel';
import type { Vec2 } from '#core/vector';

/** A closed outline of straight lines; the last point is the start. */
export const polygon = (start: Vec2, points: readonly Vec2[]): Contour => ({
  kind: 'path',
  start,
  segments: points.map((to) => ({ kind: 'line', to })),
});

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
