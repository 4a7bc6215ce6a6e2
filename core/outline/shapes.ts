import { ProblemError } from '#core/problem';
import { ARITHMETIC_MM } from '#core/tolerance';
import type { Vec2 } from '#core/vector';

import { arcOf, dot2, leftOf, minus, plus, polarPoint, size2, times, unit2, type Loop, type Piece } from './loop.ts';
import type { Move, Outline } from './schema.ts';

/** Values of the expressions of an outline. */
export interface Values {
  /** In mm, from the drawing unit. Refuses with the problem of the expression, its message led by `what`. */
  lengthMm(expression: string, what: string): number;
  /** As `lengthMm`, but zero and less refuse with `size-not-positive`. */
  sizeMm(expression: string, what: string): number;
  angleRad(expression: string, what: string): number;
  /** A whole number within limits; others refuse with `bad-count`. */
  count(expression: string, what: string, limits: { readonly least: number; readonly most: number }): number;
}

/** Two expressions as a point in mm; `what` names it where they have no value. Throws `ProblemError`. */
export const pointOf = ([u, v]: readonly [string, string], what: string, values: Values): Vec2 => [
  values.lengthMm(u, what),
  values.lengthMm(v, what),
];

const closedPath = (corners: readonly Vec2[], roles: readonly string[]): Loop =>
  corners.map((to, i) => ({
    kind: 'line',
    role: roles[i] ?? `side${String(i + 1)}`,
    from: corners[(i + corners.length - 1) % corners.length] ?? to,
    to,
  }));

type ShapeOf<S extends Outline['shape']> = Extract<Outline, { shape: S }>;

function rectangle([u0, v0]: Vec2, width: number, height: number): Loop {
  const [u1, v1] = [u0 + width, v0 + height];
  return closedPath(
    [
      [u1, v0],
      [u1, v1],
      [u0, v1],
      [u0, v0],
    ],
    ['lower', 'right', 'upper', 'left'],
  );
}

/** A rectangle about its center or from a corner, its sides named lower, right, upper, left. Throws `ProblemError`. */
export function rectangleLoop(shape: ShapeOf<'rectangle' | 'corner-rectangle'>, values: Values): Loop {
  const width = values.sizeMm(shape.width, 'rectangle width');
  const height = values.sizeMm(shape.height, 'rectangle height');
  const corner =
    shape.shape === 'rectangle'
      ? minus(pointOf(shape.center, 'rectangle center', values), [width / 2, height / 2])
      : pointOf(shape.corner, 'rectangle corner', values);
  return rectangle(corner, width, height);
}

/** A circle, its wall named "wall". Throws `ProblemError`. */
export const circleLoop = (shape: ShapeOf<'circle'>, values: Values): Loop => [
  {
    kind: 'circle',
    role: 'wall',
    center: pointOf(shape.center, 'circle center', values),
    radiusMm: values.sizeMm(shape.diameter, 'circle diameter') / 2,
  },
];

/**
 * A slot with round ends; its length is over all. Throws `ProblemError`, `slot-too-short` where it is not longer than
 * wide.
 */
export function slotLoop(shape: ShapeOf<'slot'>, values: Values): Loop {
  const center = pointOf(shape.center, 'slot center', values);
  const width = values.sizeMm(shape.width, 'slot width');
  const length = values.sizeMm(shape.length, 'slot length');
  if (length <= width) throw new ProblemError('slot-too-short', 'A slot must be longer than it is wide.');
  const turn = shape.angle === undefined ? 0 : values.angleRad(shape.angle, 'slot angle');
  const at = (along: number, across: number): Vec2 => [
    center[0] + along * Math.cos(turn) - across * Math.sin(turn),
    center[1] + along * Math.sin(turn) + across * Math.cos(turn),
  ];
  const [half, radius] = [(length - width) / 2, width / 2];
  return [
    { kind: 'line', role: 'side1', from: at(-half, -radius), to: at(half, -radius) },
    { kind: 'arc', role: 'end2', from: at(half, -radius), through: at(half + radius, 0), to: at(half, radius) },
    { kind: 'line', role: 'side2', from: at(half, radius), to: at(-half, radius) },
    { kind: 'arc', role: 'end1', from: at(-half, radius), through: at(-half - radius, 0), to: at(-half, -radius) },
  ];
}

/** The middle of side 1 lies at `angle` from the center. */
export function polygonLoop(shape: ShapeOf<'polygon'>, values: Values): Loop {
  const center = pointOf(shape.center, 'polygon center', values);
  const sides = values.count(shape.sides, 'number of sides', { least: 3, most: 60 });
  const size = values.sizeMm(shape.size, 'polygon size');
  const half = Math.PI / sides;
  const radius = shape.across === 'corners' ? size / 2 : size / 2 / Math.cos(half);
  const start = shape.angle === undefined ? 0 : values.angleRad(shape.angle, 'polygon angle');
  return closedPath(
    Array.from({ length: sides }, (_, i) => polarPoint(center, radius, start + half * (2 * i + 1))),
    [],
  );
}

/** Outer tangents of two circles: the angle between the center line and the radius to the point of contact is acos((r1 - r2) / d). */
export function hullLoop(shape: ShapeOf<'hull'>, values: Values): Loop {
  const [a, b] = [shape.first, shape.second].map(({ center, diameter }) => ({
    center: pointOf(center, 'circle center', values),
    radius: values.sizeMm(diameter, 'circle diameter') / 2,
  })) as [{ center: Vec2; radius: number }, { center: Vec2; radius: number }];
  const line = minus(b.center, a.center);
  const distance = size2(line);
  if (distance <= Math.abs(a.radius - b.radius) + 1e-9)
    throw new ProblemError('hull-inside', 'One circle lies inside the other, so no line touches both from outside.');
  const theta = Math.atan2(line[1], line[0]);
  const beta = Math.acos((a.radius - b.radius) / distance);
  const on = (circle: typeof a, angle: number) => polarPoint(circle.center, circle.radius, angle);
  return [
    { kind: 'line', role: 'side1', from: on(a, theta - beta), to: on(b, theta - beta) },
    { kind: 'arc', role: 'end2', from: on(b, theta - beta), through: on(b, theta), to: on(b, theta + beta) },
    { kind: 'line', role: 'side2', from: on(b, theta + beta), to: on(a, theta + beta) },
    { kind: 'arc', role: 'end1', from: on(a, theta + beta), through: on(a, theta + Math.PI), to: on(a, theta - beta) },
  ];
}

/** Follows the moves of a path. It must end where it starts; it is not tested here whether it crosses itself. */
export function pathLoop(shape: ShapeOf<'path'>, values: Values): Loop {
  const start = pointOf(shape.start, 'path start', values);
  const pieces: Piece[] = [];
  shape.segments.forEach((move, i) => {
    const before = pieces.at(-1);
    const from = before?.to ?? start;
    const role = move.name ?? `side${String(i + 1)}`;
    const piece = followed(move, from, { role, start, before, values, number: i + 1 });
    if (size2(minus(piece.to, from)) < ARITHMETIC_MM && move.move !== 'arc-around')
      throw new ProblemError('outline-degenerate', `Move ${String(i + 1)} of the path has no length.`);
    pieces.push(piece);
  });
  const end = pieces.at(-1)?.to ?? start;
  const gap = size2(minus(end, start));
  if (gap > ARITHMETIC_MM)
    throw new ProblemError(
      'outline-open',
      `The path ends ${gap.toPrecision(4)} mm away from where it starts. Add a move that closes it.`,
    );
  return pieces;
}

interface Way {
  readonly role: string;
  readonly start: Vec2;
  readonly before: Piece | undefined;
  readonly values: Values;
  readonly number: number;
}

function followed(move: Move, from: Vec2, way: Way): Piece {
  const { role, values } = way;
  const what = `move ${String(way.number)}`;
  const point = (at: readonly [string, string]) => pointOf(at, what, values);
  switch (move.move) {
    case 'line':
      return { kind: 'line', role, from, to: point(move.to) };
    case 'line-by':
      return { kind: 'line', role, from, to: plus(from, point(move.by)) };
    case 'line-at': {
      const length = values.sizeMm(move.length, `${what}: length`);
      return { kind: 'line', role, from, to: polarPoint(from, length, values.angleRad(move.angle, `${what}: angle`)) };
    }
    case 'close':
      return { kind: 'line', role, from, to: way.start };
    case 'arc':
      return sound({ kind: 'arc', role, from, through: point(move.through), to: point(move.to) });
    case 'arc-by':
      return sound({
        kind: 'arc',
        role,
        from,
        through: plus(from, point(move.through)),
        to: plus(from, point(move.by)),
      });
    case 'tangent-arc':
      return tangentArc(from, point(move.to), way);
    case 'tangent-arc-by':
      return tangentArc(from, plus(from, point(move.by)), way);
    case 'arc-around': {
      const center = point(move.center);
      const sweep = values.angleRad(move.angle, `${what}: angle`);
      const turn = Math.abs(sweep);
      if (turn < 1e-6 || turn > 2 * Math.PI - 1e-6)
        throw new ProblemError('arc-angle', `The angle of ${what} must lie between 0 and 360 degrees.`);
      const radius = size2(minus(from, center));
      if (radius < ARITHMETIC_MM)
        throw new ProblemError('arc-center', `The center of ${what} is where the arc starts.`);
      const at = Math.atan2(from[1] - center[1], from[0] - center[0]);
      return {
        kind: 'arc',
        role,
        from,
        through: polarPoint(center, radius, at + sweep / 2),
        to: polarPoint(center, radius, at + sweep),
      };
    }
  }
}

function sound<P extends Extract<Piece, { kind: 'arc' }>>(piece: P): P {
  arcOf(piece);
  return piece;
}

/** Direction in which a piece arrives at its end. */
export function arrival(piece: Piece): Vec2 {
  if (piece.kind === 'line') return unit2(minus(piece.to, piece.from));
  const { center, sweepRad } = arcOf(piece);
  return times(leftOf(unit2(minus(piece.to, center))), Math.sign(sweepRad));
}

/** Direction in which a piece leaves its start. */
export function departure(piece: Piece): Vec2 {
  if (piece.kind === 'line') return unit2(minus(piece.to, piece.from));
  const { center, sweepRad } = arcOf(piece);
  return times(leftOf(unit2(minus(piece.from, center))), Math.sign(sweepRad));
}

/** The center lies on the normal of the direction of travel, as far from the start as from the end. */
function tangentArc(from: Vec2, to: Vec2, { role, before, number }: Way): Piece {
  if (before === undefined)
    throw new ProblemError('tangent-first', 'A path cannot begin with a tangent arc: there is nothing to go on from.');
  const direction = arrival(before);
  const chord = minus(to, from);
  const normal = leftOf(direction);
  const across = dot2(chord, normal);
  if (Math.abs(across) < 1e-9 * Math.max(1, size2(chord)))
    throw new ProblemError('tangent-straight', `Move ${String(number)} is straight: use a line there.`);
  const radius = dot2(chord, chord) / (2 * across);
  const center = plus(from, times(normal, radius));
  const start = Math.atan2(from[1] - center[1], from[0] - center[0]);
  const end = Math.atan2(to[1] - center[1], to[0] - center[0]);
  const turn = 2 * Math.PI;
  const raw = (((end - start) % turn) + turn) % turn;
  const sweep = radius > 0 ? raw : raw - turn;
  return { kind: 'arc', role, from, through: polarPoint(center, Math.abs(radius), start + sweep / 2), to };
}
