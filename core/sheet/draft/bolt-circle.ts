import { circleCenter } from '#core/kernel';

import { seen } from '../views.ts';
import { parallel } from '../witness.ts';

import type { DraftForm } from './board.ts';

/** The circle that the axes of holes lie on: a leader to it, in the view along the holes. */
export const boltCircle: DraftForm<'bolt-circle'> = (board, { check, target, drafting: { members } }) => {
  const axes = members.flatMap((ids) => {
    const surface = board.face(ids)?.surface;
    return surface?.kind === 'cylinder' ? [surface] : [];
  });
  const [a, b, c] = axes;
  if (!a || !b || !c) return null;
  // The author may have written the sign before the size: "bolt circle ⌀".
  const own = board.text(check, target);
  const text = own.includes('⌀') ? own : `⌀${own}`;
  return board.best(board.wanted(check), (view) => {
    if (!parallel(view.axes.toViewer, a.direction)) return null;
    const [p, q, r] = [a, b, c].map(({ origin }) => seen(view.axes, origin));
    const center = p && q && r ? circleCenter(p, q, r) : null;
    if (center === null || !p) return null;
    const circle = { center, radius: Math.hypot(p[0] - center[0], p[1] - center[1]), at: null };
    const rows = [[{ text, checkId: check.id }]];
    return { kind: 'leader', id: check.id, viewId: view.id, hiddenEnds: 0, rows, targets: [circle], circle };
  });
};
