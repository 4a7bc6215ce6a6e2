import { circleCover } from '#core/feature';
import type { Face, Torus } from '#core/solid';
import { add, boxCenter, cross, dot, length, normalize, scale, subtract, type Vec2, type Vec3 } from '#core/vector';

import type { DimensionView, LeaderTarget, ViewDimension } from '../view-dimension.ts';
import { seen } from '../views.ts';
import { circleVisible, parallel, square } from '../witness.ts';

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
  if (surface.kind === 'torus' && square(view.axes.toViewer, surface.direction))
    return sectionsOf(board.end(face).points, surface, view);
  // Seen along its axis, a ring shows nothing of the radius of its section.
  if (surface.kind === 'torus' && parallel(view.axes.toViewer, surface.direction)) return [];
  if (surface.kind === 'cylinder' && circleCover(board.writer.reference.solid, face) > 0.4)
    return [{ center: seen(view.axes, boxCenter(bounds)), radius: 0, at: null }];
  return [{ center: seen(view.axes, centroid), radius: 0, at: null }];
}

/** The two arcs by which a ring is seen from the side, each with the place in the middle of what the face has of it. */
function sectionsOf(
  points: readonly Vec3[],
  { center, direction, majorRadiusMm, minorRadiusMm }: Torus,
  view: DimensionView,
): LeaderTarget[] {
  const across = normalize(cross(direction, view.axes.toViewer));
  const offsets = points.map((point): Vec2 => {
    const from = subtract(point, center);
    const height = dot(from, direction);
    return [length(subtract(from, scale(direction, height))) - majorRadiusMm, height];
  });
  const [out, up] = [0, 1].map((k) => offsets.reduce((sum, offset) => sum + (offset[k] ?? 0), 0));
  return [1, -1].map((side): LeaderTarget => {
    const [x, y] = seen(view.axes, add(scale(across, side * (out ?? 0)), scale(direction, up ?? 0)));
    return {
      center: seen(view.axes, add(center, scale(across, side * majorRadiusMm))),
      radius: minorRadiusMm,
      at: Math.atan2(y, x),
    };
  });
}
