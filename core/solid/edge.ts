import { pointsOf, type Vec3 } from '#core/vector';

import type { Edge, Solid } from './schema.ts';

/** The edges along which faces of two lists meet. */
export const edgesBetween = (
  { edges }: Pick<Solid, 'edges'>,
  of: readonly number[],
  on: readonly number[],
): readonly Edge[] =>
  edges.filter(({ faceIds }) => faceIds.some((id) => of.includes(id)) && faceIds.some((id) => on.includes(id)));

/** Points of these edges, as they are drawn. */
export function pointsBetween(
  solid: Pick<Solid, 'edges' | 'mesh'>,
  of: readonly number[],
  on: readonly number[],
): readonly Vec3[] {
  const ids = new Set(edgesBetween(solid, of, on).map(({ id }) => id));
  return solid.mesh.edges.filter(({ edgeId }) => ids.has(edgeId)).flatMap(({ points }) => pointsOf(points));
}
