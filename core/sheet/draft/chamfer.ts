import { featuresOf } from '#core/feature';

import type { LeaderTarget } from '../view-dimension.ts';
import { chamferAngle, chamferPoints } from '../witness.ts';

import type { DraftForm } from './board.ts';

/** A chamfer by its leg and its angle, said once for both of its sizes, and counted where like ones have them too. */
export const chamfer: DraftForm<'chamfer'> = (board, { check, target, drafting }) => {
  const { faceIds: chamferIds, onFaceIds, count } = drafting;
  const { solid } = board.writer.reference;
  const face = board.face(chamferIds);
  const on = board.face(onFaceIds);
  if (face === undefined || on === undefined || board.chamfered.has(face.id)) return null;
  for (const id of chamferIds) board.chamfered.add(id);
  const feature = featuresOf(solid, 'chamfer').find(({ faceIds }) => faceIds.includes(face.id));
  const other = feature?.onFaceIds.map((id) => solid.faces[id]).find((candidate) => candidate && candidate !== on);
  const degrees = chamferAngle(face.surface, on.surface, other?.surface);
  // The author may have counted them.
  const times = count > 1 && !('prefix' in check && check.prefix !== undefined) ? `${String(count)} x ` : '';
  const text = `${times}${board.text(check, target)} x ${String(Number(degrees.toFixed(1)))}°`;
  const rows = [[{ text, checkId: check.id }]];
  return board.best(board.wanted(check), (view) => {
    const points = chamferPoints(view, face);
    if (points === null) return null;
    const targets = points.map((center): LeaderTarget => ({ center, radius: 0, at: null }));
    return { kind: 'leader', id: check.id, viewId: view.id, hiddenEnds: 0, rows, targets, circle: null };
  });
};
