import { boxAround } from '#core/vector';

import { endOf } from '../witness.ts';

import type { DraftForm } from './board.ts';
import { straight } from './linear.ts';

/** A straight dimension from a flat face to the edge where two other faces meet. */
export const edge: DraftForm<'edge'> = (board, { check, target, drafting: { fromFaceIds, faceIds, onFaceIds } }) => {
  const { edges } = board.writer.reference.solid;
  const from = board.face(fromFaceIds);
  const points = edges
    .filter((one) => one.faceIds.some((id) => faceIds.includes(id)) && one.faceIds.some((id) => onFaceIds.includes(id)))
    .flatMap(({ start, end }) => [...start, ...end]);
  if (from?.surface.kind !== 'plane' || points.length === 0) return null;
  return straight(
    board,
    { check, text: board.text(check, target) },
    {
      from: endOf(from),
      to: { bounds: boxAround(points), axis: null, outer: false },
      along: from.surface.normal,
    },
  );
};
