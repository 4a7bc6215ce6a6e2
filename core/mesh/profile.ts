/** Profiles of surfaces of revolution: the circles that corners lie on about an axis, and what goes through them. */
import { centroidOf, planeThrough, residualOf, type Shape } from '#core/fit';
import type { Axis } from '#core/solid';
import { add, cross, dot, extremes, length, scale, subtract, type Vec3 } from '#core/vector';

/** Points that a fit looks at; more make it slower, not better. */
const FIT_POINTS = 160;

/** At most `most` of the points, evenly spread over the list. */
export function sample(points: Vec3[], most = FIT_POINTS): Vec3[] {
  if (points.length <= most) return points;
  const step = points.length / most;
  return Array.from({ length: most }, (_, i) => points[Math.floor(i * step)] ?? points[0]!);
}

/** How far vectors are from lying in one plane, as a share of their spread. */
export function spread(vectors: readonly Vec3[]): number {
  const plane = planeThrough(vectors);
  const mean = centroidOf(vectors);
  const far = Math.max(1e-12, extremes(vectors.map((p) => length(subtract(p, mean))))[1]);
  return residualOf(plane, vectors) / far;
}

export type Row = readonly [radius: number, along: number];

/** The circle about an axis that a point lies on. */
export function rowOf(origin: Vec3, direction: Vec3, p: Vec3): Row {
  const w = subtract(p, origin);
  return [length(cross(w, direction)), dot(w, direction)];
}

/** Whether two circles about an axis are one. */
export const isSameRow = (a: Row, b: Row, tolerance: number): boolean =>
  Math.hypot(a[0] - b[0], a[1] - b[1]) < 4 * tolerance;

/** The different circles about an axis that points lie on; no more than `most` of them are looked for. */
export function rowsOf(
  { origin, direction }: Axis,
  points: readonly Vec3[],
  tolerance: number,
  most = Number.POSITIVE_INFINITY,
): Row[] {
  const rows: Row[] = [];
  for (const p of points) {
    if (rows.length >= most) break;
    const row = rowOf(origin, direction, p);
    if (!rows.some((other) => isSameRow(other, row, tolerance))) rows.push(row);
  }
  return rows;
}

/** The row that lies farthest from the first one. */
export const farthestRow = (rows: readonly Row[]): Row => {
  const first = rows[0] ?? [0, 0];
  const far = (row: Row): number => Math.hypot(row[0] - first[0], row[1] - first[1]);
  return rows.reduce((best, row) => (far(row) > far(best) ? row : best), first);
};

/**
 * The cylinder or cone about an axis with a straight profile through two circles; null for a flat ring. Radii that
 * differ by less than the tolerance are one.
 */
export function bandOf(
  origin: Vec3,
  direction: Vec3,
  { a, b, tolerance }: { readonly a: Row; readonly b: Row; readonly tolerance: number },
): Shape | null {
  const [dr, dz] = [b[0] - a[0], b[1] - a[1]];
  if (Math.abs(dz) < 1e-3 * Math.abs(dr)) return null;
  const slope = dr / dz;
  if (Math.abs(slope) < 1e-5 || Math.abs(dr) < tolerance) return { kind: 'cylinder', origin, direction, radius: a[0] };
  const apex = add(origin, scale(direction, a[1] - a[0] / slope));
  return {
    kind: 'cone',
    apex,
    direction: slope > 0 ? direction : scale(direction, -1),
    halfAngle: Math.atan(Math.abs(slope)),
  };
}

/** The axis of a fitted cylinder or cone; null for other surfaces. */
export function axisOfShape(shape: Shape | undefined): Axis | null {
  if (shape?.kind === 'cylinder') return { origin: shape.origin, direction: shape.direction };
  if (shape?.kind === 'cone') return { origin: shape.apex, direction: shape.direction };
  return null;
}
