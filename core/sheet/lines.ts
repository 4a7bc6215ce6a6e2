import type { ProjectedCurve, Projection } from '#core/kernel';
import type { Vec2 } from '#core/vector';
import { circleCenter } from '#core/kernel';

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
  | { readonly kind: 'polyline'; readonly points: readonly Vec2[] };

export interface ViewLines {
  readonly visible: readonly SheetCurve[];
  readonly hidden: readonly SheetCurve[];
}

const TOLERANCE_MM = 1e-3;
const FULL_TURN = 2 * Math.PI;

const distance2 = (a: Vec2, b: Vec2): number => Math.hypot(a[0] - b[0], a[1] - b[1]);

/**
 * A straight edge, or a circle seen edge-on, becomes a line over its whole extent; points on a common circle become an
 * arc; anything else stays a polyline. Curves of no length vanish.
 */
export function recognizeCurve({ points }: ProjectedCurve): SheetCurve | null {
  const [first] = points;
  const last = points.at(-1);
  if (first === undefined || last === undefined) return null;
  const farFrom = (p: Vec2): Vec2 => points.reduce((far, q) => (distance2(q, p) > distance2(far, p) ? q : far), p);
  const end = farFrom(first);
  const start = farFrom(end);
  const size = distance2(start, end);
  if (size < TOLERANCE_MM) return null;
  const across = (p: Vec2): number =>
    Math.abs((p[0] - start[0]) * (end[1] - start[1]) - (p[1] - start[1]) * (end[0] - start[0])) / size;
  if (points.every((p) => across(p) < TOLERANCE_MM)) return { kind: 'line', from: start, to: end };
  const pick = (share: number): Vec2 => points[Math.floor((points.length - 1) * share)] ?? first;
  const center = circleCenter(first, pick(1 / 3), pick(2 / 3));
  const radius = center ? distance2(first, center) : 0;
  if (center === null || points.some((p) => Math.abs(distance2(p, center) - radius) > TOLERANCE_MM))
    return { kind: 'polyline', points };
  const angle = (p: Vec2): number => Math.atan2(p[1] - center[1], p[0] - center[0]);
  let sweep = 0;
  points.slice(1).forEach((p, i) => {
    const step = angle(p) - angle(points[i] ?? p);
    sweep += step > Math.PI ? step - FULL_TURN : step < -Math.PI ? step + FULL_TURN : step;
  });
  return sweep >= 0
    ? { kind: 'arc', center, radius, start: angle(first), sweep }
    : { kind: 'arc', center, radius, start: angle(first) + sweep, sweep: -sweep };
}

type Interval = readonly [from: number, to: number];

interface Carrier {
  readonly curve: Exclude<SheetCurve, { kind: 'polyline' }>;
  readonly visible: Interval[];
  readonly hidden: Interval[];
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
    return Math.abs(u[0] * w[1] - u[1] * w[0]) < 1e-5 && Math.abs(offset(u, a.from) - offset(u, b.from)) < TOLERANCE_MM;
  }
  if (a.kind === 'arc' && b.kind === 'arc')
    return distance2(a.center, b.center) < TOLERANCE_MM && Math.abs(a.radius - b.radius) < TOLERANCE_MM;
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
            ).filter(([x, y]) => y - x > TOLERANCE_MM),
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
  const loose: { visible: SheetCurve[]; hidden: SheetCurve[] } = { visible: [], hidden: [] };
  const sort = (curves: readonly ProjectedCurve[], layer: 'visible' | 'hidden'): void => {
    for (const raw of curves) {
      const curve = recognizeCurve(raw);
      if (curve === null) continue;
      if (curve.kind === 'polyline') {
        loose[layer].push(curve);
        continue;
      }
      let carrier = carriers.find((candidate) => sameCarrier(candidate.curve, curve));
      if (!carrier) carriers.push((carrier = { curve, visible: [], hidden: [] }));
      carrier[layer].push(...intervalsOf(carrier.curve, curve));
    }
  };
  sort(projection.visible, 'visible');
  sort(projection.hidden, 'hidden');
  const visible = carriers.flatMap(({ curve, visible: shown }) => union(shown).map((piece) => pieceOf(curve, piece)));
  const hidden = carriers.flatMap(({ curve, visible: shown, hidden: covered }) =>
    without(union(covered), union(shown)).map((piece) => pieceOf(curve, piece)),
  );
  return { visible: [...visible, ...loose.visible], hidden: [...hidden, ...loose.hidden] };
}
