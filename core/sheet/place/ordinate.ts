import type { Vec2 } from '#core/vector';

import { textWidth } from '../lettering.ts';
import type { ViewDimension } from '../view-dimension.ts';

import {
  back,
  extentAcross,
  FIRST_ROW_MM,
  GAP_MM,
  LETTER_MM,
  lineOf,
  textBox,
  type Candidate,
  type ViewOnPaper,
} from './candidate.ts';

type Ordinate = Extract<ViewDimension, { kind: 'ordinate' }>;

/** How far the text of an ordinate may stand beside its place, where its neighbors leave no room. */
const JOGS_MM = [0, 3, -3, 6, -6, 9, -9, 13, -13] as const;
const JOG_RUN_MM = 5;

/** Places of an ordinate: a line from its place to the row of ordinates, with a jog where its neighbors are near. */
export function ordinateCandidates(dimension: Ordinate, view: ViewOnPaper, wanted: Vec2 | undefined): Candidate[] {
  const { angle, text, isDatum } = dimension;
  const { scale } = view;
  const [low, high] = extentAcross(view, angle);
  const [at, from, to] = [dimension.to.at * scale, dimension.to.low * scale, dimension.to.high * scale];
  const width = textWidth(text, LETTER_MM);
  const level = angle > 0;
  const places: (readonly [jog: number, side: 1 | -1, distance: number, cost: number])[] =
    wanted === undefined
      ? ([1, -1] as const).flatMap((side) =>
          JOGS_MM.map((jog, i) => {
            const reach = side > 0 ? high - to : from - low;
            // All of a view stand on one side of it: above, or to the left.
            return [jog, side, FIRST_ROW_MM, 3 * i + 0.05 * reach + (side > 0 ? 0 : 12)] as const;
          }),
        )
      : [[wanted[0], wanted[1] >= 0 ? 1 : -1, Math.abs(wanted[1]), 0]];
  return places.map(([jog, side, distance, cost]): Candidate => {
    const end = side > 0 ? high + distance : low - distance;
    const begin = side > 0 ? to + GAP_MM : from - GAP_MM;
    const knee = side > 0 ? Math.max(begin, end - JOG_RUN_MM) : Math.min(begin, end + JOG_RUN_MM);
    const corners: readonly Vec2[] =
      jog === 0
        ? [
            [at, begin],
            [at, end],
          ]
        : [
            [at, begin],
            [at, knee],
            [at + jog, end],
          ];
    const points = corners.map((corner) => back(corner, angle));
    const strokes = points
      .slice(1)
      .map((next, i) => ({ from: points[i] ?? next, to: next, role: 'dimension' as const }));
    const [x, y] = points.at(-1) ?? [0, 0];
    // Counted to the right, the text reads upwards from the line's end; counted upwards, it stands level beside it.
    const start: Vec2 = level
      ? [side > 0 ? x - 1 - width : x + 1, y - LETTER_MM / 2]
      : [x + LETTER_MM / 2, side > 0 ? y + 1 : y - 1 - width];
    const turn = level ? 0 : Math.PI / 2;
    const own = isDatum ? {} : { checkId: dimension.id };
    return {
      own: cost,
      texts: [textBox(start, width, LETTER_MM, turn)],
      strokes,
      offset: [jog, side * distance],
      draw: () => [
        ...strokes.map((stroke) => lineOf(stroke, own)),
        {
          kind: 'text',
          text,
          at: start,
          heightMm: LETTER_MM,
          anchor: 'start',
          ...(level ? {} : { angle: turn }),
          ...own,
        },
      ],
    };
  });
}
