import type { Solid } from '#core/solid';
import { ARITHMETIC_MM, SAME_PLACE_MM } from '#core/tolerance';

/** Lengths of a part along an axis between two of its coordinates, in mm. */
export interface Span {
  readonly fromMm: number;
  readonly toMm: number;
}

/** What a part is stretched by: the body that it begins with, and where its steps place something along the axis. */
export interface Stretchable {
  readonly body: Pick<Solid, 'faces' | 'edges'>;
  readonly placed: readonly Span[];
}

/**
 * Where a part can be stretched along an axis so that one span grows: between corners and away from what is round or
 * slanted along the axis, not within what a step places, and where as few of the other spans as possible grow with it; of
 * those, where there is most room. The part has one section there. Null where there is no such place.
 */
export function stretchAt(
  { body, placed }: Stretchable,
  axis: 0 | 1 | 2,
  span: Span,
  others: readonly Span[],
): Span | null {
  const slanted = body.faces.flatMap(({ surface, bounds }): readonly Span[] => {
    const lies = { fromMm: bounds.min[axis], toMm: bounds.max[axis] };
    const runsAlong =
      surface.kind === 'plane'
        ? Math.abs(surface.normal[axis]) < ARITHMETIC_MM
        : surface.kind === 'cylinder' && Math.abs(surface.direction[axis]) > 1 - ARITHMETIC_MM;
    return runsAlong ? [] : [lies];
  });
  const blocked = [...slanted, ...placed];
  const places = [
    span.fromMm,
    span.toMm,
    ...body.edges.flatMap(({ convexity, start, end }) => (convexity === 'degenerate' ? [] : [start[axis], end[axis]])),
    ...blocked.flatMap(({ fromMm, toMm }) => [fromMm, toMm]),
  ]
    .filter((at) => at > span.fromMm - ARITHMETIC_MM && at < span.toMm + ARITHMETIC_MM)
    .sort((a, b) => a - b);
  const gaps = places.flatMap((from, i) => {
    const to = places[i + 1];
    if (to === undefined || to - from < SAME_PLACE_MM) return [];
    const middle = (from + to) / 2;
    const crosses = ({ fromMm, toMm }: Span): boolean => fromMm < middle && middle < toMm;
    return blocked.some(crosses) ? [] : [{ fromMm: from, toMm: to, grown: others.filter(crosses).length }];
  });
  const room = ({ fromMm, toMm }: Span): number => toMm - fromMm;
  const [best] = gaps.sort((a, b) => a.grown - b.grown || room(b) - room(a));
  return best === undefined ? null : { fromMm: best.fromMm, toMm: best.toMm };
}

/** Where in such a place a part is cut to grow by so much; what is taken out of it lies in the middle of the place. */
export const cutAt = ({ fromMm, toMm }: Span, byMm: number): number => (fromMm + toMm + Math.min(0, byMm)) / 2;
