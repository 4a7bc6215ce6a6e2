import { bestLegs, crossing, traceOf } from '../witness.ts';

import type { DraftForm } from './board.ts';

/** The angle between two faces, in a view that shows both as lines. */
export const angular: DraftForm<'angular'> = (board, { check, target, drafting: { fromFaceIds, toFaceIds } }) => {
  const [a, b] = [board.face(fromFaceIds), board.face(toFaceIds)];
  if (!a || !b || !('nominal' in target)) return null;
  const text = board.text(check, target);
  return board.best(board.wanted(check), (view) => {
    const [s, t] = [traceOf(view, a), traceOf(view, b)];
    const apex = s && t ? crossing(s, t) : null;
    if (!s || !t || apex === null) return null;
    const legs = bestLegs(apex, s, t, (target.nominal * Math.PI) / 180);
    return { kind: 'angular', id: check.id, viewId: view.id, hiddenEnds: 0, text, apex, legs };
  });
};
