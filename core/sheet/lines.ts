import { solve } from '#core/fit';
import { circleCenter } from '#core/kernel';
import { SAME_PLACE_MM } from '#core/tolerance';
import type { Vec2 } from '#core/vector';

/** A curve of a projected view in view coordinates, mm: points along it in order. */
export interface ProjectedCurve {
  readonly points: readonly Vec2[];
}

/** A line of a view in view coordinates, mm, y up. Angles in rad, counterclockwise. */
export type SheetCurve =
  | { readonly kind: 'line'; readonly from: Vec2; readonly to: Vec2 }
  | {
      readonly kind: 'arc';
      readonly center: Vec2;
      readonly radius: number;
      readonly start: number;
      readonly sweep: number;
    }
  | {
      readonly kind: 'ellipse';
      readonly center: Vec2;
      readonly radii: Vec2;
      readonly turn: number;
      readonly start: number;
      readonly sweep: number;
    }
  | { readonly kind: 'polyline'; readonly points: readonly Vec2[] };

/** Edges of a body as seen from one side, before doubled lines are removed: as points, or as what they are known to be. */
export interface Projection {
  readonly visible: readonly (ProjectedCurve | SheetCurve)[];
  readonly hidden: readonly (ProjectedCurve | SheetCurve)[];
  /** Seen edges at which one face runs on smoothly into the next. */
  readonly tangent?: readonly (ProjectedCurve | SheetCurve)[];
}

export interface ViewLines {
  readonly visible: readonly SheetCurve[];
  readonly hidden: readonly SheetCurve[];
  /** Tangent edges, drawn thin where they are wanted. */
  readonly tangent: readonly SheetCurve[];
}

const FULL_TURN = 2 * Math.PI;

const distance2 = (a: Vec2, b: Vec2): number => Math.hypot(a[0] - b[0], a[1] - b[1]);

/**
 * A straight edge, or a circle seen edge-on, becomes a line over its whole extent; points on a common circle become an
 * arc, points on a common ellipse a piece of it; anything else stays a polyline. Curves of no length vanish.
 */
export function recognizeCurve({ points }: ProjectedCurve): SheetCurve | null {
  const [first] = points;
  const last = points.at(-1);
  if (first === undefined || last === undefined) return null;
  const farFrom = (p: Vec2): Vec2 => points.reduce((far, q) => (distance2(q, p) > distance2(far, p) ? q : far), p);
  const end = farFrom(first);
  const start = farFrom(end);
  const size = distance2(start, end);
  if (size < SAME_PLACE_MM) return null;
  const across = (p: Vec2): number =>
    Math.abs((p[0] - start[0]) * (end[1] - start[1]) - (p[1] - start[1]) * (end[0] - start[0])) / size;
  if (points.every((p) => across(p) < SAME_PLACE_MM)) return { kind: 'line', from: start, to: end };
  const pick = (share: number): Vec2 => points[Math.floor((points.length - 1) * share)] ?? first;
  const center = circleCenter(first, pick(1 / 3), pick(2 / 3));
  const radius = center ? distance2(first, center) : 0;
  if (center === null || points.some((p) => Math.abs(distance2(p, center) - radius) > SAME_PLACE_MM))
    return ellipseThrough(points) ?? { kind: 'polyline', points };
  const angle = (p: Vec2): number => Math.atan2(p[1] - center[1], p[0] - center[0]);
  const sweep = sweepOf(points, angle);
  return sweep >= 0
    ? { kind: 'arc', center, radius, start: angle(first), sweep }
    : { kind: 'arc', center, radius, start: angle(first) + sweep, sweep: -sweep };
}

/**
 * The piece of an ellipse that points lie on to a thousandth, in their order; null for any other curve. The conic
 * a x2 + b x y + c y2 + d x + e y = 1 about the middle of the points is found by least squares.
 */
function ellipseThrough(points: readonly Vec2[]): SheetCurve | null {
  if (points.length < 8) return null;
  const middle: Vec2 = [
    points.reduce((sum, p) => sum + p[0], 0) / points.length,
    points.reduce((sum, p) => sum + p[1], 0) / points.length,
  ];
  const size = Math.max(...points.map((p) => distance2(p, middle)));
  const rows = points.map((p) => {
    const [x, y] = [(p[0] - middle[0]) / size, (p[1] - middle[1]) / size];
    return [x * x, x * y, y * y, x, y];
  });
  const normal = [0, 1, 2, 3, 4].map((i) =>
    [0, 1, 2, 3, 4].map((j) => rows.reduce((sum, row) => sum + (row[i] ?? 0) * (row[j] ?? 0), 0)),
  );
  const right = [0, 1, 2, 3, 4].map((i) => rows.reduce((sum, row) => sum + (row[i] ?? 0), 0));
  const [a = 0, b = 0, c = 0, d = 0, e = 0] = solve(normal, right) ?? [];
  const det = 4 * a * c - b * b;
  if (!(det > 1e-12)) return null;
  const [x0, y0] = [(b * e - 2 * c * d) / det, (b * d - 2 * a * e) / det];
  const constant = 1 - (a * x0 * x0 + b * x0 * y0 + c * y0 * y0 + d * x0 + e * y0);
  const turn = Math.atan2(b, a - c) / 2;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const [p, q] = [a * cos * cos + b * cos * sin + c * sin * sin, a * sin * sin - b * cos * sin + c * cos * cos];
  if (!(constant / p > 0 && constant / q > 0)) return null;
  const radii: Vec2 = [Math.sqrt(constant / p) * size, Math.sqrt(constant / q) * size];
  const center: Vec2 = [middle[0] + x0 * size, middle[1] + y0 * size];
  const parameter = ([x, y]: Vec2): number => {
    const [dx, dy] = [x - center[0], y - center[1]];
    return Math.atan2((dy * cos - dx * sin) / radii[1], (dx * cos + dy * sin) / radii[0]);
  };
  const at = (t: number): Vec2 => {
    const [u, w] = [radii[0] * Math.cos(t), radii[1] * Math.sin(t)];
    return [center[0] + u * cos - w * sin, center[1] + u * sin + w * cos];
  };
  // Ellipses that are hardly bent come out wild; the points themselves have the last word.
  if (
    Math.max(...radii) > 50 * size ||
    points.some((point) => distance2(at(parameter(point)), point) > 2 * SAME_PLACE_MM)
  )
    return null;
  const sweep = sweepOf(points, parameter);
  const start = parameter(points[0] ?? center);
  return sweep >= 0
    ? { kind: 'ellipse', center, radii, turn, start, sweep }
    : { kind: 'ellipse', center, radii, turn, start: start + sweep, sweep: -sweep };
}

/** The angle that is passed from the first to the last of some points, each by the shorter way. */
export function sweepOf(points: readonly Vec2[], angle: (p: Vec2) => number): number {
  let sweep = 0;
  points.slice(1).forEach((p, i) => {
    const step = angle(p) - angle(points[i] ?? p);
    sweep += step > Math.PI ? step - FULL_TURN : step < -Math.PI ? step + FULL_TURN : step;
  });
  return sweep;
}

type Interval = readonly [from: number, to: number];

interface Carrier {
  readonly curve: Extract<SheetCurve, { kind: 'line' | 'arc' }>;
  readonly visible: Interval[];
  readonly hidden: Interval[];
  readonly tangent: Interval[];
}

const unit = (line: { from: Vec2; to: Vec2 }): Vec2 => {
  const size = distance2(line.from, line.to);
  const u: Vec2 = [(line.to[0] - line.from[0]) / size, (line.to[1] - line.from[1]) / size];
  return u[0] < -1e-9 || (Math.abs(u[0]) < 1e-9 && u[1] < 0) ? [-u[0], -u[1]] : u;
};

const along = (u: Vec2, p: Vec2): number => u[0] * p[0] + u[1] * p[1];
const offset = (u: Vec2, p: Vec2): number => u[0] * p[1] - u[1] * p[0];

function sameCarrier(a: Carrier['curve'], b: Carrier['curve']): boolean {
  if (a.kind === 'line' && b.kind === 'line') {
    const [u, w] = [unit(a), unit(b)];
    return (
      Math.abs(u[0] * w[1] - u[1] * w[0]) < 1e-5 && Math.abs(offset(u, a.from) - offset(u, b.from)) < SAME_PLACE_MM
    );
  }
  if (a.kind === 'arc' && b.kind === 'arc')
    return distance2(a.center, b.center) < SAME_PLACE_MM && Math.abs(a.radius - b.radius) < SAME_PLACE_MM;
  return false;
}

function intervalsOf(carrier: Carrier['curve'], curve: Carrier['curve']): Interval[] {
  if (carrier.kind === 'line' && curve.kind === 'line') {
    const u = unit(carrier);
    const ends = [along(u, curve.from), along(u, curve.to)];
    return [[Math.min(...ends), Math.max(...ends)]];
  }
  if (curve.kind !== 'arc') return [];
  if (curve.sweep > FULL_TURN - 1e-6) return [[0, FULL_TURN]];
  const start = ((curve.start % FULL_TURN) + FULL_TURN) % FULL_TURN;
  const end = start + curve.sweep;
  return end > FULL_TURN
    ? [
        [start, FULL_TURN],
        [0, end - FULL_TURN],
      ]
    : [[start, end]];
}

function union(intervals: readonly Interval[]): Interval[] {
  const merged: [number, number][] = [];
  for (const [from, to] of [...intervals].sort((a, b) => a[0] - b[0])) {
    const last = merged.at(-1);
    if (last && from <= last[1] + 1e-4) last[1] = Math.max(last[1], to);
    else merged.push([from, to]);
  }
  return merged;
}

const without = (intervals: readonly Interval[], holes: readonly Interval[]): Interval[] =>
  holes.reduce<Interval[]>(
    (left, [from, to]) =>
      left.flatMap(([a, b]): Interval[] =>
        to <= a || from >= b
          ? [[a, b]]
          : (
              [
                [a, Math.min(b, from)],
                [Math.max(a, to), b],
              ] satisfies Interval[]
            ).filter(([x, y]) => y - x > SAME_PLACE_MM),
      ),
    [...intervals],
  );

function pieceOf(carrier: Carrier['curve'], [from, to]: Interval): SheetCurve {
  if (carrier.kind === 'arc') return { ...carrier, start: from, sweep: to - from };
  const u = unit(carrier);
  const d = offset(u, carrier.from);
  const at = (t: number): Vec2 => [u[0] * t - u[1] * d, u[1] * t + u[0] * d];
  return { kind: 'line', from: at(from), to: at(to) };
}

/** Removes doubled lines and hidden lines behind visible ones: everything on one line or circle is merged. */
export function cleanView(projection: Projection): ViewLines {
  const carriers: Carrier[] = [];
  const loose: Record<keyof ViewLines, SheetCurve[]> = { visible: [], hidden: [], tangent: [] };
  const sort = (curves: Projection['visible'], layer: keyof ViewLines): void => {
    for (const raw of curves) {
      const curve = 'kind' in raw ? raw : recognizeCurve(raw);
      if (curve === null) continue;
      if (curve.kind === 'polyline' || curve.kind === 'ellipse') {
        loose[layer].push(curve);
        continue;
      }
      let carrier = carriers.find((candidate) => sameCarrier(candidate.curve, curve));
      if (!carrier) carriers.push((carrier = { curve, visible: [], hidden: [], tangent: [] }));
      carrier[layer].push(...intervalsOf(carrier.curve, curve));
    }
  };
  sort(projection.visible, 'visible');
  sort(projection.hidden, 'hidden');
  sort(projection.tangent ?? [], 'tangent');
  const visible = carriers.flatMap(({ curve, visible: shown }) => union(shown).map((piece) => pieceOf(curve, piece)));
  const hidden = carriers.flatMap(({ curve, visible: shown, hidden: covered }) =>
    without(union(covered), union(shown)).map((piece) => pieceOf(curve, piece)),
  );
  const tangent = carriers.flatMap(({ curve, visible: shown, tangent: smooth }) =>
    without(union(smooth), union(shown)).map((piece) => pieceOf(curve, piece)),
  );
  return {
    visible: [...visible, ...loose.visible],
    hidden: [...hidden, ...loose.hidden],
    tangent: [...tangent, ...loose.tangent],
  };
}

/** Points along a curve, round ones so many rad apart at most: the usual ones are enough for finding what it covers. */
export function pointsAlong(curve: SheetCurve, stepRad = 0.26): readonly Vec2[] {
  if (curve.kind === 'line') return [curve.from, curve.to];
  if (curve.kind === 'polyline') return curve.points;
  const count = Math.max(6, Math.ceil(curve.sweep / stepRad));
  return Array.from({ length: count + 1 }, (_, i): Vec2 => {
    const t = curve.start + (curve.sweep * i) / count;
    if (curve.kind === 'arc')
      return [curve.center[0] + curve.radius * Math.cos(t), curve.center[1] + curve.radius * Math.sin(t)];
    const [u, w] = [curve.radii[0] * Math.cos(t), curve.radii[1] * Math.sin(t)];
    const [cos, sin] = [Math.cos(curve.turn), Math.sin(curve.turn)];
    return [curve.center[0] + u * cos - w * sin, curve.center[1] + u * sin + w * cos];
  });
}
