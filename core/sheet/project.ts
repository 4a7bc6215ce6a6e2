import type { ViewDirection } from '#core/kernel';
import { normalAt } from '#core/fit';
import { shapeOf, trianglesOf, type Face, type Solid, type Triangle } from '#core/solid';
import {
  add,
  boxCorners,
  boxDiagonal,
  cross,
  dot,
  extremes,
  length,
  normalize,
  ORIGIN,
  perpendicular,
  pointAt,
  pointsOf,
  scale,
  subtract,
  type Vec2,
  type Vec3,
} from '#core/vector';

import { bisect } from './bisect.ts';
import { recognizeCurve, sweepOf, type Projection, type SheetCurve } from './lines.ts';
import { ballOutline, coverOf, facetOutlines, ringOutlines, turningEdges, type OutlineCurve } from './turning.ts';
import { axesOf, seen, type ViewAxes } from './views.ts';

/** What is needed of a part to draw a view of it. */
export type Drawable = Pick<Solid, 'faces' | 'edges' | 'mesh' | 'bounds'>;

/** Pieces along an edge of the size of the part, each of which is seen or hidden as a whole before its ends are refined. */
const PIECES = 160;
const HALVINGS = 14;
const OUTLINE_HALVINGS = 24;
/** Points along a piece of an arc or ellipse, close enough together to tell which way round it runs. */
const CURVE_POINTS = 12;
const GRID_CELLS = 72;
/** A point lies on the border of a triangle when a barycentric coordinate is this small. */
const ON_BORDER = 1e-7;
/** So far to both sides of a border it is looked for what covers it, as a share of the part: far more than the border is wide. */
const BESIDE_SHARE = 1e-5;
/** Triangles whose angle is so far off a generator may still hold it, as far as rounding goes. */
const GENERATOR_SLACK_RAD = 1e-3;
/** So far in front, as a share of the part, something hides what was found on triangles. */
const ROUGH_SHARE = 0.05;
/** A face that is seen at a smaller angle stands on edge. */
const ON_EDGE_SINE = 1e-4;
/** So far into a face, as a share of the way to its next edge, it is looked at beside an edge. */
const BEYOND_SHARE = 0.05;

/**
 * Hidden-line projection of an analyzed part: its sharp edges and the outlines of its round surfaces, as exact as the
 * part itself; what is hidden is found with its display triangles. Tangent edges are found on request.
 */
export function projectSolid(
  part: Drawable,
  view: ViewDirection,
  { tangent = false }: { readonly tangent?: boolean } = {},
): Projection {
  return new Projector(part, axesOf(view)).project(tangent);
}

/** A line in space by a number along it. */
interface Trace {
  readonly from: number;
  readonly to: number;
  readonly at: (u: number) => Vec3;
  /** Where pieces begin and end at the latest. */
  readonly stops: readonly number[];
  readonly faceIds: readonly number[];
  /** Found on triangles, and so somewhat off the turn of the face: behind its own triangles it is not hidden. */
  readonly isRough?: boolean;
}

class Projector {
  private readonly part: Drawable;
  private readonly axes: ViewAxes;
  private readonly size: number;
  private readonly covers: Cover;
  private readonly visible: SheetCurve[] = [];
  private readonly hidden: SheetCurve[] = [];
  private readonly tangent: SheetCurve[] = [];

  constructor(part: Drawable, axes: ViewAxes) {
    this.part = part;
    this.axes = axes;
    this.size = boxDiagonal(part.bounds);
    this.covers = new Cover(part, axes, this.size);
  }

  project(withTangent: boolean): Projection {
    const { edges, mesh, faces } = this.part;
    for (const { edgeId, faceIds, points } of mesh.edges) {
      const convexity = edges[edgeId]?.convexity;
      if (edgeId < 0 || convexity === 'seam' || convexity === 'degenerate' || (convexity === 'smooth' && !withTangent))
        continue;
      const corners = Array.from({ length: points.length / 3 }, (_, i) => pointAt(points, i));
      const circular = edges[edgeId]?.curve === 'circle';
      const line = polyline(circular ? withTurningPoints(corners, this.axes.toViewer) : corners, faceIds);
      this.draw(line, convexity === 'smooth' ? this.tangent : this.visible);
    }
    for (const face of faces) for (const outline of this.outlinesOf(face)) this.draw(outline, this.visible);
    for (const outline of this.smoothOutlines()) this.draw(outline, this.visible);
    return { visible: this.visible, hidden: this.hidden, tangent: this.tangent };
  }

  private isHidden({ at, faceIds, isRough = false }: Trace, u: number): boolean {
    const p = at(u);
    // Near a turn the triangles of a face stand on edge: a little to the side is far in depth.
    const nearer = isRough ? ROUGH_SHARE * this.size : 0;
    return this.covers.over(seen(this.axes, p), dot(p, this.axes.toViewer) + nearer, faceIds);
  }

  /** Adds what is seen of a line to `shown`, what is not to the hidden lines; smooth edges are not drawn hidden. */
  private draw(trace: Trace, shown: SheetCurve[]): void {
    const whole = trace.stops.map((u) => seen(this.axes, trace.at(u)));
    const curve = recognizeCurve({ points: whole });
    if (curve === null) return;
    const cuts: number[] = [];
    trace.stops.slice(1).forEach((end, i) => {
      const begin = trace.stops[i] ?? end;
      const [a, b] = [trace.at(begin), trace.at(end)];
      const count = Math.max(1, Math.ceil((length(subtract(b, a)) / this.size) * PIECES));
      for (let k = 0; k < count; k++) cuts.push(begin + ((end - begin) * k) / count);
    });
    cuts.push(trace.to);
    const isHidden = cuts.slice(1).map((end, i) => this.isHidden(trace, ((cuts[i] ?? end) + end) / 2));
    let start = trace.from;
    isHidden.forEach((now, i) => {
      const next = isHidden[i + 1];
      if (next === now) return;
      const end =
        next === undefined
          ? trace.to
          : this.border(
              trace,
              (cuts[i] ?? 0) / 2 + (cuts[i + 1] ?? 0) / 2,
              (cuts[i + 1] ?? 0) / 2 + (cuts[i + 2] ?? 0) / 2,
              now,
            );
      const into = !now ? shown : shown === this.tangent ? null : this.hidden;
      if (into !== null) this.put(trace, curve, { from: start, to: end, into });
      start = end;
    });
  }

  /** Where along a line it changes between seen and hidden. */
  private border(trace: Trace, low: number, high: number, atLow: boolean): number {
    return bisect((u) => this.isHidden(trace, u) === atLow, low, high, HALVINGS);
  }

  private put(
    trace: Trace,
    curve: SheetCurve,
    { from, to, into }: { readonly from: number; readonly to: number; readonly into: SheetCurve[] },
  ): void {
    const placed = (inner: readonly number[]): readonly Vec2[] =>
      [from, ...inner, to].map((u) => seen(this.axes, trace.at(u)));
    const corners = placed(trace.stops.filter((u) => u > from + 1e-9 && u < to - 1e-9));
    const isRound = curve.kind === 'arc' || curve.kind === 'ellipse';
    const points = isRound
      ? placed(Array.from({ length: CURVE_POINTS - 1 }, (_, i) => from + ((to - from) * (i + 1)) / CURVE_POINTS))
      : corners;
    // A rim that is seen from its side runs there and back: no piece of a round, and yet a line.
    const piece = pieceOf(curve, points) ?? (isRound ? { kind: 'polyline' as const, points: corners } : null);
    if (piece !== null) into.push(piece);
  }

  // ---- outlines

  /** Where a round face turns away from the viewer. */
  private outlinesOf(face: Face): readonly Trace[] {
    const { surface } = face;
    const { toViewer } = this.axes;
    switch (surface.kind) {
      case 'plane':
        return [];
      case 'cylinder': {
        const across = cross(surface.direction, toViewer);
        if (length(across) < 1e-6) return [];
        return [1, -1].flatMap((side) => {
          const ray = scale(normalize(across), side * surface.radiusMm);
          return this.alongFace(face, add(surface.origin, ray), surface.direction, surface);
        });
      }
      case 'cone': {
        const { direction, apex, halfAngleRad } = surface;
        const lift = dot(direction, toViewer);
        const flat = subtract(toViewer, scale(direction, lift));
        const share = (Math.tan(halfAngleRad) * lift) / Math.max(1e-12, length(flat));
        if (length(flat) < 1e-6 || Math.abs(share) >= 1) return [];
        const u = normalize(flat);
        const v = cross(direction, u);
        return [1, -1].flatMap((side) => {
          const e = add(scale(u, share), scale(v, side * Math.sqrt(1 - share * share)));
          const generator = add(scale(direction, Math.cos(halfAngleRad)), scale(e, Math.sin(halfAngleRad)));
          return this.alongFace(face, apex, generator, { origin: apex, direction });
        });
      }
      case 'torus':
        return this.withinFace(face, ringOutlines(surface, toViewer));
      case 'sphere':
        return this.withinFace(face, [ballOutline(surface, toViewer)]);
      default:
        return facetOutlines(this.trianglesOn(face.id), toViewer).map((corners) => ({
          ...polyline(corners, [face.id]),
          isRough: true,
        }));
    }
  }

  private trianglesOn(faceId: number): readonly Triangle[] {
    const { mesh } = this.part;
    return mesh.groups.filter((group) => group.faceId === faceId).flatMap((group) => trianglesOf(mesh, group));
  }

  /** The stretches of outlines that lie within a face. */
  private withinFace(face: Face, outlines: readonly OutlineCurve[]): readonly Trace[] {
    const isHollow = 'side' in face.surface && face.surface.side === 'concave';
    const isCovered = coverOf(this.trianglesOn(face.id), isHollow ? -1 : 1);
    return outlines.flatMap(({ stops, at, within }) => {
      const isIn = (u: number): boolean => within(u).every(isCovered);
      const inside = stops.map(isIn);
      const runs: number[][] = [];
      stops.forEach((u, i) => {
        const before = stops[i - 1];
        const [now, then] = [inside[i] === true, inside[i - 1] === true];
        if (now && !then) runs.push(before === undefined ? [] : [bisect(isIn, u, before, HALVINGS)]);
        if (now) runs.at(-1)?.push(u);
        if (!now && then && before !== undefined) runs.at(-1)?.push(bisect(isIn, before, u, HALVINGS));
      });
      return runs.flatMap((run): Trace[] => {
        const [from, to] = [run[0], run.at(-1)];
        return from === undefined || to === undefined || run.length < 2
          ? []
          : [{ from, to, at, stops: run, faceIds: [face.id] }];
      });
    });
  }

  /** The stretches of a straight line on a round face that lie within the face. */
  private alongFace(
    face: Face,
    origin: Vec3,
    direction: Vec3,
    axis: { readonly origin: Vec3; readonly direction: Vec3 },
  ): readonly Trace[] {
    const [low, high] = extremes(boxCorners(face.bounds).map((corner) => dot(subtract(corner, origin), direction)));
    const at = (u: number): Vec3 => add(origin, scale(direction, u));
    // Far from the apex of a cone, where its angle is plain.
    const inside = this.covers.alongGenerator(face.id, axis, at(Math.abs(high) > Math.abs(low) ? high : low));
    const count = 96;
    const step = (high - low) / count;
    if (!(step > 0)) return [];
    const isIn = (u: number): boolean => inside(at(u));
    const border = (out: number, into: number): number => bisect(isIn, into, out, OUTLINE_HALVINGS);
    const found: Trace[] = [];
    let begun: number | null = null;
    for (let i = 0; i <= count; i++) {
      const u = low + step * (i + (i === count ? 0 : 0.5));
      const now = i < count && isIn(u);
      if (now && begun === null) begun = border(Math.max(low, u - step) - 1e-9, u);
      if (!now && begun !== null) {
        const before = u - (i === count ? step / 2 : step);
        const end = border(Math.min(high, u) + 1e-9, before);
        found.push({ from: begun, to: end, at, stops: [begun, end], faceIds: [face.id] });
        begun = null;
      }
    }
    return found;
  }

  /**
   * Where a part turns away from the viewer just along a smooth edge, as a rounded rim does that is seen along its axis:
   * there both faces stand on edge, and beyond it the round one looks to the viewer. Others have outlines of their own.
   */
  private smoothOutlines(): readonly Trace[] {
    const { edges, faces, mesh } = this.part;
    const found: Trace[] = [];
    for (const { edgeId, faceIds, points } of mesh.edges) {
      const sides = faceIds.flatMap((id) => faces[id] ?? []);
      const isRound = sides.some(({ surface }) => surface.kind === 'torus' || surface.kind === 'sphere');
      if (edges[edgeId]?.convexity !== 'smooth') continue;
      const corners = pointsOf(points);
      if (sides.some(({ surface }) => surface.kind === 'freeform')) {
        const along = turningEdges(
          corners,
          sides.map(({ id }) => this.trianglesOn(id)),
          this.axes.toViewer,
        );
        found.push(...along.map((run) => polyline(run, faceIds)));
      }
      if (!isRound) continue;
      const beyond = sides.map(({ id }) =>
        mesh.edges
          .filter((edge) => edge.edgeId !== edgeId && edge.faceIds.includes(id))
          .flatMap((edge) => pointsOf(edge.points)),
      );
      let run: Vec3[] = [];
      const close = (): void => {
        if (run.length > 1) found.push(polyline(run, faceIds));
        run = [];
      };
      corners.slice(1).forEach((b, i) => {
        const a = corners[i] ?? b;
        // The corners of a polyline lie on its curve, what is between them beside it.
        const looks = sides.map((face, k) => this.looksBeyond(face, beyond[k] ?? [], a));
        if (looks.length !== 2 || looks[0] === looks[1] || looks.includes(null)) close();
        else if (run.length === 0) run = [a, b];
        else run.push(b);
      });
      close();
    }
    return found;
  }

  /**
   * Whether a face looks to the viewer just beyond a point of its edge at which it stands on edge; null where it does not.
   * `others` are points of its other edges.
   */
  private looksBeyond({ surface }: Face, others: readonly Vec3[], at: Vec3): boolean | null {
    const shape = shapeOf(surface);
    if (shape === null) return null;
    const normal = normalAt(shape, at);
    if (Math.abs(dot(normal, this.axes.toViewer)) > ON_EDGE_SINE) return null;
    if (surface.kind === 'plane') return false;
    // Into the face: towards the nearest of its other edges.
    let [inward, nearest]: [Vec3, number] = [ORIGIN, Infinity];
    for (const point of others) {
      const away = subtract(point, at);
      if (length(away) < nearest) [inward, nearest] = [away, length(away)];
    }
    if (!Number.isFinite(nearest)) return null;
    const step = normalize(subtract(inward, scale(normal, dot(inward, normal))));
    const beyond = normalAt(shape, add(at, scale(step, Math.min(nearest, this.size) * BEYOND_SHARE)));
    const outward = 'side' in surface && surface.side === 'concave' ? scale(beyond, -1) : beyond;
    return dot(outward, this.axes.toViewer) > ON_EDGE_SINE;
  }
}

function polyline(corners: readonly Vec3[], faceIds: readonly number[]): Trace {
  const last = corners.length - 1;
  return {
    from: 0,
    to: last,
    stops: corners.map((_, i) => i),
    faceIds,
    at: (u) => {
      const i = Math.min(last - 1, Math.max(0, Math.floor(u)));
      const [a, b] = [corners[i], corners[i + 1]];
      if (a === undefined || b === undefined) return a ?? [0, 0, 0];
      return add(a, scale(subtract(b, a), u - i));
    },
  };
}

/** The piece of a curve that some points near it, in order, run along. */
function pieceOf(curve: SheetCurve, points: readonly Vec2[]): SheetCurve | null {
  const [first, last] = [points[0], points.at(-1)];
  if (first === undefined || last === undefined) return null;
  if (curve.kind === 'line') return recognizeCurve({ points });
  if (curve.kind === 'polyline') return { kind: 'polyline', points };
  const parameter = ([x, y]: Vec2): number => {
    const [dx, dy] = [x - curve.center[0], y - curve.center[1]];
    if (curve.kind === 'arc') return Math.atan2(dy, dx);
    const [cos, sin] = [Math.cos(curve.turn), Math.sin(curve.turn)];
    return Math.atan2((dy * cos - dx * sin) / curve.radii[1], (dx * cos + dy * sin) / curve.radii[0]);
  };
  const sweep = sweepOf(points, parameter);
  const start = parameter(first) + Math.min(0, sweep);
  return Math.abs(sweep) < 1e-9 ? null : { ...curve, start, sweep: Math.abs(sweep) };
}

/**
 * The points of a circular edge with its two widest in the view among them, so that its line is as long as the circle is
 * wide when it is seen edge-on.
 */
function withTurningPoints(corners: readonly Vec3[], toViewer: Vec3): readonly Vec3[] {
  const [a, b, c] = [
    corners[0],
    corners[Math.floor(corners.length / 3)],
    corners[Math.floor((2 * corners.length) / 3)],
  ];
  if (!a || !b || !c) return corners;
  const [u, w] = [subtract(b, a), subtract(c, a)];
  const normal = cross(u, w);
  const across = cross(normal, toViewer);
  if (dot(normal, normal) < 1e-12 || length(across) < 1e-9 * length(normal)) return corners;
  // Circumcenter of three points: a + (|w|2 (u x w) x u + |u|2 w x (u x w)) / (2 |u x w|2).
  const lift = add(scale(cross(normal, u), dot(w, w)), scale(cross(w, normal), dot(u, u)));
  const center = add(a, scale(lift, 1 / (2 * dot(normal, normal))));
  const radius = length(subtract(a, center));
  const out = [...corners];
  for (const side of [1, -1]) {
    const extreme = add(center, scale(normalize(across), side * radius));
    const place = out.findIndex((p, i) => {
      const q = out[i + 1];
      // Between two neighbors that are both nearer to it than to each other.
      return (
        q !== undefined &&
        length(subtract(extreme, p)) + length(subtract(extreme, q)) < 1.02 * length(subtract(q, p)) + 1e-9
      );
    });
    if (place >= 0) out.splice(place + 1, 0, extreme);
  }
  return out;
}

interface SeenTriangle {
  readonly faceId: number;
  readonly a: Vec3;
  readonly b: Vec3;
  readonly c: Vec3;
}

/** Tells what lies over a point of the view: across, up, and depth towards the viewer of every triangle. */
class Cover {
  private readonly part: Drawable;
  private readonly triangles: SeenTriangle[] = [];
  private readonly grid: number[][];
  private readonly low: Vec2;
  private readonly cell: number;
  /** Another surface hides from this far in front; that of a face that the line lies on, from this far. */
  private readonly near: number;
  private readonly own: number;
  private readonly beside: number;

  constructor(part: Drawable, axes: ViewAxes, size: number) {
    this.part = part;
    this.beside = BESIDE_SHARE * size;
    this.near = 2e-4 * size + 1e-4;
    this.own = 0.02 * size;
    const { mesh } = part;
    const place = (p: Vec3): Vec3 => [...seen(axes, p), dot(p, axes.toViewer)];
    for (const group of mesh.groups)
      for (const [a, b, c] of trianglesOf(mesh, group))
        this.triangles.push({ faceId: group.faceId, a: place(a), b: place(b), c: place(c) });
    const seenCorners = this.triangles.flatMap(({ a, b, c }) => [a, b, c]);
    const [x0, x1] = extremes(seenCorners.map(([x]) => x));
    const [y0, y1] = extremes(seenCorners.map(([, y]) => y));
    this.low = [x0, y0];
    this.cell = Math.max(x1 - x0, y1 - y0, 1e-9) / GRID_CELLS;
    this.grid = Array.from({ length: GRID_CELLS * GRID_CELLS }, () => []);
    this.triangles.forEach(({ a, b, c }, t) => {
      const [left, right] = [this.column(Math.min(a[0], b[0], c[0]), 0), this.column(Math.max(a[0], b[0], c[0]), 0)];
      const [bottom, top] = [this.column(Math.min(a[1], b[1], c[1]), 1), this.column(Math.max(a[1], b[1], c[1]), 1)];
      for (let y = bottom; y <= top; y++) for (let x = left; x <= right; x++) this.grid[y * GRID_CELLS + x]?.push(t);
    });
  }

  private column(value: number, axis: 0 | 1): number {
    return Math.min(GRID_CELLS - 1, Math.max(0, Math.floor((value - this.low[axis]) / this.cell)));
  }

  /**
   * Whether something covers a point of the view. A point behind the line in which two triangles meet lies inside neither:
   * there it is covered where it is on both sides of the line.
   */
  over(point: Vec2, depth: number, ownFaces: readonly number[]): boolean {
    const found = this.at(point, depth, ownFaces);
    if (found !== 'border') return found === 'covered';
    const [x, y] = point;
    const covered = (dx: number, dy: number): boolean => this.at([x + dx, y + dy], depth, ownFaces) === 'covered';
    const d = this.beside;
    return (covered(d, 0) && covered(-d, 0)) || (covered(0, d) && covered(0, -d));
  }

  private at([x, y]: Vec2, depth: number, ownFaces: readonly number[]): 'covered' | 'border' | 'free' {
    const cell = this.grid[this.column(y, 1) * GRID_CELLS + this.column(x, 0)] ?? [];
    let border = false;
    for (const t of cell) {
      const triangle = this.triangles[t];
      if (triangle === undefined) continue;
      const { a, b, c, faceId } = triangle;
      const area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
      if (Math.abs(area) < 1e-9) continue;
      const v = ((x - a[0]) * (c[1] - a[1]) - (y - a[1]) * (c[0] - a[0])) / area;
      const w = ((b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])) / area;
      const inside = Math.min(v, w, 1 - v - w);
      if (inside < -ON_BORDER) continue;
      const above = a[2] + v * (b[2] - a[2]) + w * (c[2] - a[2]) - depth;
      if (above <= (ownFaces.includes(faceId) ? this.own : this.near)) continue;
      if (inside >= ON_BORDER) return 'covered';
      border = true;
    }
    return border ? 'border' : 'free';
  }

  /**
   * Tells whether a point on a generator of a round surface, on which `beside` lies, is within one of its faces, by angle
   * and height about the axis. The angle is the same all along, so that few triangles are asked.
   */
  alongGenerator(
    faceId: number,
    { origin, direction }: { readonly origin: Vec3; readonly direction: Vec3 },
    beside: Vec3,
  ): (p: Vec3) => boolean {
    const { mesh } = this.part;
    const u = perpendicular(direction);
    const v = cross(direction, u);
    const heightOf = (p: Vec3): number => dot(subtract(p, origin), direction);
    const angleOf = (p: Vec3): number => {
      const d = subtract(p, origin);
      return Math.atan2(dot(d, v), dot(d, u));
    };
    const angle = angleOf(beside);
    const turn = (rad: number): number => rad - 2 * Math.PI * Math.round(rad / (2 * Math.PI));
    const flat = mesh.groups
      .filter((group) => group.faceId === faceId)
      .flatMap((group) => trianglesOf(mesh, group))
      .map(([a, b, c]) => {
        const unrolled = (p: Vec3): Vec2 => [turn(angleOf(p) - angle), heightOf(p)];
        return [unrolled(a), unrolled(b), unrolled(c)] as const;
      })
      .filter((corners) => {
        const [low, high] = extremes(corners.map(([rad]) => rad));
        // A triangle that reaches round the back is not here.
        return low < GENERATOR_SLACK_RAD && high > -GENERATOR_SLACK_RAD && high - low <= Math.PI;
      });
    return (p) => {
      const height = heightOf(p);
      return flat.some(([a, b, c]) => {
        const [ha, hb, hc] = [a[1] - height, b[1] - height, c[1] - height];
        const area = (b[0] - a[0]) * (hc - ha) - (hb - ha) * (c[0] - a[0]);
        if (Math.abs(area) < 1e-14) return false;
        const s = (-a[0] * (hc - ha) + ha * (c[0] - a[0])) / area;
        const t = (-(b[0] - a[0]) * ha + (hb - ha) * a[0]) / area;
        return s > -1e-4 && t > -1e-4 && s + t < 1 + 1e-4;
      });
    };
  }
}
