import type { Face } from '#core/solid';

import { bestLegs, crossing, parallel, traceOf } from '../witness.ts';

import type { Board, DraftForm } from './board.ts';

/** The angle between two faces, in a view that shows both as lines. */
export const angular: DraftForm<'angular'> = (board, { check, target, drafting: { fromFaceIds, toFaceIds } }) => {
  const [from, to] = [board.face(fromFaceIds), board.face(toFaceIds)];
  if (!from || !to || !('nominal' in target)) return null;
  const text = board.text(check, target);
  const [a, b] = [besideOf(board, from, to), besideOf(board, to, from)];
  return board.best(board.wanted(check), (view) => {
    const [s, t] = [traceOf(view, a), traceOf(view, b)];
    const apex = s && t ? crossing(s, t) : null;
    if (!s || !t || apex === null) return null;
    const legs = bestLegs(apex, s, t, (target.nominal * Math.PI) / 180);
    return { kind: 'angular', id: check.id, viewId: view.id, hiddenEnds: 0, text, apex, legs };
  });
};

/** Of the flat faces parallel to one, that which the other leg runs into: there the angle is seen; else the face itself. */
function besideOf(board: Board, face: Face, other: Face): Face {
  const { surface } = face;
  if (surface.kind !== 'plane') return face;
  const { faces, edges } = board.writer.reference.solid;
  const meets = (one: Face): boolean =>
    edges.some(({ faceIds }) => faceIds.includes(one.id) && faceIds.includes(other.id));
  return meets(face)
    ? face
    : (faces.find(
        (one) => one.surface.kind === 'plane' && parallel(one.surface.normal, surface.normal) && meets(one),
      ) ?? face);
}
