import type { Vec2 } from '#core/vector';

/** A piece of paper, mm. */
export interface PaperBox {
  readonly min: Vec2;
  readonly max: Vec2;
}

export interface Stroke {
  readonly from: Vec2;
  readonly to: Vec2;
}

/** The smallest piece of paper around points, mm. */
export const boxOf = (points: readonly Vec2[]): PaperBox => {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of points) {
    x0 = Math.min(x0, x);
    y0 = Math.min(y0, y);
    x1 = Math.max(x1, x);
    y1 = Math.max(y1, y);
  }
  return { min: [x0, y0], max: [x1, y1] };
};

/** The smallest piece of paper around two others. */
export const joined = (a: PaperBox, b: PaperBox): PaperBox => ({
  min: [Math.min(a.min[0], b.min[0]), Math.min(a.min[1], b.min[1])],
  max: [Math.max(a.max[0], b.max[0]), Math.max(a.max[1], b.max[1])],
});

/** A piece of paper that reaches further to all sides, mm. */
export const grown = ({ min, max }: PaperBox, by: number): PaperBox => ({
  min: [min[0] - by, min[1] - by],
  max: [max[0] + by, max[1] + by],
});

/** Whether two boxes share more than their edges. */
export const boxesOverlap = (a: PaperBox, b: PaperBox): boolean =>
  a.min[0] < b.max[0] && b.min[0] < a.max[0] && a.min[1] < b.max[1] && b.min[1] < a.max[1];

/** Whether a stroke passes through the inside of a box. */
export const strokeInBox = (stroke: Stroke, box: PaperBox): boolean => shareInBox(stroke, box) > 1e-9;

/** How much of a stroke lies in a box, as a share of the stroke (Liang and Barsky's clipping of a line). */
export function shareInBox({ from, to }: Stroke, { min, max }: PaperBox): number {
  if (apart(from[0], to[0], min[0], max[0]) || apart(from[1], to[1], min[1], max[1])) return 0;
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  let [enter, leave] = [0, 1];
  for (const [p, q] of [
    [-dx, from[0] - min[0]],
    [dx, max[0] - from[0]],
    [-dy, from[1] - min[1]],
    [dy, max[1] - from[1]],
  ] as const) {
    if (Math.abs(p) < 1e-12) {
      if (q <= 0) return 0;
      continue;
    }
    const t = q / p;
    if (p < 0) enter = Math.max(enter, t);
    else leave = Math.min(leave, t);
  }
  return Math.max(0, leave - enter);
}

/** Whether two spans have nothing in common. */
const apart = (a: number, b: number, c: number, d: number): boolean =>
  (a < b ? b : a) < (c < d ? c : d) || (c < d ? d : c) < (a < b ? a : b);

const side = (a: Vec2, b: Vec2, c: Vec2): number => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);

/** Whether two strokes cross inside both, which strokes that only touch do not. */
export function strokesCross(a: Stroke, b: Stroke): boolean {
  if (apart(a.from[0], a.to[0], b.from[0], b.to[0]) || apart(a.from[1], a.to[1], b.from[1], b.to[1])) return false;
  const [s, t] = [side(a.from, a.to, b.from), side(a.from, a.to, b.to)];
  const [u, v] = [side(b.from, b.to, a.from), side(b.from, b.to, a.to)];
  const slack = 1e-6;
  return (
    ((s > slack && t < -slack) || (s < -slack && t > slack)) && ((u > slack && v < -slack) || (u < -slack && v > slack))
  );
}

/** Length that two strokes lie on each other, within a hair's breadth. */
export function sharedLength(a: Stroke, b: Stroke, apartMm = 0.4): number {
  const size = Math.hypot(a.to[0] - a.from[0], a.to[1] - a.from[1]);
  if (size < 1e-9) return 0;
  if (Math.abs(side(a.from, a.to, b.from)) / size > apartMm || Math.abs(side(a.from, a.to, b.to)) / size > apartMm)
    return 0;
  const along = (p: Vec2): number =>
    ((p[0] - a.from[0]) * (a.to[0] - a.from[0]) + (p[1] - a.from[1]) * (a.to[1] - a.from[1])) / size;
  const [low, high] = [Math.min(along(b.from), along(b.to)), Math.max(along(b.from), along(b.to))];
  return Math.max(0, Math.min(size, high) - Math.max(0, low));
}

/** Two leaders whose bends or landings come nearer look like one line. */
export const LEADERS_APART_MM = 1.5;

/** How far a point is from the nearest point of a stroke, mm. */
export function distanceToStroke(point: Vec2, { from, to }: Stroke): number {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const share = ((point[0] - from[0]) * dx + (point[1] - from[1]) * dy) / Math.max(1e-12, dx * dx + dy * dy);
  const along = Math.min(1, Math.max(0, share));
  return Math.hypot(point[0] - from[0] - along * dx, point[1] - from[1] - along * dy);
}
