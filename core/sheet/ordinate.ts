import { SAME_PLACE_MM } from '#core/tolerance';
import { extremes } from '#core/vector';

import type { ViewDimension, Witness } from './view-dimension.ts';

type Linear = Extract<ViewDimension, { kind: 'linear' }>;

const QUARTER = Math.PI / 2;
const LEAST_COUNT = 2;
const LEAST_INSIDE = 3;

/**
 * Writes sizes across and up that begin at one common face as ordinates from it; the others stay what they are. The face
 * that most sizes begin at is the one that is counted from.
 */
export function withOrdinates(dimensions: readonly ViewDimension[]): readonly ViewDimension[] {
  return [0, QUARTER].reduce(ordinatesAlong, dimensions);
}

function ordinatesAlong(dimensions: readonly ViewDimension[], angle: number): readonly ViewDimension[] {
  const along = dimensions.filter(
    (one): one is Linear => one.kind === 'linear' && Math.abs(one.angle - angle) < 1e-6 && !one.text.startsWith('⌀'),
  );
  const ends = along.flatMap(({ from, to }) => [from, to]);
  const touching = ({ at }: Witness): number => ends.filter((other) => Math.abs(other.at - at) < SAME_PLACE_MM).length;
  // An end of the part, or what at least three sizes begin at; of like ones, that farthest to the left or lowest.
  const [low, high] = extremes(ends.map(({ at }) => at));
  const isEnd = ({ at }: Witness): boolean => Math.abs(at - low) < SAME_PLACE_MM || Math.abs(at - high) < SAME_PLACE_MM;
  const [datum] = ends
    .filter((end) => touching(end) >= (isEnd(end) ? LEAST_COUNT : LEAST_INSIDE))
    .sort((a, b) => touching(b) - touching(a) || a.at - b.at);
  if (datum === undefined) return dimensions;
  const isDatum = ({ at }: Witness): boolean => Math.abs(at - datum.at) < SAME_PLACE_MM;
  const counted = along.filter(({ from, to }) => isDatum(from) !== isDatum(to));
  const [first] = counted;
  if (first === undefined || counted.length < LEAST_COUNT) return dimensions;
  const atDatum = counted.flatMap(({ from, to }) => (isDatum(from) ? from : to));
  const zero: ViewDimension = {
    kind: 'ordinate',
    id: `${first.viewId}-datum-${angle === 0 ? 'across' : 'up'}`,
    viewId: first.viewId,
    hiddenEnds: 0,
    text: '0',
    angle,
    to: {
      at: datum.at,
      low: Math.min(...atDatum.map(({ low }) => low)),
      high: Math.max(...atDatum.map(({ high }) => high)),
    },
    isDatum: true,
  };
  return [
    ...dimensions.map((one): ViewDimension => {
      if (one.kind !== 'linear' || !counted.includes(one)) return one;
      const { from, to, ...rest } = one;
      return { ...rest, kind: 'ordinate', to: isDatum(from) ? to : from, isDatum: false };
    }),
    zero,
  ];
}
