import { circleCover } from '#core/feature';
import type { Face } from '#core/solid';
import { boxCenter } from '#core/vector';

import type { DimensionView, LeaderTarget, ViewDimension } from '../view-dimension.ts';
import { seen } from '../views.ts';
import { circleVisible, parallel } from '../witness.ts';

import type { Board, Callout } from './board.ts';

/** A gathered callout as a leader, in the view that looks along its axis where there is one. */
export function calloutOf(board: Board, { id, arcs, first, more, wanted }: Callout): ViewDimension | null {
  const [arc] = arcs;
  const rows = [first, ...more].filter((row) => row.length > 0);
  if (arc === undefined || rows.length === 0) return null;
  return board.best(
    wanted,
    (view) => {
      const targets = arcs.flatMap((face) => targetsIn(board, view, face));
      if (targets.length === 0) return null;
      const axial = 'direction' in arc.surface && parallel(view.axes.toViewer, arc.surface.direction);
      const hidden = axial && !targets.some((target) => circleVisible(view, target)) ? 1 : axial ? 0 : 1;
      return { kind: 'leader', id, viewId: view.id, hiddenEnds: hidden, rows, targets, circle: null };
    },
    (view) => ('direction' in arc.surface && parallel(view.axes.toViewer, arc.surface.direction) ? 0 : 4),
  );
}

/** What a leader to an arc can point at in a view: its circle, or a place on its wall. */
export function targetsIn(board: Board, view: DimensionView, face: Face): LeaderTarget[] {
  const { surface, bounds, centroid } = face;
  if (surface.kind === 'cylinder' && parallel(view.axes.toViewer, surface.direction)) {
    const center = seen(view.axes, surface.origin);
    const middle = seen(view.axes, centroid);
    const off = Math.hypot(middle[0] - center[0], middle[1] - center[1]);
    const whole = off < surface.radiusMm * 0.2;
    const at = whole ? null : Math.atan2(middle[1] - center[1], middle[0] - center[0]);
    return [{ center, radius: surface.radiusMm, at }];
  }
  if (surface.kind === 'cylinder' && circleCover(board.writer.reference.solid, face) > 0.4)
    return [{ center: seen(view.axes, boxCenter(bounds)), radius: 0, at: null }];
  return [{ center: seen(view.axes, centroid), radius: 0, at: null }];
}
