import type { Vec2 } from '#core/vector';

import { textWidth } from '../lettering.ts';
import type { SheetEntity } from '../model.ts';
import type { PaperBox } from '../overlap.ts';
import type { LeaderTarget, Run, ViewDimension } from '../view-dimension.ts';

import { LETTER_MM, lineOf, textBox, type Candidate, type ViewOnPaper } from './candidate.ts';

type Leader = Extract<ViewDimension, { kind: 'leader' }>;

/** Between base lines of the rows of a callout. */
const LINE_MM = LETTER_MM * 1.55;
/** Of a millimeter of leader: long ones are hard to follow. */
const COST_OF_LENGTH = 0.16;
const LANDING_MM = 3;

const rowText = (row: readonly Run[]): string => row.map(({ text }) => text).join('');

/** Where the leader ends and the landing begins; the text is to its right (1) or left (-1). */
interface Elbow {
  readonly at: Vec2;
  readonly side: 1 | -1;
  readonly cost: number;
}

/** Elbows in columns beside the view and in rows above and below it. */
function elbowsAround({ min: [left, bottom], max: [right, top] }: PaperBox): readonly Elbow[] {
  const elbows: Elbow[] = [];
  for (const [i, out] of [7, 13, 20, 28, 38, 50].entries())
    for (let y = bottom - 24; y <= top + 24; y += 3.5)
      elbows.push({ at: [right + out, y], side: 1, cost: i * 0.8 }, { at: [left - out, y], side: -1, cost: i * 0.8 });
  for (const [i, out] of [7, 13, 19, 26, 34].entries())
    for (let x = left - 10; x <= right + 10; x += 5)
      for (const side of [1, -1] as const)
        elbows.push(
          { at: [x, top + out], side, cost: 1 + i * 0.8 },
          { at: [x, bottom - out], side, cost: 1 + i * 0.8 },
        );
  return elbows;
}

/** Leaders that lie level or upright are taken for dimension lines. */
function costOfSlope(tip: Vec2, elbow: Vec2): number {
  const slope = Math.abs(elbow[1] - tip[1]) / Math.max(1e-6, Math.abs(elbow[0] - tip[0]));
  return slope < 0.09 || slope > 11 ? 6 : 0;
}

/** A leader as it lies on paper. */
interface Laid {
  readonly tip: Vec2;
  readonly elbow: Vec2;
  readonly textAt: Vec2;
  readonly strokes: Candidate['strokes'];
  readonly scale: number;
}

/** Places of a callout: from the targets that lie nearest to the outline to elbows around the view. */
export function leaderCandidates(dimension: Leader, view: ViewOnPaper, wanted: Vec2 | undefined): Candidate[] {
  const { rows, targets } = dimension;
  const { outline, scale } = view;
  const width = Math.max(...rows.map((row) => textWidth(rowText(row), LETTER_MM)));
  const height = (rows.length - 1) * LINE_MM + LETTER_MM;
  const onPaper = targets.map(({ center, radius, at }): LeaderTarget => ({
    center: [center[0] * scale, center[1] * scale],
    radius: radius * scale,
    at,
  }));
  const from = ({ at, side, cost }: Elbow, target: LeaderTarget): Candidate[] => {
    const tip = tipOf(target, at);
    const run = Math.hypot(at[0] - tip[0], at[1] - tip[1]);
    if (run < 4 && wanted === undefined) return [];
    const off = target.at === null || target.radius === 0 ? 0 : awayFromRay(target, tip, at);
    const landing: Vec2 = [at[0] + side * LANDING_MM, at[1]];
    const textAt: Vec2 = [side > 0 ? landing[0] + 0.8 : landing[0] - 0.8 - width, at[1] - LETTER_MM / 2];
    const strokes = [
      { from: tip, to: at, role: 'leader' },
      { from: at, to: landing, role: 'leader' },
    ] as const;
    return [
      {
        own: cost + COST_OF_LENGTH * run + costOfSlope(tip, at) + off + 0.02 * height,
        texts: rows.map((row, i) =>
          textBox([textAt[0], textAt[1] - i * LINE_MM], textWidth(rowText(row), LETTER_MM), LETTER_MM, 0),
        ),
        strokes,
        offset: [at[0] - target.center[0], at[1] - target.center[1]],
        draw: () => drawLeader(dimension, { tip, elbow: at, textAt, strokes, scale }),
      },
    ];
  };
  const [first] = onPaper;
  if (wanted !== undefined) {
    if (first === undefined) return [];
    const at: Vec2 = [first.center[0] + wanted[0], first.center[1] + wanted[1]];
    return from({ at, side: wanted[0] >= 0 ? 1 : -1, cost: 0 }, first);
  }
  const elbows = elbowsAround(outline);
  return [...onPaper]
    .sort((a, b) => toOutline(a.center, outline) - toOutline(b.center, outline))
    .slice(0, 4)
    .flatMap((target) => elbows.flatMap((elbow) => from(elbow, target)));
}

const toOutline = (p: Vec2, { min, max }: PaperBox): number =>
  Math.min(p[0] - min[0], max[0] - p[0], p[1] - min[1], max[1] - p[1]);

function tipOf({ center, radius, at }: LeaderTarget, elbow: Vec2): Vec2 {
  const angle = at ?? Math.atan2(elbow[1] - center[1], elbow[0] - center[0]);
  return [center[0] + radius * Math.cos(angle), center[1] + radius * Math.sin(angle)];
}

/** Cost of a leader to an arc that does not come from outside along its radius. */
function awayFromRay({ at }: LeaderTarget, tip: Vec2, elbow: Vec2): number {
  const ray = Math.atan2(elbow[1] - tip[1], elbow[0] - tip[0]);
  const turn = Math.abs(Math.atan2(Math.sin(ray - (at ?? 0)), Math.cos(ray - (at ?? 0))));
  return turn < 0.8 ? 0 : turn > 2 ? 1 + (Math.PI - turn) : 6 * turn;
}

/** The words of a callout, each run with the check that it says. */
function wordsOf({ rows, id }: Leader, textAt: Vec2): readonly SheetEntity[] {
  return rows.flatMap((row, i) => {
    let x = textAt[0];
    return row.map(({ text: run, checkId }): SheetEntity => {
      // A space between two runs is room, not a character of the second.
      const text = run.trimStart();
      x += textWidth(run.slice(0, run.length - text.length), LETTER_MM);
      const at: Vec2 = [x, textAt[1] - i * LINE_MM];
      x += textWidth(text, LETTER_MM);
      return { kind: 'text', text, at, heightMm: LETTER_MM, anchor: 'start', checkId: checkId ?? id };
    });
  });
}

function drawLeader(dimension: Leader, { tip, elbow, textAt, strokes, scale }: Laid): readonly SheetEntity[] {
  const { rows, circle, id } = dimension;
  const own = { checkId: rows[0]?.[0]?.checkId ?? id };
  const ring: SheetEntity[] =
    circle === null
      ? []
      : [
          {
            kind: 'arc',
            layer: 'center',
            center: [circle.center[0] * scale, circle.center[1] * scale],
            radius: circle.radius * scale,
            start: 0,
            sweep: 2 * Math.PI,
            ...own,
          },
        ];
  return [
    ...ring,
    ...strokes.map((stroke) => lineOf(stroke, own)),
    { kind: 'arrow', tip, angle: Math.atan2(tip[1] - elbow[1], tip[0] - elbow[0]), ...own },
    ...wordsOf(dimension, textAt),
  ];
}
