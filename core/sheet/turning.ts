import type { Sphere, Torus, Triangle } from '#core/solid';
import {
  add,
  cross,
  dot,
  extremes,
  length,
  normalize,
  perpendicular,
  scale,
  subtract,
  type Vec2,
  type Vec3,
} from '#core/vector';

/** Where a round surface turns away from the viewer: a curve in space by a number along it. */
export interface OutlineCurve {
  readonly stops: readonly number[];
  readonly at: (u: number) => Vec3;
  /** Where it has to be within a face to be the outline of it there. */
  readonly within: (u: number) => readonly SurfacePoint[];
}

/** A point of a surface with its unit normal. */
export interface SurfacePoint {
  readonly point: Vec3;
  readonly normal: Vec3;
}

/** A view that is so nearly square to the axis of a ring sees it from the side, and one so nearly along it from above. */
const SQUARE_SINE = 1e-9;
const STOPS_ROUND = 90;
/** Between two stops the outline of a ring turns about its section by no more than this. */
const TURN_RAD = 0.05;
const NARROWEST_RAD = 1e-9;
const BESIDE_RAD = 0.02;

const roundStops: readonly number[] = Array.from(
  { length: STOPS_ROUND + 1 },
  (_, i) => (2 * Math.PI * i) / STOPS_ROUND,
);

/**
 * The outlines of a ring. About its section, at the angle t from its plane, its normal is cos t e + sin t d for the
 * direction e from the center and the axis d; it stands square to the view v where tan t = -(e v) / (d v).
 */
export function ringOutlines(ring: Torus, toViewer: Vec3): readonly OutlineCurve[] {
  const { center, direction, majorRadiusMm, minorRadiusMm } = ring;
  const lift = dot(direction, toViewer);
  const flat = subtract(toViewer, scale(direction, lift));
  const u = length(flat) < SQUARE_SINE ? perpendicular(direction) : normalize(flat);
  const w = cross(direction, u);
  const outward = (turn: number): Vec3 => add(scale(u, Math.cos(turn)), scale(w, Math.sin(turn)));
  const normal = (turn: number, tilt: number): Vec3 =>
    add(scale(outward(turn), Math.cos(tilt)), scale(direction, Math.sin(tilt)));
  const point = (turn: number, tilt: number): Vec3 =>
    add(center, add(scale(outward(turn), majorRadiusMm), scale(normal(turn, tilt), minorRadiusMm)));
  const placed = (turn: number, tilt: number): SurfacePoint => ({
    point: point(turn, tilt),
    normal: normal(turn, tilt),
  });
  if (Math.abs(lift) < SQUARE_SINE)
    return [
      ...[Math.PI / 2, -Math.PI / 2].map((turn) => ({
        stops: roundStops,
        at: (tilt: number) => point(turn, tilt),
        within: (tilt: number) => [placed(turn, tilt)],
      })),
      // Where a face ends on its highest circle, that is an edge, and no outline within the face.
      ...[Math.PI / 2, -Math.PI / 2].map((tilt) => ({
        stops: roundStops,
        at: (turn: number) => point(turn, tilt),
        within: (turn: number) => [placed(turn, tilt - BESIDE_RAD), placed(turn, tilt + BESIDE_RAD)],
      })),
    ];
  const tiltAt = (turn: number): number => Math.atan2(-length(flat) * Math.cos(turn), lift);
  const stops = finely(roundStops, tiltAt);
  return [0, Math.PI].map((more) => ({
    stops,
    at: (turn) => point(turn, tiltAt(turn) + more),
    within: (turn) => [placed(turn, tiltAt(turn) + more)],
  }));
}

/** Stops with others between them where a function turns fast. */
function finely(stops: readonly number[], angle: (u: number) => number): readonly number[] {
  const between = (from: number, to: number): readonly number[] => {
    if (to - from < NARROWEST_RAD || Math.abs(angle(to) - angle(from)) < TURN_RAD) return [to];
    const middle = (from + to) / 2;
    return [...between(from, middle), ...between(middle, to)];
  };
  const [first = 0] = stops;
  return [first, ...stops.slice(1).flatMap((to, i) => between(stops[i] ?? to, to))];
}

/** The outline of a ball: its great circle square to the view. */
export function ballOutline({ center, radiusMm }: Sphere, toViewer: Vec3): OutlineCurve {
  const u = perpendicular(toViewer);
  const w = cross(toViewer, u);
  const normalAt = (t: number): Vec3 => add(scale(u, Math.cos(t)), scale(w, Math.sin(t)));
  const at = (t: number): Vec3 => add(center, scale(normalAt(t), radiusMm));
  return { stops: roundStops, at, within: (t) => [{ point: at(t), normal: normalAt(t) }] };
}

/** Barycentric coordinates from this on count as inside. */
const ON_BORDER = -1e-6;

/**
 * Tells whether the triangles of a face cover a point of its surface, looked at along its normal; `outward` is -1 where the
 * normal looks into the part.
 */
export function coverOf(triangles: readonly Triangle[], outward: 1 | -1): (at: SurfacePoint) => boolean {
  const sizes = triangles.map(([a, b, c]) =>
    Math.max(length(subtract(b, a)), length(subtract(c, b)), length(subtract(a, c))),
  );
  const reach = 1.5 * Math.max(1e-9, ...sizes);
  // In slices along the axis in which the face is longest, so that few triangles are asked.
  const spans = ([0, 1, 2] as const).map((axis) => extremes(triangles.map(([corner]) => corner[axis])));
  const widths = spans.map(([low, high]) => high - low);
  const axis = ([0, 1, 2] as const).reduce((best, one) => ((widths[one] ?? 0) > (widths[best] ?? 0) ? one : best));
  const sliceOf = (p: Vec3): number => Math.floor((p[axis] - (spans[axis]?.[0] ?? 0)) / reach);
  const slices = new Map<number, Triangle[]>();
  for (const triangle of triangles) {
    const slice = sliceOf(triangle[0]);
    const others = slices.get(slice);
    if (others === undefined) slices.set(slice, [triangle]);
    else others.push(triangle);
  }
  return ({ point, normal }) => {
    const slice = sliceOf(point);
    const u = perpendicular(normal);
    const w = cross(normal, u);
    const isOver = (triangle: Triangle): boolean => {
      const [[x, y, z]] = triangle;
      const isNear = Math.abs(x - point[0]) < reach && Math.abs(y - point[1]) < reach && Math.abs(z - point[2]) < reach;
      if (!isNear) return false;
      // The far side of a ring is not here.
      const facing = facingOf(triangle);
      if (outward * dot(facing, normal) < length(facing) / 2) return false;
      const flat = (corner: Vec3): Vec2 => [dot(subtract(corner, point), u), dot(subtract(corner, point), w)];
      const [[ax, ay], [bx, by], [cx, cy]] = [flat(triangle[0]), flat(triangle[1]), flat(triangle[2])];
      const area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
      if (Math.abs(area) < 1e-12) return false;
      const [s, t] = [(bx * cy - cx * by) / area, (cx * ay - ax * cy) / area];
      return Math.min(s, t, 1 - s - t) >= ON_BORDER;
    };
    return [slice - 1, slice, slice + 1].some((one) => slices.get(one)?.some(isOver) === true);
  };
}

const keyOf = (p: Vec3): string => p.map((value) => Math.round(value * 1e5)).join(',');

/**
 * Where a free-form face turns away from the viewer, as straight pieces: through each triangle, along the line on which the
 * normal, of its corners the mean of the triangles about them and between them linear, stands square to the view.
 */
export function facetOutlines(triangles: readonly Triangle[], toViewer: Vec3): readonly (readonly [Vec3, Vec3])[] {
  const normals = new Map<string, Vec3>();
  for (const triangle of triangles) {
    const facing = facingOf(triangle);
    for (const corner of triangle) {
      const key = keyOf(corner);
      normals.set(key, add(normals.get(key) ?? [0, 0, 0], facing));
    }
  }
  const towards = (p: Vec3): number => {
    const normal = normals.get(keyOf(p));
    const sine = normal === undefined || length(normal) < 1e-12 ? 0 : dot(normalize(normal), toViewer);
    // On edge to within rounding is on edge, so that all triangles at the point take it alike.
    return Math.abs(sine) < ROUNDING_SINE ? 0 : sine;
  };
  return triangles.flatMap((corners) => {
    const crossings = corners.flatMap((a, i) => {
      const b = corners[(i + 1) % 3] ?? a;
      const [from, to] = [towards(a), towards(b)];
      return from < 0 === to < 0 ? [] : [add(a, scale(subtract(b, a), from / (from - to)))];
    });
    const [first, second] = crossings;
    return first === undefined || second === undefined ? [] : [[first, second] as const];
  });
}

/** The normal of a triangle, as long as twice its area. */
const facingOf = ([a, b, c]: Triangle): Vec3 => cross(subtract(b, a), subtract(c, a));

const ROUNDING_SINE = 1e-9;

/** A triangle that looks to the viewer at a smaller angle stands on edge. */
const ON_EDGE_SINE = 1e-4;

/** The stretches of an edge at which one of its two faces looks to the viewer and the other away. */
export function turningEdges(
  corners: readonly Vec3[],
  sides: readonly (readonly Triangle[])[],
  toViewer: Vec3,
): readonly (readonly Vec3[])[] {
  const looks = sides.map((triangles) => {
    const facing = new Map<string, number>();
    for (const triangle of triangles) {
      const normal = facingOf(triangle);
      triangle.forEach((a, i) => {
        facing.set(sideKey(a, triangle[(i + 1) % 3] ?? a), dot(normal, toViewer) / Math.max(1e-12, length(normal)));
      });
    }
    return facing;
  });
  const runs: Vec3[][] = [];
  let run: Vec3[] = [];
  corners.slice(1).forEach((b, i) => {
    const a = corners[i] ?? b;
    const [first = 0, second = 0] = looks.map((facing) => facing.get(sideKey(a, b)) ?? 0);
    const turns = Math.min(first, second) < -ON_EDGE_SINE && Math.max(first, second) > ON_EDGE_SINE;
    if (turns && run.length === 0) runs.push((run = [a]));
    if (turns) run.push(b);
    else run = [];
  });
  return runs;
}

const sideKey = (a: Vec3, b: Vec3): string => [keyOf(a), keyOf(b)].sort().join(' ');
