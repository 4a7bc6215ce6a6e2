import { isPrincipal } from '#core/exercise';
import { trianglesOf } from '#core/solid';
import type { Vec2 } from '#core/vector';

import { pointsAlong, type SheetCurve } from '../lines.ts';
import { boxOf, type Stroke } from '../overlap.ts';
import type { PreparedView } from '../prepare.ts';
import { seen } from '../views.ts';

import { enclosedBy, gridAround, shadowOf, shareApart } from './raster.ts';
import type { LintRuleCheck } from './rule.ts';

/** Cells along the longer side of a view. */
const CELLS = 700;
/** Where so much of the shadow of the part is not enclosed by the outline, the outline is open. */
const OPEN_SHARE = 0.002;
/** Round lines are taken apart so finely that their chords stay within a cell. */
const FINE_RAD = 0.02;
/** Lines of two views are the same within this, mm. */
const SAME_LINE_MM = 0.01;

const strokesAlong = (curves: readonly SheetCurve[]): readonly Stroke[] =>
  curves.flatMap((curve) => {
    const points = pointsAlong(curve, FINE_RAD);
    return points.slice(1).map((to, i) => ({ from: points[i] ?? to, to }));
  });

/** How much of what the part covers in a view is not enclosed by the lines that are drawn, or the reverse: a share. */
export function openShareOf({ lines, axes, part }: Pick<PreparedView, 'lines' | 'axes' | 'part'>): number {
  const place = (p: readonly [number, number, number]): Vec2 => seen(axes, p);
  const triangles = part.mesh.groups
    .flatMap((group) => trianglesOf(part.mesh, group))
    .map(([a, b, c]) => [place(a), place(b), place(c)] as const);
  const grid = gridAround(triangles.flat(), CELLS);
  return shareApart(enclosedBy(strokesAlong(lines.visible), grid), shadowOf(triangles, grid));
}

/** What is drawn encloses what the part covers, in each view. */
export const outlineClosed: LintRuleCheck = ({ views, called }) =>
  views.flatMap((one) => {
    if (one.within !== null) return [];
    const share = openShareOf(one);
    return share <= OPEN_SHARE
      ? []
      : [
          {
            where: one.view.id,
            words: `The outline of ${called(one.view.id)} and what the part covers differ by ${(100 * share).toFixed(1)} %.`,
          },
        ];
  });

/** Each view shows something that no other shows. */
export const viewAdds: LintRuleCheck = ({ views, sheet, called }) => {
  const dimensioned = new Set(sheet.dimensions.map(({ viewId }) => viewId));
  return idleViews(views, (kept) => views.every(({ view: { id } }) => kept.has(id) || !dimensioned.has(id))).map(
    ({ view }) => ({ where: view.id, words: `The drawing says as much without ${called(view.id)}.` }),
  );
};

/**
 * Views that a sheet can do without, which show the same lines as another, or nothing but full widths, full heights and
 * circles about one center; as long as what is left, by its ids, is enough for the dimensions.
 */
export function idleViews(
  views: readonly PreparedView[],
  isEnough: (kept: ReadonlySet<string>) => boolean,
): readonly PreparedView[] {
  const kept = [...views];
  for (const one of [...views].reverse()) {
    const { view, cutLines, circles } = one;
    if (view.kind !== 'plain' || cutLines.length > 0 || circles.length > 0) continue;
    const others = kept.filter((other) => other !== one && isPrincipal(other.view));
    if (others.length === 0) continue;
    const isSaid = isPlain(one.lines.visible) || others.some((other) => showsTheSame(one, other));
    const ids = new Set(kept.flatMap((other) => (other === one ? [] : [other.view.id])));
    if (isSaid && isEnough(ids)) kept.splice(kept.indexOf(one), 1);
  }
  return views.filter((one) => !kept.includes(one));
}

/** Whether a view has nothing but lines across its whole width or height, or nothing but whole circles about one center. */
function isPlain(curves: readonly SheetCurve[]): boolean {
  const { min, max } = boxOf(curves.flatMap((curve) => pointsAlong(curve)));
  const isAcross = (curve: SheetCurve): boolean =>
    curve.kind === 'line' &&
    ([0, 1] as const).some(
      (axis) =>
        Math.min(curve.from[axis], curve.to[axis]) < min[axis] + SAME_LINE_MM &&
        Math.max(curve.from[axis], curve.to[axis]) > max[axis] - SAME_LINE_MM &&
        Math.abs(curve.from[axis === 0 ? 1 : 0] - curve.to[axis === 0 ? 1 : 0]) < SAME_LINE_MM,
    );
  const middle: Vec2 = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2];
  const isRing = (curve: SheetCurve): boolean =>
    curve.kind === 'arc' &&
    curve.sweep > 2 * Math.PI - 1e-3 &&
    Math.hypot(curve.center[0] - middle[0], curve.center[1] - middle[1]) < SAME_LINE_MM;
  return curves.every(isAcross) || curves.every(isRing);
}

/** Whether the visible lines of two views are the same, one of them turned over left to right or top to bottom at most. */
function showsTheSame(one: PreparedView, other: PreparedView): boolean {
  const [a, b] = [one, other].map(({ lines }) => signature(lines.visible));
  if (a === undefined || b === undefined) return false;
  return [
    [1, 1],
    [-1, 1],
    [1, -1],
    [-1, -1],
  ].some(([x = 1, y = 1]) => sameSignature(a, flipped(b, x, y)));
}

type Signature = readonly (readonly [x: number, y: number])[];

/** The middles of all lines about the middle of the view: enough to tell views apart that differ in a line. */
function signature(curves: readonly SheetCurve[]): Signature {
  const ends = curves.flatMap((curve) => pointsAlong(curve));
  const middle = [0, 1].map((axis) => {
    const along = ends.map((p) => p[axis] ?? 0);
    return (Math.min(...along) + Math.max(...along)) / 2;
  });
  return curves.map((curve) => {
    const points = pointsAlong(curve);
    const [x, y] = [0, 1].map(
      (axis) => points.reduce((sum, p) => sum + (p[axis] ?? 0), 0) / points.length - (middle[axis] ?? 0),
    );
    return [x ?? 0, y ?? 0];
  });
}

const flipped = (points: Signature, x: number, y: number): Signature => points.map((p) => [x * p[0], y * p[1]]);

const sameSignature = (a: Signature, b: Signature): boolean =>
  a.length === b.length &&
  a.every((p) => b.some((q) => Math.abs(p[0] - q[0]) < SAME_LINE_MM && Math.abs(p[1] - q[1]) < SAME_LINE_MM));
