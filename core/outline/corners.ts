import { ProblemError } from '#core/problem';
import { BUILT_PARALLEL_SINE } from '#core/tolerance';
import type { Vec2 } from '#core/vector';

import { arcOf, cross2, dot2, leftOf, minus, plus, size2, times, unit2, type Loop, type Piece } from './loop.ts';
import { arrival, departure } from './shapes.ts';

/** The curve that a piece lies on, moved sideways: to its left for a positive distance. */
type Carrier =
  | { readonly kind: 'line'; readonly point: Vec2; readonly direction: Vec2 }
  | { readonly kind: 'circle'; readonly center: Vec2; readonly radius: number };

function carrierOf(piece: Piece, leftward: number): Carrier | null {
  if (piece.kind === 'line') {
    const direction = unit2(minus(piece.to, piece.from));
    return { kind: 'line', point: plus(piece.from, times(leftOf(direction), leftward)), direction };
  }
  const { center, radiusMm, sweepRad } = arcOf(piece);
  const radius = radiusMm - Math.sign(sweepRad) * leftward;
  return radius > 1e-9 ? { kind: 'circle', center, radius } : null;
}

function meetings(a: Carrier, b: Carrier): Vec2[] {
  if (a.kind === 'line' && b.kind === 'line') {
    const across = cross2(a.direction, b.direction);
    if (Math.abs(across) < 1e-12) return [];
    return [plus(a.point, times(a.direction, cross2(minus(b.point, a.point), b.direction) / across))];
  }
  if (a.kind === 'circle' && b.kind === 'circle') {
    const line = minus(b.center, a.center);
    const d = size2(line);
    if (d < 1e-12) return [];
    const along = (d * d + a.radius * a.radius - b.radius * b.radius) / (2 * d);
    const square = a.radius * a.radius - along * along;
    if (square < 0) return [];
    const foot = plus(a.center, times(line, along / d));
    const side = times(leftOf(line), Math.sqrt(square) / d);
    return [plus(foot, side), minus(foot, side)];
  }
  const [line, circle] = a.kind === 'line' ? [a, b] : [b, a];
  if (line.kind !== 'line' || circle.kind !== 'circle') return [];
  const along = dot2(minus(circle.center, line.point), line.direction);
  const foot = plus(line.point, times(line.direction, along));
  const square = circle.radius ** 2 - dot2(minus(foot, circle.center), minus(foot, circle.center));
  if (square < 0) return [];
  const half = times(line.direction, Math.sqrt(square));
  return [plus(foot, half), minus(foot, half)];
}

/** The point of a piece's curve that is nearest to a point. */
function footOn(piece: Piece, point: Vec2): Vec2 {
  if (piece.kind === 'line') {
    const direction = unit2(minus(piece.to, piece.from));
    return plus(piece.from, times(direction, dot2(minus(point, piece.from), direction)));
  }
  const { center, radiusMm } = arcOf(piece);
  return plus(center, times(unit2(minus(point, center)), radiusMm));
}

/** How far along a piece a point of its curve lies: 0 at the start, 1 at the end. */
function shareOf(piece: Piece, point: Vec2): number {
  if (piece.kind === 'line') {
    const line = minus(piece.to, piece.from);
    return dot2(minus(point, piece.from), line) / dot2(line, line);
  }
  const { center, startRad, sweepRad } = arcOf(piece);
  const turn = 2 * Math.PI;
  const raw = Math.sign(sweepRad) * (Math.atan2(point[1] - center[1], point[0] - center[0]) - startRad);
  const forward = ((raw % turn) + turn) % turn;
  // A point just before the start counts as before it, not as nearly all the way round.
  return (forward > (turn + Math.abs(sweepRad)) / 2 ? forward - turn : forward) / Math.abs(sweepRad);
}

interface Change {
  readonly end: Vec2;
  readonly start: Vec2;
  readonly corner: (role: string) => Piece;
}

function rounding(before: Piece, after: Piece, radius: number): Change | null {
  const [arriving, leaving] = [arrival(before), departure(after)];
  const side = Math.sign(cross2(arriving, leaving));
  const [a, b] = [carrierOf(before, side * radius), carrierOf(after, side * radius)];
  if (a === null || b === null) return null;
  const at = before.to;
  const [center] = meetings(a, b).sort((p, q) => size2(minus(p, at)) - size2(minus(q, at)));
  if (center === undefined) return null;
  const [end, start] = [footOn(before, center), footOn(after, center)];
  const middle = unit2(plus(unit2(minus(end, center)), unit2(minus(start, center))));
  return {
    end,
    start,
    corner: (role) => ({ kind: 'arc', role, from: end, through: plus(center, times(middle, radius)), to: start }),
  };
}

function chamfering(before: Piece, after: Piece, size: number): Change | null {
  if (before.kind !== 'line' || after.kind !== 'line') return null;
  const end = minus(before.to, times(arrival(before), size));
  const start = plus(after.from, times(departure(after), size));
  return { end, start, corner: (role) => ({ kind: 'line', role, from: end, to: start }) };
}

function trimmed(piece: Piece, from: Vec2, to: Vec2, what: string): Piece {
  const [first, last] = [shareOf(piece, from), shareOf(piece, to)];
  if (first < -1e-9 || last > 1 + 1e-9 || last - first < 1e-9)
    throw new ProblemError('corner-too-large', `${what} is too large: nothing is left of the side "${piece.role}".`);
  if (piece.kind === 'line') return { ...piece, from, to };
  const { center, radiusMm, startRad, sweepRad } = arcOf(piece);
  const middle = startRad + (sweepRad * (first + last)) / 2;
  return {
    ...piece,
    from,
    through: [center[0] + radiusMm * Math.cos(middle), center[1] + radiusMm * Math.sin(middle)],
    to,
  };
}

/**
 * Rounds or chamfers corners of a loop. Corner n, from 1, is where its element n ends. Smooth joints are no corners.
 * Refuses with `no-such-corner`, `corner-too-large` and `corner-curved` (a chamfer beside an arc).
 */
export function treatCorners(
  loop: Loop,
  kind: 'filleted' | 'chamfered',
  sizeMm: number,
  chosen: readonly number[] | undefined,
): Loop {
  const pieces = loop.flatMap((element) => (element.kind === 'circle' ? [] : [element]));
  const isCorner = (i: number): boolean => {
    const [before, after] = [pieces[i], pieces[(i + 1) % pieces.length]];
    return (
      before !== undefined &&
      after !== undefined &&
      Math.abs(cross2(arrival(before), departure(after))) > BUILT_PARALLEL_SINE
    );
  };
  const wanted =
    chosen === undefined
      ? pieces.map((_, i) => i).filter(isCorner)
      : chosen.map((number) => {
          if (!isCorner(number - 1))
            throw new ProblemError(
              'no-such-corner',
              `The outline has no corner ${String(number)}; its corners are ${pieces.flatMap((_, i) => (isCorner(i) ? [String(i + 1)] : [])).join(', ') || 'none'}.`,
            );
          return number - 1;
        });
  const what = kind === 'filleted' ? 'The corner radius' : 'The corner chamfer';
  const changes = new Map(
    wanted.map((i): [number, Change] => {
      const [before, after] = [pieces[i], pieces[(i + 1) % pieces.length]];
      if (before === undefined || after === undefined) throw new ProblemError('no-such-corner', 'No such corner.');
      if (kind === 'chamfered' && (before.kind === 'arc' || after.kind === 'arc'))
        throw new ProblemError('corner-curved', 'Only corners between straight sides can be chamfered.');
      const change = kind === 'filleted' ? rounding(before, after, sizeMm) : chamfering(before, after, sizeMm);
      if (change === null)
        throw new ProblemError('corner-too-large', `${what} does not fit at corner ${String(i + 1)}.`);
      return [i, change];
    }),
  );
  return pieces.flatMap((piece, i): Piece[] => {
    const [cutBefore, cutAfter] = [changes.get((i + pieces.length - 1) % pieces.length), changes.get(i)];
    const kept =
      cutBefore === undefined && cutAfter === undefined
        ? piece
        : trimmed(piece, cutBefore?.start ?? piece.from, cutAfter?.end ?? piece.to, what);
    return cutAfter === undefined ? [kept] : [kept, cutAfter.corner(`corner${String(i + 1)}`)];
  });
}
