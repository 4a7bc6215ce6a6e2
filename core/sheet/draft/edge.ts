import { edgesBetween, type Face } from '#core/solid';
import { BUILT_PARALLEL_SINE } from '#core/tolerance';
import { cross, dot, length, normalize, scale, subtract, type Vec3 } from '#core/vector';

import type { DraftForm } from './board.ts';
import { straight } from './linear.ts';

/** A straight dimension from a flat face, or from an axis, to the edge where two other faces meet. */
export const edge: DraftForm<'edge'> = (board, { check, target, drafting: { fromFaceIds, faceIds, onFaceIds } }) => {
  const from = board.face(fromFaceIds);
  const edges = edgesBetween(board.writer.reference.solid, faceIds, onFaceIds);
  const points = edges.flatMap(({ start, end }) => [start, end]);
  const along = from === undefined ? null : across(from, points);
  if (from === undefined || along === null) return null;
  return straight(
    board,
    { check, text: board.text(check, target) },
    { from: board.end(from), to: { points, axis: null, like: [], outer: false }, along },
  );
};

/** The direction in which an edge, by its ends, is measured from a face. */
function across({ surface }: Face, [start, end]: readonly Vec3[]): Vec3 | null {
  if (start === undefined || end === undefined) return null;
  if (surface.kind === 'plane') return surface.normal;
  if (surface.kind !== 'cylinder') return null;
  const { origin, direction } = surface;
  const square = cross(normalize(subtract(end, start)), direction);
  if (length(square) > BUILT_PARALLEL_SINE) return square;
  const apart = subtract(start, origin);
  return subtract(apart, scale(direction, dot(apart, direction)));
}
