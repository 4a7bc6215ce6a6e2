import { spaceCircleThrough } from '#core/fit';
import { pointsBetween, type Solid } from '#core/solid';
import { SAME_PLACE_MM } from '#core/tolerance';
import { cross, type Vec2, type Vec3 } from '#core/vector';

import { pointsAlong } from '../lines.ts';
import { turned, type DimensionView, type Witness } from '../view-dimension.ts';
import { seen } from '../views.ts';
import { parallel, properAngle, square } from '../witness.ts';

import { unitVector, type DraftForm, type DraftItem } from './board.ts';

/** Straight across the circle where two faces meet, best in a view that sees it from the side. */
export const edgeCircle: DraftForm<'edge-circle'> = (board, { check, target, drafting }) => {
  const circle = circleOf(board.writer.reference.solid, drafting);
  if (circle === null) return null;
  const { center, normal, radiusMm } = circle;
  const text = `\u2300${board.text(check, target)}`;
  return board.best(
    board.wanted(check),
    (view) => {
      const { toViewer } = view.axes;
      const isRound = parallel(toViewer, normal);
      if (!isRound && !square(toViewer, normal)) return null;
      const across = isRound ? firstAcross(normal) : cross(normal, toViewer);
      const [x, y] = seen(view.axes, across);
      const angle = properAngle(Math.atan2(y, x));
      const middle = turned(seen(view.axes, center), angle);
      const [from, to] = [-radiusMm, radiusMm].map((by): Witness => {
        return { at: middle[0] + by, low: middle[1], high: middle[1] };
      });
      if (!from || !to) return null;
      const hiddenEnds = [from, to].filter((end) => !isDrawn(view, angle, end)).length;
      return { kind: 'linear', id: check.id, viewId: view.id, hiddenEnds, text, angle, from, to };
    },
    (view) => (parallel(view.axes.toViewer, normal) ? 3 : 0),
  );
};

function circleOf(solid: Solid, { faceIds, onFaceIds, diameterMm }: DraftItem<'edge-circle'>['drafting']) {
  if (onFaceIds !== null) return spaceCircleThrough(pointsBetween(solid, faceIds, onFaceIds));
  const circles = solid.faces.map(({ id }) => spaceCircleThrough(pointsBetween(solid, faceIds, [id])));
  return circles.find((one) => one !== null && Math.abs(2 * one.radiusMm - diameterMm) < NEAR_MM) ?? null;
}

const firstAcross = ([x]: Vec3): Vec3 => unitVector(Math.abs(x) > 0.9 ? 1 : 0);

/** Whether a visible line passes through the point of an end. */
function isDrawn({ lines }: DimensionView, angle: number, { at, low }: Witness): boolean {
  const [x, y]: Vec2 = turned([at, low], -angle);
  return lines.visible.some((curve) => {
    const points = pointsAlong(curve);
    return points.some((b, i) => {
      const a = points[i - 1] ?? b;
      const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
      const size = dx * dx + dy * dy;
      const share = size === 0 ? 0 : Math.min(1, Math.max(0, ((x - a[0]) * dx + (y - a[1]) * dy) / size));
      return Math.hypot(a[0] + share * dx - x, a[1] + share * dy - y) < NEAR_MM;
    });
  });
}

/** Curves are looked at as polylines: an arc lies off its chords by less. */
const NEAR_MM = 100 * SAME_PLACE_MM;
