/** Surfaces through points: distances, least squares, and how sure the result is. */
import {
  add,
  cross,
  dot,
  extremes,
  length,
  nearestOnLine,
  normalize,
  perpendicular,
  scale,
  subtract,
  symmetricAxes,
  type Mat3,
  type Vec3,
} from '#core/vector';

/** A surface without sides: what a set of points can tell. */
export type Shape =
  | { readonly kind: 'plane'; readonly origin: Vec3; readonly normal: Vec3 }
  | { readonly kind: 'cylinder'; readonly origin: Vec3; readonly direction: Vec3; readonly radius: number }
  /** The half angle is between axis and surface; the cone opens along `direction` from its apex. */
  | { readonly kind: 'cone'; readonly apex: Vec3; readonly direction: Vec3; readonly halfAngle: number }
  | { readonly kind: 'sphere'; readonly center: Vec3; readonly radius: number }
  | {
      readonly kind: 'torus';
      readonly center: Vec3;
      readonly direction: Vec3;
      readonly major: number;
      readonly minor: number;
    };

/** Distance of a point from a line, without intermediate vectors: this is what fitting spends its time on. */
function offAxis(p: Vec3, origin: Vec3, direction: Vec3): number {
  const [x, y, z] = [p[0] - origin[0], p[1] - origin[1], p[2] - origin[2]];
  const [dx, dy, dz] = direction;
  const [cx, cy, cz] = [y * dz - z * dy, z * dx - x * dz, x * dy - y * dx];
  return Math.sqrt(cx * cx + cy * cy + cz * cz);
}

/** Signed distance of a point from the surface, positive on the side its normal points to (away from axis or tube). */
export function distanceTo(shape: Shape, p: Vec3): number {
  switch (shape.kind) {
    case 'plane':
      return dot(subtract(p, shape.origin), shape.normal);
    case 'cylinder':
      return offAxis(p, shape.origin, shape.direction) - shape.radius;
    case 'cone': {
      const w = subtract(p, shape.apex);
      const z = dot(w, shape.direction);
      const r = length(cross(w, shape.direction));
      return r * Math.cos(shape.halfAngle) - z * Math.sin(shape.halfAngle);
    }
    case 'sphere':
      return length(subtract(p, shape.center)) - shape.radius;
    case 'torus': {
      const w = subtract(p, shape.center);
      const z = dot(w, shape.direction);
      const r = length(cross(w, shape.direction));
      return Math.sqrt((r - shape.major) ** 2 + z * z) - shape.minor;
    }
  }
}

/** Unit normal at the foot of a point, away from axis, center or tube. */
export function normalAt(shape: Shape, p: Vec3): Vec3 {
  switch (shape.kind) {
    case 'plane':
      return shape.normal;
    case 'cylinder':
      return normalize(subtract(p, nearestOnLine(p, shape.origin, shape.direction)));
    case 'cone': {
      const radial = normalize(subtract(p, nearestOnLine(p, shape.apex, shape.direction)));
      return subtract(scale(radial, Math.cos(shape.halfAngle)), scale(shape.direction, Math.sin(shape.halfAngle)));
    }
    case 'sphere':
      return normalize(subtract(p, shape.center));
    case 'torus': {
      const radial = normalize(subtract(p, nearestOnLine(p, shape.center, shape.direction)));
      return normalize(subtract(p, add(shape.center, scale(radial, shape.major))));
    }
  }
}

/** The two principal curvatures at the foot of a point, positive where the surface bends away from its normal. */
export function curvaturesAt(shape: Shape, p: Vec3): readonly [number, number] {
  switch (shape.kind) {
    case 'plane':
      return [0, 0];
    case 'cylinder':
      return [1 / shape.radius, 0];
    case 'cone': {
      const r = length(cross(subtract(p, shape.apex), shape.direction));
      return [r > 0 ? Math.cos(shape.halfAngle) / r : 0, 0];
    }
    case 'sphere':
      return [1 / shape.radius, 1 / shape.radius];
    case 'torus': {
      const r = length(cross(subtract(p, shape.center), shape.direction));
      const outward = (r - shape.major) / shape.minor;
      return [1 / shape.minor, r > 0 ? Math.max(-1, Math.min(1, outward)) / r : 0];
    }
  }
}

/** Solves a x = b for a small system by elimination with pivots; null when it is singular. */
export function solve(a: readonly (readonly number[])[], b: readonly number[]): number[] | null {
  const n = b.length;
  const rows = a.map((row, i) => [...row, b[i] ?? 0]);
  for (let i = 0; i < n; i++) {
    let pivot = i;
    for (let j = i + 1; j < n; j++) if (Math.abs(rows[j]?.[i] ?? 0) > Math.abs(rows[pivot]?.[i] ?? 0)) pivot = j;
    const chosen = rows[pivot];
    const current = rows[i];
    if (!chosen || !current || Math.abs(chosen[i] ?? 0) < 1e-14) return null;
    rows[pivot] = current;
    rows[i] = chosen;
    for (let j = 0; j < n; j++) {
      const row = rows[j];
      if (j === i || !row) continue;
      const factor = (row[i] ?? 0) / (chosen[i] ?? 1);
      for (let k = i; k <= n; k++) row[k] = (row[k] ?? 0) - factor * (chosen[k] ?? 0);
    }
  }
  return rows.map((row, i) => (row[n] ?? 0) / (row[i] ?? 1));
}

interface Chart {
  readonly start: readonly number[];
  readonly at: (x: readonly number[]) => Shape;
}

/** Parameters around a shape, scaled so that a unit of each moves the surface about as far. */
function chartOf(shape: Shape, sizeMm: number): Chart {
  const turned = (direction: Vec3, a: number, b: number): Vec3 => {
    const u = perpendicular(direction);
    const v = cross(direction, u);
    return normalize(add(direction, add(scale(u, a / sizeMm), scale(v, b / sizeMm))));
  };
  /** Moved by a and b across the direction and by c along it. */
  const shifted = (point: Vec3, direction: Vec3, [a, b, c]: Vec3): Vec3 => {
    const u = perpendicular(direction);
    const v = cross(direction, u);
    return add(point, add(add(scale(u, a), scale(v, b)), scale(direction, c)));
  };
  switch (shape.kind) {
    case 'plane':
      return {
        start: [0, 0, 0],
        at: ([a = 0, b = 0, c = 0]) => ({
          kind: 'plane',
          origin: shifted(shape.origin, shape.normal, [0, 0, c]),
          normal: turned(shape.normal, a, b),
        }),
      };
    case 'cylinder':
      return {
        start: [0, 0, 0, 0, 0],
        at: ([a = 0, b = 0, c = 0, d = 0, r = 0]) => ({
          kind: 'cylinder',
          origin: shifted(shape.origin, shape.direction, [c, d, 0]),
          direction: turned(shape.direction, a, b),
          radius: shape.radius + r,
        }),
      };
    case 'cone':
      return {
        start: [0, 0, 0, 0, 0, 0],
        at: ([a = 0, b = 0, c = 0, d = 0, e = 0, h = 0]) => ({
          kind: 'cone',
          apex: shifted(shape.apex, shape.direction, [c, d, e]),
          direction: turned(shape.direction, a, b),
          halfAngle: shape.halfAngle + h / sizeMm,
        }),
      };
    case 'sphere':
      return {
        start: [0, 0, 0, 0],
        at: ([a = 0, b = 0, c = 0, r = 0]) => ({
          kind: 'sphere',
          center: add(shape.center, [a, b, c]),
          radius: shape.radius + r,
        }),
      };
    case 'torus':
      return {
        start: [0, 0, 0, 0, 0, 0, 0],
        at: ([a = 0, b = 0, c = 0, d = 0, e = 0, big = 0, small = 0]) => ({
          kind: 'torus',
          center: shifted(shape.center, shape.direction, [c, d, e]),
          direction: turned(shape.direction, a, b),
          major: shape.major + big,
          minor: shape.minor + small,
        }),
      };
  }
}

export interface Fit {
  readonly shape: Shape;
  /** Largest distance of a point from the surface. */
  readonly residual: number;
  /** Half width, in mm, that covers the error of place and size. */
  readonly uncertainty: number;
}

/** The largest distance of the points from a fitted surface, mm; 0 for no points. */
export const residualOf = (shape: Shape, points: readonly Vec3[]): number =>
  points.reduce((worst, p) => Math.max(worst, Math.abs(distanceTo(shape, p))), 0);

/**
 * Least squares from a near start (Gauss-Newton with damping after Levenberg and Marquardt). The uncertainty is three
 * standard deviations of the worst parameter, from the scatter of the points but at least from `noise`.
 */
export function refine(
  shape: Shape,
  points: readonly Vec3[],
  { sizeMm, noise, rounds = 12 }: { readonly sizeMm: number; readonly noise: number; readonly rounds?: number },
): Fit {
  let current = shape;
  let damping = 1e-6;
  let cost = squares(current, points);
  let normalMatrix: number[][] = [];
  for (let round = 0; round < rounds; round++) {
    const chart = chartOf(current, sizeMm);
    const n = chart.start.length;
    const step = Math.max(1e-7 * sizeMm, 1e-9);
    const moved = chart.start.map((_, j) => [
      chart.at(chart.start.map((x, i) => (i === j ? x + step : x))),
      chart.at(chart.start.map((x, i) => (i === j ? x - step : x))),
    ]);
    const a = Array.from({ length: n }, () => new Array<number>(n).fill(0));
    const b = new Array<number>(n).fill(0);
    const slopes = new Float64Array(n);
    for (const p of points) {
      const r = distanceTo(current, p);
      for (let j = 0; j < n; j++) {
        const pair = moved[j]!;
        slopes[j] = (distanceTo(pair[0]!, p) - distanceTo(pair[1]!, p)) / (2 * step);
      }
      for (let i = 0; i < n; i++) {
        b[i]! -= slopes[i]! * r;
        const row = a[i]!;
        for (let j = 0; j < n; j++) row[j]! += slopes[i]! * slopes[j]!;
      }
    }
    normalMatrix = a;
    const damped = a.map((row, i) => row.map((value, j) => (i === j ? value * (1 + damping) + 1e-15 : value)));
    const change = solve(damped, b);
    if (change === null) break;
    const next = chart.at(change);
    const nextCost = squares(next, points);
    if (!(nextCost <= cost)) {
      damping *= 30;
      if (damping > 1e6) break;
      continue;
    }
    const gain = cost - nextCost;
    current = next;
    cost = nextCost;
    damping = Math.max(1e-9, damping / 10);
    if (gain <= 1e-12 * cost || cost < points.length * (noise * 1e-2) ** 2) break;
  }
  const residual = residualOf(current, points);
  const scatter = Math.max(noise, Math.sqrt(cost / Math.max(1, points.length)));
  const spread = normalMatrix.map((_, i) => {
    const unit = normalMatrix.map((__, j) => (i === j ? 1 : 0));
    return Math.sqrt(Math.abs(solve(normalMatrix, unit)?.[i] ?? 1e6));
  });
  // Turning parameters count by what they move at the far end of the points, so all are in mm.
  const worst = spread.length === 0 ? 1 : Math.max(...spread);
  return { shape: current, residual, uncertainty: Math.max(residual, 3 * scatter * Math.min(worst, 1e4)) };
}

const squares = (shape: Shape, points: readonly Vec3[]): number =>
  points.reduce((sum, p) => sum + distanceTo(shape, p) ** 2, 0);

/** The mean of points, mm; the origin for no points. */
export function centroidOf(points: readonly Vec3[]): Vec3 {
  const sum = points.reduce<Vec3>((total, p) => add(total, p), [0, 0, 0]);
  return scale(sum, 1 / Math.max(1, points.length));
}

/** Matrix of second moments of vectors about their mean. */
export function scatterOf(points: readonly Vec3[]): Mat3 {
  const mean = centroidOf(points);
  const m = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ];
  for (const p of points) {
    const w = subtract(p, mean);
    for (const i of [0, 1, 2] as const)
      for (const j of [0, 1, 2] as const) {
        const row = m[i];
        if (row) row[j] = (row[j] ?? 0) + w[i] * w[j];
      }
  }
  return m as unknown as Mat3;
}

/** The plane through points, by least squares. */
export function planeThrough(points: readonly Vec3[]): Shape {
  const [smallest] = symmetricAxes(scatterOf(points));
  return { kind: 'plane', origin: centroidOf(points), normal: smallest?.direction ?? [0, 0, 1] };
}

/** Center and radius of the circle through points of a plane, by linear least squares (Kåsa); null when they are on a line. */
export function circleThrough(
  points: readonly (readonly [number, number])[],
): { readonly center: readonly [number, number]; readonly radius: number; readonly residual: number } | null {
  const n = points.length;
  if (n < 3) return null;
  const [mx, my] = [points.reduce((s, p) => s + p[0], 0) / n, points.reduce((s, p) => s + p[1], 0) / n];
  let [suu, svv, suv, a, b] = [0, 0, 0, 0, 0];
  for (const [px, py] of points) {
    const [x, y] = [px - mx, py - my];
    const q = x * x + y * y;
    suu += x * x;
    svv += y * y;
    suv += x * y;
    a += x * q;
    b += y * q;
  }
  const det = suu * svv - suv * suv;
  if (det <= 1e-12 * (suu + svv) ** 2) return null;
  const x = (a * svv - b * suv) / (2 * det);
  const y = (b * suu - a * suv) / (2 * det);
  const center = [mx + x, my + y] as const;
  const radii = points.map((p) => Math.hypot(p[0] - center[0], p[1] - center[1]));
  const radius = radii.reduce((s, r) => s + r, 0) / n;
  return { center, radius, residual: extremes(radii.map((r) => Math.abs(r - radius)))[1] };
}

/** A circle in space. */
export interface SpaceCircle {
  readonly center: Vec3;
  readonly normal: Vec3;
  readonly radiusMm: number;
  /** Farthest that a point lies off it, in its plane, mm. */
  readonly residual: number;
}

/** The circle through points of a plane in space, by least squares; null when they are on a line. */
export function spaceCircleThrough(points: readonly Vec3[]): SpaceCircle | null {
  const plane = points.length < 4 ? null : planeThrough(points);
  if (plane?.kind !== 'plane') return null;
  const { origin, normal } = plane;
  const u = perpendicular(normal);
  const v = cross(normal, u);
  const circle = circleThrough(
    points.map((p) => {
      const from = subtract(p, origin);
      return [dot(from, u), dot(from, v)];
    }),
  );
  if (circle === null) return null;
  const center = add(origin, add(scale(u, circle.center[0]), scale(v, circle.center[1])));
  return { center, normal, radiusMm: circle.radius, residual: circle.residual };
}

/** The cylinder through points whose axis runs along `direction`. */
export function cylinderAlong(direction: Vec3, points: readonly Vec3[]): { shape: Shape; residual: number } | null {
  const u = perpendicular(direction);
  const v = cross(direction, u);
  const circle = circleThrough(points.map((p) => [dot(p, u), dot(p, v)]));
  if (circle === null) return null;
  const mean = centroidOf(points);
  const origin = add(
    add(scale(u, circle.center[0]), scale(v, circle.center[1])),
    scale(direction, dot(mean, direction)),
  );
  return { shape: { kind: 'cylinder', origin, direction, radius: circle.radius }, residual: circle.residual };
}

/** The sphere through points, by linear least squares; null when they lie in a plane. */
export function sphereThrough(points: readonly Vec3[]): { shape: Shape; residual: number } | null {
  const mean = centroidOf(points);
  const a = Array.from({ length: 4 }, () => new Array<number>(4).fill(0));
  const b = new Array<number>(4).fill(0);
  for (const p of points) {
    const w = subtract(p, mean);
    const row = [2 * w[0], 2 * w[1], 2 * w[2], 1];
    const value = dot(w, w);
    for (let i = 0; i < 4; i++) {
      b[i] = (b[i] ?? 0) + (row[i] ?? 0) * value;
      const target = a[i];
      if (target) for (let j = 0; j < 4; j++) target[j] = (target[j] ?? 0) + (row[i] ?? 0) * (row[j] ?? 0);
    }
  }
  const x = solve(a, b);
  if (x === null) return null;
  const center: Vec3 = [x[0] ?? 0, x[1] ?? 0, x[2] ?? 0];
  const radius = Math.sqrt(Math.max(0, (x[3] ?? 0) + dot(center, center)));
  if (!(radius > 0) || !Number.isFinite(radius)) return null;
  const shape: Shape = { kind: 'sphere', center: add(mean, center), radius };
  return { shape, residual: residualOf(shape, points) };
}

/** The torus or sphere about a known axis line whose profile circle goes through points. */
export function torusAbout(
  origin: Vec3,
  direction: Vec3,
  points: readonly Vec3[],
): { shape: Shape; residual: number } | null {
  const profile = points.map((p): [number, number] => {
    const w = subtract(p, origin);
    return [length(cross(w, direction)), dot(w, direction)];
  });
  const circle = circleThrough(profile);
  if (circle === null || !(circle.radius > 0)) return null;
  const [major, along] = circle.center;
  const center = add(origin, scale(direction, along));
  const shape: Shape =
    Math.abs(major) < 1e-4 * circle.radius
      ? { kind: 'sphere', center, radius: circle.radius }
      : { kind: 'torus', center, direction, major, minor: circle.radius };
  return { shape, residual: residualOf(shape, points) };
}

/**
 * The axis that the normals of a surface of revolution all meet, by linear least squares over line coordinates
 * (Pottmann and Randrup, "Rotational and helical surface approximation for reverse engineering", 1998).
 */
export function axisOfNormals(
  points: readonly Vec3[],
  normals: readonly Vec3[],
): { origin: Vec3; direction: Vec3 } | null {
  const mean = centroidOf(points);
  const size = Math.max(1e-9, extremes(points.map((p) => length(subtract(p, mean))))[1]);
  // Minimize sum (direction . (q x n) + moment . n)^2 with |direction| = 1: the moment is eliminated first.
  const nn = Array.from({ length: 3 }, () => [0, 0, 0]);
  const nq = Array.from({ length: 3 }, () => [0, 0, 0]);
  const qq = Array.from({ length: 3 }, () => [0, 0, 0]);
  points.forEach((p, i) => {
    const n = normals[i] ?? [0, 0, 1];
    const m = cross(scale(subtract(p, mean), 1 / size), n);
    for (const j of [0, 1, 2] as const)
      for (const k of [0, 1, 2] as const) {
        nn[j]![k]! += n[j] * n[k];
        nq[j]![k]! += n[j] * m[k];
        qq[j]![k]! += m[j] * m[k];
      }
  });
  const columns = [0, 1, 2].map((k) =>
    solve(
      nn.map((row, i) => row.map((value, j) => (i === j ? value + 1e-9 : value))),
      [nq[0]![k]!, nq[1]![k]!, nq[2]![k]!],
    ),
  );
  if (columns.some((column) => column === null)) return null;
  const reduced = [0, 1, 2].map((j) =>
    [0, 1, 2].map((k) => qq[j]![k]! - [0, 1, 2].reduce((s, i) => s + nq[i]![j]! * (columns[k]?.[i] ?? 0), 0)),
  ) as unknown as Mat3;
  const [smallest] = symmetricAxes(reduced);
  if (!smallest) return null;
  const direction = smallest.direction;
  const moment: Vec3 = [0, 1, 2].map(
    (i) => -[0, 1, 2].reduce((s, k) => s + (columns[k]?.[i] ?? 0) * (direction[k] ?? 0), 0),
  ) as unknown as Vec3;
  // direction . (q x n) + moment . n = 0 for lines that meet the axis; its point nearest to the mean is direction x moment.
  return { origin: add(mean, scale(cross(direction, moment), size)), direction };
}
