import type { Contour, Segment, WorkPlane } from '#core/kernel';
import { pointOn } from '#core/kernel';
import { ProblemError } from '#core/problem';
import type { Surface } from '#core/solid';
import { add, cross, dot, normalize, scale, subtract, type Vec2, type Vec3 } from '#core/vector';

import type { Outline } from './schema.ts';

export type Evaluate = (expression: string, what: string) => number;

/** An outline with numbers instead of expressions, and a role for each of its elements in order. */
export interface PlacedOutline {
  readonly contour: Contour;
  /** One role for each segment; a single one for a circle. */
  readonly roles: readonly string[];
}

const positive = (value: number, what: string): number => {
  if (!(value > 1e-9)) throw new ProblemError('size-not-positive', `The ${what} must be greater than zero.`);
  return value;
};

const RAD_PER_DEG = Math.PI / 180;

/** Evaluates an outline; sizes must be positive and a path must be closed and must not cross itself. */
export function placeOutline(outline: Outline, evaluate: Evaluate): PlacedOutline {
  const point = ([u, v]: readonly [string, string], what: string): Vec2 => [evaluate(u, what), evaluate(v, what)];
  switch (outline.shape) {
    case 'rectangle': {
      const [u, v] = point(outline.center, 'rectangle center');
      const halfU = positive(evaluate(outline.width, 'rectangle width'), 'rectangle width') / 2;
      const halfV = positive(evaluate(outline.height, 'rectangle height'), 'rectangle height') / 2;
      const corners: Vec2[] = [
        [u + halfU, v - halfV],
        [u + halfU, v + halfV],
        [u - halfU, v + halfV],
        [u - halfU, v - halfV],
      ];
      return {
        contour: { kind: 'path', start: corners[3] ?? [0, 0], segments: corners.map((to) => ({ kind: 'line', to })) },
        roles: ['lower', 'right', 'upper', 'left'],
      };
    }
    case 'circle':
      return {
        contour: {
          kind: 'circle',
          center: point(outline.center, 'circle center'),
          radiusMm: positive(evaluate(outline.diameter, 'circle diameter'), 'circle diameter') / 2,
        },
        roles: ['wall'],
      };
    case 'slot': {
      const center = point(outline.center, 'slot center');
      const width = positive(evaluate(outline.width, 'slot width'), 'slot width');
      const length = positive(evaluate(outline.length, 'slot length'), 'slot length');
      if (length <= width) throw new ProblemError('slot-too-short', 'A slot must be longer than it is wide.');
      const turn = evaluateAngle(outline.angle, evaluate);
      const at = (along: number, across: number): Vec2 => [
        center[0] + along * Math.cos(turn) - across * Math.sin(turn),
        center[1] + along * Math.sin(turn) + across * Math.cos(turn),
      ];
      const half = (length - width) / 2;
      const radius = width / 2;
      return {
        contour: {
          kind: 'path',
          start: at(-half, -radius),
          segments: [
            { kind: 'line', to: at(half, -radius) },
            { kind: 'arc', through: at(half + radius, 0), to: at(half, radius) },
            { kind: 'line', to: at(-half, radius) },
            { kind: 'arc', through: at(-half - radius, 0), to: at(-half, -radius) },
          ],
        },
        roles: ['side1', 'end2', 'side2', 'end1'],
      };
    }
    case 'path': {
      const segments = outline.segments.map((segment): Segment =>
        segment.move === 'line'
          ? { kind: 'line', to: point(segment.to, 'path point') }
          : { kind: 'arc', through: point(segment.through, 'arc point'), to: point(segment.to, 'path point') },
      );
      const contour: Contour = { kind: 'path', start: point(outline.start, 'path start'), segments };
      requireSound(contour);
      return { contour, roles: segments.map((_, i) => `side${String(i + 1)}`) };
    }
  }
}

const evaluateAngle = (angle: string | undefined, evaluate: Evaluate): number =>
  angle === undefined ? 0 : evaluate(angle, 'angle') * RAD_PER_DEG;

/** Corner points of a contour, arcs given by their end and middle points. */
function polygonOf(contour: Extract<Contour, { kind: 'path' }>): Vec2[] {
  return [
    contour.start,
    ...contour.segments.flatMap((segment) => (segment.kind === 'line' ? [segment.to] : [segment.through, segment.to])),
  ];
}

function requireSound(contour: Extract<Contour, { kind: 'path' }>): void {
  const points = polygonOf(contour);
  const last = points.pop();
  const [first] = points;
  if (last === undefined || first === undefined) return;
  if (Math.hypot(last[0] - first[0], last[1] - first[1]) > 1e-6)
    throw new ProblemError('outline-open', 'The path does not end where it starts.');
  const corner = (i: number): Vec2 => points[i % points.length] ?? first;
  for (let i = 0; i < points.length; i++) {
    if (Math.hypot(corner(i + 1)[0] - corner(i)[0], corner(i + 1)[1] - corner(i)[1]) < 1e-7)
      throw new ProblemError(
        'outline-degenerate',
        `The path has a segment of no length at its point ${String(i + 1)}.`,
      );
    for (let j = i + 2; j < points.length; j++)
      if ((j + 1) % points.length !== i && cross2(corner(i), corner(i + 1), corner(j), corner(j + 1)))
        throw new ProblemError('outline-crosses', 'The path crosses itself.');
  }
}

/** Whether two segments cross at an inner point of both. */
function cross2(a: Vec2, b: Vec2, c: Vec2, d: Vec2): boolean {
  const side = (p: Vec2, q: Vec2, r: Vec2) => (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
  return side(a, b, c) * side(a, b, d) < -1e-12 && side(c, d, a) * side(c, d, b) < -1e-12;
}

/** Twice the signed area of the corner polygon: positive when the contour runs counterclockwise. */
function turning(contour: Extract<Contour, { kind: 'path' }>): number {
  const points = polygonOf(contour);
  return points.reduce((sum, p, i) => {
    const q = points[(i + 1) % points.length] ?? p;
    return sum + p[0] * q[1] - q[0] * p[1];
  }, 0);
}

/** Center of the circle through three points, or null when they lie on a line. */
export function circleCenter(a: Vec2, b: Vec2, c: Vec2): Vec2 | null {
  const d = 2 * (a[0] * (b[1] - c[1]) + b[0] * (c[1] - a[1]) + c[0] * (a[1] - b[1]));
  if (Math.abs(d) < 1e-12) return null;
  const square = (p: Vec2) => p[0] * p[0] + p[1] * p[1];
  return [
    (square(a) * (b[1] - c[1]) + square(b) * (c[1] - a[1]) + square(c) * (a[1] - b[1])) / d,
    (square(a) * (c[0] - b[0]) + square(b) * (a[0] - c[0]) + square(c) * (b[0] - a[0])) / d,
  ];
}

interface ContourElement {
  readonly role: string;
  readonly from: Vec2;
  readonly segment: Segment;
  /** Unit vector out of the outline at the middle of the element. */
  readonly outward: Vec2;
}

function elementsOf(outline: PlacedOutline): ContourElement[] {
  const { contour } = outline;
  if (contour.kind === 'circle') return [];
  const sign = turning(contour) >= 0 ? 1 : -1;
  let from = contour.start;
  return contour.segments.map((segment, i) => {
    const start = from;
    from = segment.to;
    const du = segment.to[0] - start[0];
    const dv = segment.to[1] - start[1];
    const size = Math.hypot(du, dv);
    return {
      role: outline.roles[i] ?? `side${String(i + 1)}`,
      from: start,
      segment,
      outward: [(sign * dv) / size, (-sign * du) / size],
    };
  });
}

const along = (plane: WorkPlane, [u, v]: Vec2): Vec3 => add(scale(plane.u, u), scale(plane.v, v));

/** Surfaces of a prism by role; normals point out of the prism, and `side` is that of an added prism. */
export function prismSurfaces(
  plane: WorkPlane,
  outline: PlacedOutline,
  fromMm: number,
  toMm: number,
): readonly (readonly [role: string, surface: Surface])[] {
  const at = (point: Vec2): Vec3 => add(pointOn(plane, point), scale(plane.normal, (fromMm + toMm) / 2));
  const { contour } = outline;
  const caps: [string, Surface][] = [
    ['start', cap(plane, fromMm, toMm > fromMm ? -1 : 1)],
    ['end', cap(plane, toMm, toMm > fromMm ? 1 : -1)],
  ];
  if (contour.kind === 'circle')
    return [...caps, ['wall', cylinder(at(contour.center), plane.normal, contour.radiusMm, 'convex')]];
  return [
    ...caps,
    ...elementsOf(outline).flatMap(({ role, from, segment, outward }): [string, Surface][] => {
      if (segment.kind === 'line')
        return [[role, { kind: 'plane', origin: at(from), normal: normalize(along(plane, outward)) }]];
      const center = circleCenter(from, segment.through, segment.to);
      if (center === null) return [];
      const bulge = (segment.through[0] - center[0]) * outward[0] + (segment.through[1] - center[1]) * outward[1] > 0;
      const radius = Math.hypot(from[0] - center[0], from[1] - center[1]);
      return [[role, cylinder(at(center), plane.normal, radius, bulge ? 'convex' : 'concave')]];
    }),
  ];
}

function cap(plane: WorkPlane, offsetMm: number, sign: number): Surface {
  return { kind: 'plane', origin: add(plane.origin, scale(plane.normal, offsetMm)), normal: scale(plane.normal, sign) };
}

export function cylinder(origin: Vec3, direction: Vec3, radiusMm: number, side: 'convex' | 'concave'): Surface {
  return { kind: 'cylinder', origin, direction, radiusMm, side };
}

/** Surfaces that the straight elements of an outline sweep when it is turned about a line of its plane. */
export function turnedSurfaces(
  plane: WorkPlane,
  outline: PlacedOutline,
  axisOrigin: Vec3,
  axisDirection: Vec3,
): readonly (readonly [role: string, surface: Surface])[] {
  return elementsOf(outline).flatMap(({ role, from, segment, outward }): [string, Surface][] => {
    if (segment.kind !== 'line') return [];
    const start = pointOn(plane, from);
    const end = pointOn(plane, segment.to);
    const fromAxis = (point: Vec3): Vec3 => {
      const offset = subtract(point, axisOrigin);
      return subtract(offset, scale(axisDirection, dot(offset, axisDirection)));
    };
    const normal = along(plane, outward);
    const step = normalize(subtract(end, start));
    if (Math.abs(dot(step, axisDirection)) < 1e-9) return [[role, { kind: 'plane', origin: axisPoint(start), normal }]];
    const radial = fromAxis(start);
    const radius = Math.hypot(...radial);
    if (radius < 1e-9 && Math.hypot(...fromAxis(end)) < 1e-9) return [];
    if (Math.hypot(...cross(step, axisDirection)) > 1e-9) return [];
    return [[role, cylinder(axisPoint(start), axisDirection, radius, dot(normal, radial) > 0 ? 'convex' : 'concave')]];

    function axisPoint(point: Vec3): Vec3 {
      return add(axisOrigin, scale(axisDirection, dot(subtract(point, axisOrigin), axisDirection)));
    }
  });
}
