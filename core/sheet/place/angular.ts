import type { Vec2 } from '#core/vector';

import { textWidth } from '../lettering.ts';
import type { SheetEntity } from '../model.ts';
import type { ViewDimension } from '../view-dimension.ts';

import {
  ARROW_MM,
  BEYOND_MM,
  GAP_MM,
  LETTER_MM,
  lineOf,
  textBox,
  type Candidate,
  type ViewOnPaper,
} from './candidate.ts';

type Angular = Extract<ViewDimension, { kind: 'angular' }>;

/** The arc is told from texts and lines by so many straight pieces. */
const ARC_PIECES = 12;

/** The angle on paper: from `start`, counterclockwise by `turn`, rad. */
interface Opening {
  readonly apex: Vec2;
  readonly start: number;
  readonly turn: number;
}

const pointAt = ({ apex }: Opening, angle: number, radius: number): Vec2 => [
  apex[0] + radius * Math.cos(angle),
  apex[1] + radius * Math.sin(angle),
];

function openingOf({ legs, apex }: Angular, scale: number): Opening {
  let sweep = legs[1].angle - legs[0].angle;
  while (sweep > Math.PI) sweep -= 2 * Math.PI;
  while (sweep < -Math.PI) sweep += 2 * Math.PI;
  return {
    apex: [apex[0] * scale, apex[1] * scale],
    start: sweep >= 0 ? legs[0].angle : legs[1].angle,
    turn: Math.abs(sweep),
  };
}

/** An extension line that is shorter says nothing. */
const SHORTEST_MM = 0.5;

/** The arc, and a line to each leg that does not reach to it: from its end outwards, or back over the apex. */
function strokesOf({ legs }: Angular, opening: Opening, radius: number, scale: number) {
  const { start, turn } = opening;
  const arc = Array.from({ length: ARC_PIECES }, (_, k) => ({
    from: pointAt(opening, start + (turn * k) / ARC_PIECES, radius),
    to: pointAt(opening, start + (turn * (k + 1)) / ARC_PIECES, radius),
    role: 'dimension' as const,
  }));
  const extensions = legs.flatMap((leg) => {
    const [low, high] = [leg.low * scale, leg.high * scale];
    const [begins, ends] =
      radius > high ? [high + GAP_MM, radius + BEYOND_MM] : radius < low ? [low - GAP_MM, radius - BEYOND_MM] : [0, 0];
    return Math.abs(ends - begins) < SHORTEST_MM
      ? []
      : [
          {
            from: pointAt(opening, leg.angle, begins),
            to: pointAt(opening, leg.angle, ends),
            role: 'extension' as const,
          },
        ];
  });
  return { arc, extensions };
}

/** The arc with an arrow at each leg; narrow ones have their arrows outside, pointing in. */
function drawArc({ id }: Angular, opening: Opening, radius: number): readonly SheetEntity[] {
  const { apex, start, turn } = opening;
  const own = { checkId: id };
  const narrow = turn * radius < 2 * ARROW_MM + 3;
  const arrow = (angle: number, forward: 1 | -1): SheetEntity => ({
    kind: 'arrow',
    tip: pointAt(opening, angle, radius),
    angle: angle + (forward * Math.PI) / 2,
    ...own,
  });
  return [
    {
      kind: 'arc',
      layer: 'dimension',
      center: apex,
      radius,
      start: narrow ? start - 6 / radius : start,
      sweep: narrow ? turn + 12 / radius : turn,
      ...own,
    },
    arrow(start, narrow ? 1 : -1),
    arrow(start + turn, narrow ? -1 : 1),
  ];
}

/** Places of an angle: arcs about its apex, the text beyond the arc, level; `wanted` gives the radius. */
export function angularCandidates(dimension: Angular, view: ViewOnPaper, wanted: Vec2 | undefined): Candidate[] {
  const { text, id } = dimension;
  const { scale } = view;
  const opening = openingOf(dimension, scale);
  const { apex, start, turn } = opening;
  const width = textWidth(text, LETTER_MM);
  const far = Math.max(
    ...view.strokes.flatMap(({ from, to }) => [from, to]).map((p) => Math.hypot(p[0] - apex[0], p[1] - apex[1])),
  );
  const radii =
    wanted === undefined ? Array.from({ length: 24 }, (_, i) => 12 + i * 5).filter((r) => r <= far + 30) : [wanted[1]];
  return radii.flatMap((radius, i) => {
    const { arc, extensions } = strokesOf(dimension, opening, radius, scale);
    return [0.5, 0.3, 0.7].map((share): Candidate => {
      const direction = start + turn * share;
      const middle = pointAt(opening, direction, radius + 2.2);
      const textAt: Vec2 = [
        middle[0] + (Math.cos(direction) - 1) * 0.5 * width,
        middle[1] + (Math.sin(direction) - 1) * 0.5 * LETTER_MM,
      ];
      const own = { checkId: id };
      return {
        own: i * 0.6 + (share === 0.5 ? 0 : 1),
        texts: [textBox(textAt, width, LETTER_MM, 0)],
        strokes: [...arc, ...extensions],
        offset: [0, radius],
        draw: () => [
          ...extensions.map((stroke) => lineOf(stroke, own)),
          ...drawArc(dimension, opening, radius),
          { kind: 'text', text, at: textAt, heightMm: LETTER_MM, anchor: 'start', ...own },
        ],
      };
    });
  });
}
