import type { Face, Surface } from '#core/solid';
import { BUILT_PARALLEL_SINE, SAME_PLACE_MM } from '#core/tolerance';
import { angleBetween, boxCenter, boxCorners, cross, dot, extremes, length, type Vec2, type Vec3 } from '#core/vector';

import { pointsAlong, type SheetCurve } from './lines.ts';
import { turned, type DimensionView, type LeaderTarget, type Leg, type Witness } from './view-dimension.ts';
import { seen, type ViewAxes } from './views.ts';

/** Whether two vectors are parallel, either way round, whatever their lengths. */
export const parallel = (a: Vec3, b: Vec3): boolean =>
  length(cross(a, b)) < BUILT_PARALLEL_SINE * length(a) * length(b);

/** Whether two vectors are square to each other, whatever their lengths. */
export const square = (a: Vec3, b: Vec3): boolean => Math.abs(dot(a, b)) < BUILT_PARALLEL_SINE * length(a) * length(b);

/** A flat face, the axis of a round, or an end of the part, as it is measured to. */
export interface End {
  /** Points of its outline. */
  readonly points: readonly Vec3[];
  /** Point of the axis of a round, null for a flat face. */
  readonly axis: { readonly origin: Vec3; readonly direction: Vec3 } | null;
  /** Points of the axes of like rounds along the same direction. */
  readonly like: readonly Vec3[];
  readonly outer: boolean;
}

/** `point` moved along a coordinate axis to where `end` is. */
export const clampTo = (point: Vec3, axis: Vec3, end: Vec3): Vec3 => [
  axis[0] ? end[0] : point[0],
  axis[1] ? end[1] : point[1],
  axis[2] ? end[2] : point[2],
];

/** A direction as one of more than -90 and at most 90 degrees, so that texts are never upside down. */
export function properAngle(angle: number): number {
  let proper = angle;
  while (proper > Math.PI / 2 + 1e-9) proper -= Math.PI;
  while (proper <= -Math.PI / 2 + 1e-9) proper += Math.PI;
  return Math.abs(proper) < 1e-9 ? 0 : proper;
}

/** An axis is witnessed at its own place; a flat face over its whole width. */
export function witness({ axes }: DimensionView, angle: number, { points, axis, like }: End): Witness {
  const corners = points.map((p) => turned(seen(axes, p), angle));
  const [low, high] = extremes(corners.map((p) => p[1]));
  if (axis === null) {
    const [first, last] = extremes(corners.map((p) => p[0]));
    return { at: (first + last) / 2, low, high };
  }
  const place = turned(seen(axes, axis.origin), angle);
  if (!parallel(axes.toViewer, axis.direction)) return { at: place[0], low, high };
  const inLine = like
    .map((p) => turned(seen(axes, p), angle))
    .filter(([at]) => Math.abs(at - place[0]) < SAME_PLACE_MM)
    .map(([, across]) => across);
  return { at: place[0], low: place[1], high: place[1], outermost: extremes([place[1], ...inLine]) };
}

/** The end of the whole part as its outline shows it: from where lines touch it, as the crest of a round does. */
export function onOutline({ lines }: DimensionView, angle: number, end: Witness): Witness {
  const touching = lines.visible
    .flatMap((curve) => [...pointsAlong(curve), ...crests(curve, angle)])
    .map((p) => turned(p, angle))
    .filter(([at]) => Math.abs(at - end.at) < SAME_PLACE_MM);
  if (touching.length === 0) return end;
  return { ...end, touched: extremes(touching.map(([, across]) => across)) };
}

/** Where an arc reaches farthest along a direction, and against it. */
function crests(curve: SheetCurve, angle: number): readonly Vec2[] {
  if (curve.kind !== 'arc') return [];
  const { center, radius, start, sweep } = curve;
  const turns = (from: number): number => ((from % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
  return [angle, angle + Math.PI].flatMap((t) =>
    turns(t - start) <= sweep + 1e-9
      ? [[center[0] + radius * Math.cos(t), center[1] + radius * Math.sin(t)] satisfies Vec2]
      : [],
  );
}

/** How many ends lie on no visible line of the view: neither along it, nor where it ends, nor at its center. */
export function hiddenEnds(view: DimensionView, angle: number, ends: readonly Witness[]): number {
  const shown = view.lines.visible.map((curve) => ({
    curve,
    points: pointsAlong(curve).map((p) => turned(p, angle)),
  }));
  return ends.filter(
    ({ at, low, high }) =>
      !shown.some(({ curve, points }) => {
        if (curve.kind === 'arc' && high - low < SAME_PLACE_MM) {
          const center = turned(curve.center, angle);
          return Math.abs(center[0] - at) < 0.01 && Math.abs(center[1] - low) < 0.01;
        }
        const [first, last] = extremes(points.map((p) => p[0]));
        const [bottom, top] = extremes(points.map((p) => p[1]));
        const ends = [points[0], points.at(-1)];
        const isPoint = high - low < SAME_PLACE_MM;
        if (isPoint && ends.some((p) => p !== undefined && Math.hypot(p[0] - at, p[1] - low) < 0.01)) return true;
        const touches = top >= low - 0.01 && bottom <= high + 0.01;
        if (curve.kind === 'arc') return touches && (Math.abs(first - at) < 0.01 || Math.abs(last - at) < 0.01);
        return Math.abs(first - at) < 0.01 && Math.abs(last - at) < 0.01 && touches;
      }),
  ).length;
}

/** Whether a view shows the circle that a leader points at as a visible line. */
export const circleVisible = ({ lines }: DimensionView, { center, radius }: LeaderTarget): boolean =>
  lines.visible.some(
    (curve) =>
      curve.kind === 'arc' &&
      Math.hypot(curve.center[0] - center[0], curve.center[1] - center[1]) < 0.01 &&
      Math.abs(curve.radius - radius) < 0.01,
  );

/** Degrees that a chamfer makes with the surface that its size is measured on. */
export function chamferAngle(chamfer: Surface, on: Surface, other: Surface | undefined): number {
  const degrees = (radians: number): number => (radians * 180) / Math.PI;
  if (chamfer.kind === 'cone')
    return on.kind === 'plane' ? 90 - degrees(chamfer.halfAngleRad) : degrees(chamfer.halfAngleRad);
  if (chamfer.kind !== 'plane' || on.kind !== 'plane') return 45;
  const between = degrees(angleBetween(chamfer.normal, on.normal));
  return other === undefined ? 45 : Math.min(between, 180 - between);
}

/** Places on a chamfer where it is seen from the side; null in views that look onto it. */
export function chamferPoints(view: DimensionView, { surface, bounds, centroid }: Face): Vec2[] | null {
  if (surface.kind === 'plane') return square(surface.normal, view.axes.toViewer) ? [seen(view.axes, centroid)] : null;
  if (surface.kind !== 'cone' || !square(surface.direction, view.axes.toViewer)) return null;
  const axis = seen(view.axes, surface.direction);
  const middle = seen(view.axes, boxCenter(bounds));
  const angle = Math.atan2(axis[1], axis[0]);
  const corners = boxCorners(bounds).map((p) => turned(seen(view.axes, p), angle));
  const [low, high] = extremes(corners.map((p) => p[1]));
  // Halfway between the rims, which is half of the chamfer inside the outer one.
  const [first, last] = extremes(corners.map((p) => p[0]));
  const inset = (Math.tan(surface.halfAngleRad) * (last - first)) / 2;
  const place = turned(middle, angle);
  const back = (p: Vec2): Vec2 => turned(p, -angle);
  return [back([place[0], high - inset]), back([place[0], low + inset])];
}

/** Places on the outline of a round wall, seen from the side. */
export function silhouette(view: DimensionView, { surface, bounds }: Face): LeaderTarget[] {
  if (surface.kind !== 'cylinder' || !square(surface.direction, view.axes.toViewer)) return [];
  const axis = seen(view.axes, surface.direction);
  const normal: Vec2 = [-axis[1], axis[0]];
  const middle = seen(view.axes, boxCenter(bounds));
  return [1, -1].map((side) => ({
    center: [
      middle[0] + side * normal[0] * surface.radiusMm,
      middle[1] + side * normal[1] * surface.radiusMm,
    ] satisfies Vec2,
    radius: 0,
    at: null,
  }));
}

interface Trace {
  readonly point: Vec2;
  readonly direction: Vec2;
  /** Extent along the direction from the point. */
  readonly low: number;
  readonly high: number;
}

/** The line that a flat face seen edge-on, or an axis in true length, makes in a view. */
export function traceOf({ axes }: DimensionView, { surface, bounds, centroid }: Face): Trace | null {
  if (surface.kind === 'plane') {
    if (!square(surface.normal, axes.toViewer)) return null;
    const normal = seen(axes, surface.normal);
    return extent(seen(axes, centroid), [-normal[1], normal[0]], bounds, axes);
  }
  if (!('direction' in surface) || !square(surface.direction, axes.toViewer)) return null;
  const origin = 'origin' in surface ? surface.origin : surface.center;
  return extent(seen(axes, origin), seen(axes, surface.direction), bounds, axes);
}

function extent(point: Vec2, direction: Vec2, bounds: Face['bounds'], axes: ViewAxes): Trace {
  const size = Math.hypot(...direction);
  const unit: Vec2 = [direction[0] / size, direction[1] / size];
  const [low, high] = extremes(
    boxCorners(bounds).map((p) => {
      const at = seen(axes, p);
      return (at[0] - point[0]) * unit[0] + (at[1] - point[1]) * unit[1];
    }),
  );
  return { point, direction: unit, low, high };
}

/** Where the lines of two traces cross, in view coordinates, mm; null for parallel ones. */
export function crossing(a: Trace, b: Trace): Vec2 | null {
  const det = a.direction[0] * b.direction[1] - a.direction[1] * b.direction[0];
  if (Math.abs(det) < 1e-6) return null;
  const [dx, dy] = [b.point[0] - a.point[0], b.point[1] - a.point[1]];
  const t = (dx * b.direction[1] - dy * b.direction[0]) / det;
  return [a.point[0] + t * a.direction[0], a.point[1] + t * a.direction[1]];
}

/** Of the four sectors between two lines, that of the wanted size whose legs run along the faces. */
export function bestLegs(apex: Vec2, a: Trace, b: Trace, wantedRad: number): readonly [Leg, Leg] {
  const legsOf = (trace: Trace): (Leg & { readonly away: number })[] => {
    const at = (apex[0] - trace.point[0]) * trace.direction[0] + (apex[1] - trace.point[1]) * trace.direction[1];
    return [1, -1].map((side) => {
      const [near, far] = side > 0 ? [trace.low - at, trace.high - at] : [at - trace.high, at - trace.low];
      return {
        angle: Math.atan2(side * trace.direction[1], side * trace.direction[0]),
        low: near,
        high: far,
        // A face that ends at the apex does not run on behind it.
        away: far > (far - near) / 20 ? 0 : 1,
      };
    });
  };
  const pairs = legsOf(a).flatMap((first) =>
    legsOf(b).map((second) => {
      const between = Math.abs(Math.atan2(Math.sin(second.angle - first.angle), Math.cos(second.angle - first.angle)));
      return { first, second, cost: Math.abs(between - wantedRad) * 10 + first.away + second.away };
    }),
  );
  const best = pairs.reduce((low, pair) => (pair.cost < low.cost ? pair : low));
  return [best.first, best.second];
}
