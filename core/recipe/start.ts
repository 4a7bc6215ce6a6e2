import type { PlaneReference } from './entries.ts';

/** The last surface that something can be drawn on, or the ground plane for a first step. */
export function seat(surfaces: readonly string[]): PlaneReference {
  const top = surfaces.findLast((name) => name.endsWith('.end'));
  return top === undefined ? { base: 'XY' } : { surface: top };
}

/** Two surfaces that a new edge may lie between: the first two of the part. */
export function firstEdge(surfaces: readonly string[]): readonly [string, string] {
  const [first = 'base.end', second = 'base.right'] = surfaces;
  return [first, second];
}
