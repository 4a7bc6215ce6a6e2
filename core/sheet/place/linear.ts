import { textWidth } from '../lettering.ts';
import type { SheetEntity } from '../model.ts';
import type { ViewDimension } from '../view-dimension.ts';
import type { Vec2 } from '#core/vector';

import {
  ARROW_MM,
  back,
  BEYOND_MM,
  extentAcross,
  extentAlong,
  FIRST_ROW_MM,
  GAP_MM,
  LETTER_MM,
  lineOf,
  MOST_ROWS,
  ROW_MM,
  textBox,
  type Candidate,
  type ViewOnPaper,
} from './candidate.ts';

type Linear = Extract<ViewDimension, { kind: 'linear' }>;

/** One end of the dimension on paper: its place along the dimension, and what its extension line comes from. */
interface PaperEnd {
  readonly at: number;
  readonly low: number;
  readonly high: number;
  /** Where its extension line begins towards either side. */
  readonly begins: readonly [low: number, high: number];
}

interface Fit {
  readonly a: PaperEnd;
  readonly b: PaperEnd;
  readonly textWidth: number;
  /** Too narrow for arrows inside: they point in from outside. */
  readonly arrowsOutside: boolean;
  /** The text stands between the ends. */
  readonly textInside: boolean;
  /** What the dimension line is longer by at each end. */
  readonly tail: number;
  /** Where a text in the middle begins. */
  readonly middle: number;
}

function fitOf({ text, from, to }: Linear, scale: number): Fit | null {
  const [a, b] = [from, to]
    .map(({ at, low, high, outermost = [low, high], touched = outermost }): PaperEnd => ({
      at: at * scale,
      low: outermost[0] * scale,
      high: outermost[1] * scale,
      begins: [touched[0] * scale, touched[1] * scale],
    }))
    .sort((p, q) => p.at - q.at);
  if (a === undefined || b === undefined) return null;
  const width = textWidth(text, LETTER_MM);
  const size = b.at - a.at;
  const arrowsOutside = size < 2 * ARROW_MM + 3;
  return {
    a,
    b,
    textWidth: width,
    arrowsOutside,
    textInside: width + 2 <= size - (arrowsOutside ? 0 : 2 * ARROW_MM),
    tail: arrowsOutside ? 6 : 0,
    middle: (a.at + b.at) / 2 - width / 2,
  };
}

/** What a text beside its dimension costs, on the side where it is rather written, and on the other. */
const RATHER = 2.5;
const OTHERWISE = 3;

type Start = readonly [start: number, cost: number];

/** Where the text may begin along the dimension line: inside where it fits, else beside it. */
function startsOf(
  { a, b, textWidth: width, textInside, tail, middle }: Fit,
  isRatherBefore: boolean,
): readonly Start[] {
  if (!textInside) {
    const [before, after] = isRatherBefore ? [RATHER, OTHERWISE] : [OTHERWISE, RATHER];
    return [0, 3, 7, 12, 18].flatMap((further): Start[] => [
      [b.at + tail + 1.2 + further, after + further * 0.3],
      [a.at - tail - 1.2 - width - further, before + further * 0.3],
    ]);
  }
  if (b.at - a.at <= width + 4 * ARROW_MM + 4) return [[middle, 0]];
  return [
    [middle, 0],
    [a.at + ARROW_MM + 1.5, 2.5],
    [b.at - ARROW_MM - 1.5 - width, 2.5],
    [(a.at + middle) / 2, 2],
    [(b.at - width + middle) / 2, 2],
  ];
}

/** So much further over the part is the wrong side for extension lines, mm. */
const DETOUR_MM = 15;
/** Dearer than some rows, cheaper than crossing another dimension. */
const DETOUR_COST = 15;

/** A row of dimension lines on one side of the view: its level, and how far that is from the view, with the sign of the side. */
interface Row {
  readonly side: 1 | -1;
  readonly level: number;
  readonly cost: number;
  readonly offset: number;
}

function rowsOf({ a, b }: Fit, [low, high]: readonly [number, number], wanted: Vec2 | undefined): readonly Row[] {
  if (wanted !== undefined) {
    const side = wanted[1] >= 0 ? 1 : -1;
    return [{ side, level: (side > 0 ? high : low) + wanted[1], cost: 0, offset: wanted[1] }];
  }
  return Array.from({ length: MOST_ROWS }, (_, row) => row).flatMap((row) =>
    ([1, -1] as const).map((side): Row => {
      const distance = FIRST_ROW_MM + row * ROW_MM;
      // Extension lines that run across the part are worth avoiding, the more so where they are much shorter on the other side.
      const reachTo = (way: 1 | -1): number =>
        [a, b].reduce((sum, end) => sum + (way > 0 ? high - end.high : end.low - low), 0);
      const reach = reachTo(side);
      const detour = reach > reachTo(side > 0 ? -1 : 1) + DETOUR_MM ? DETOUR_COST : 0;
      const level = side > 0 ? high + distance : low - distance;
      return { side, level, cost: 2.2 * row + 0.12 * reach + detour, offset: side * distance };
    }),
  );
}

function candidateOf({ id, angle, text }: Linear, fit: Fit, { side, level, cost, offset }: Row, start: number) {
  const { a, b, textWidth: width, arrowsOutside, textInside, tail } = fit;
  const at = back([start, level + 1], angle);
  const lineFrom = textInside ? a.at - tail : Math.min(a.at - tail, start);
  const lineTo = textInside ? b.at + tail : Math.max(b.at + tail, start + width);
  const extension = (end: PaperEnd) => ({
    from: back([end.at, side > 0 ? end.begins[1] + GAP_MM : end.begins[0] - GAP_MM], angle),
    to: back([end.at, level + side * BEYOND_MM], angle),
    role: 'extension' as const,
  });
  const strokes = [
    extension(a),
    extension(b),
    { from: back([lineFrom, level], angle), to: back([lineTo, level], angle), role: 'dimension' as const },
  ];
  const own = { checkId: id };
  const arrow = (x: number, forward: boolean): SheetEntity => ({
    kind: 'arrow',
    tip: back([x, level], angle),
    angle: angle + (forward ? 0 : Math.PI),
    ...own,
  });
  return {
    cost,
    texts: [textBox(at, width, LETTER_MM, angle)],
    strokes,
    offset,
    draw: (): readonly SheetEntity[] => [
      ...strokes.map((stroke) => lineOf(stroke, own)),
      arrow(a.at, arrowsOutside),
      arrow(b.at, !arrowsOutside),
      { kind: 'text', text, at, heightMm: LETTER_MM, anchor: 'start', ...(angle === 0 ? {} : { angle }), ...own },
    ],
  };
}

/** Places of a straight dimension: rows above and below the view, the text inside or beside; `wanted` as asked by hand. */
export function linearCandidates(dimension: Linear, view: ViewOnPaper, wanted: Vec2 | undefined): Candidate[] {
  const fit = fitOf(dimension, view.scale);
  if (fit === null) return [];
  const [low, high] = extentAlong(view, dimension.angle);
  const isRatherBefore = view.textBeside === 'outward' && fit.a.at + fit.b.at < low + high;
  const starts = startsOf(fit, isRatherBefore);
  const base = starts[0]?.[0] ?? fit.middle;
  const asked: readonly Start[] = wanted === undefined ? starts : [[base + wanted[0], 0]];
  return rowsOf(fit, extentAcross(view, dimension.angle), wanted).flatMap((row) =>
    asked.map(([start, startCost]): Candidate => {
      const { cost, offset, ...rest } = candidateOf(dimension, fit, row, start);
      return { ...rest, own: cost + startCost, offset: [start - base, offset] };
    }),
  );
}
