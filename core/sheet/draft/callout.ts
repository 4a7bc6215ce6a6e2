import { circleCover } from '#core/feature';
import type { Face, Torus } from '#core/solid';
import { SAME_PLACE_MM } from '#core/tolerance';
import { add, boxCenter, cross, dot, length, normalize, scale, subtract, type Vec2, type Vec3 } from '#core/vector';

import type { DimensionView, LeaderTarget, ViewDimension } from '../view-dimension.ts';
import { seen } from '../views.ts';
import { circleVisible, parallel, silhouette, square } from '../witness.ts';

import type { Board, Callout } from './board.ts';

/** A gathered callout as a leader, in the view that looks along its axis where there is one. */
export function calloutOf(board: Board, { id, arcs, first, more, wanted }: Callout): ViewDimension | null {
  const [arc] = arcs;
  const rows = [first, ...more].filter((row) => row.length > 0);
  if (arc === undefined || rows.length === 0) return null;
  return board.best(
    wanted,
    (view) => {
      const walls = arcs.flatMap((face) => (view.section ? wallsIn(view, face) : []));
      const targets = walls.length > 0 ? walls : arcs.flatMap((face) => targetsIn(board, view, face));
      if (targets.length === 0) return null;
      const axial = 'direction' in arc.surface && parallel(view.axes.toViewer, arc.surface.direction);
      const isShown = walls.length > 0 || (axial && targets.some((target) => circleVisible(view, target)));
      const hidden = isShown ? 0 : 1;
      return { kind: 'leader', id, viewId: view.id, hiddenEnds: hidden, rows, targets, circle: null };
    },
    (view) => ('direction' in arc.surface && parallel(view.axes.toViewer, arc.surface.direction) ? 0 : 4),
  );
}

/** The visible ones of the two lines that the wall of a hole makes in a section along its axis, each by its middle. */
const wallsIn = (view: DimensionView, face: Face): LeaderTarget[] =>
  silhouette(view, face).filter(({ center: [x, y] }) =>
    view.lines.visible.some((curve) => {
      if (curve.kind !== 'line') return false;
      const [dx, dy] = [curve.to[0] - curve.from[0], curve.to[1] - curve.from[1]];
      const size = Math.hypot(dx, dy);
      const along = ((x - curve.from[0]) * dx + (y - curve.from[1]) * dy) / size;
      const across = ((x - curve.from[0]) * dy - (y - curve.from[1]) * dx) / size;
      return Math.abs(across) < SAME_PLACE_MM && along > 0 && along < size;
    }),
  );

/** Like rounds are counted in one callout, whichever check is about them: "6 x R3" for "4 x R3" and "2 x R3". */
export function joinedCallouts(callouts: readonly Callout[]): readonly Callout[] {
  const out: Callout[] = [];
  for (const callout of callouts) {
    const k = out.findIndex((other) => areLike(other, callout));
    const known = out[k];
    if (known === undefined) out.push(callout);
    else out[k] = joinedWith(known, callout);
  }
  return out;
}

const COUNTED_RADIUS = /^(?:\d+ x )?(R.*)$/;

/** "R3" of a callout that says nothing but the radius of rounds; null for another. */
function radiusIn({ first, more }: Callout): string | null {
  const text = first.map((run) => run.text).join('');
  return more.length > 0 ? null : (COUNTED_RADIUS.exec(text)?.[1] ?? null);
}

function areLike(a: Callout, b: Callout): boolean {
  const [p, q] = [a.arcs[0]?.surface, b.arcs[0]?.surface];
  const [radius, other] = [radiusIn(a), radiusIn(b)];
  if (p?.kind !== 'cylinder' || q?.kind !== 'cylinder' || radius === null || radius !== other) return false;
  return a.wanted === b.wanted && p.side === q.side && parallel(p.direction, q.direction);
}

function joinedWith(a: Callout, b: Callout): Callout {
  const arcs = [...a.arcs, ...b.arcs];
  return {
    ...a,
    arcs,
    first: [
      { text: `${String(arcs.length)} x`, checkId: b.id },
      { text: ` ${radiusIn(a) ?? ''}`, checkId: a.id },
    ],
  };
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
