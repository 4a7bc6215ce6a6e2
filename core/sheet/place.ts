import { extremes, type Vec2 } from '#core/vector';

import { textWidth } from './lettering.ts';
import type { SheetEntity } from './model.ts';
import {
  boxesOverlap,
  boxOf,
  grown,
  sharedLength,
  strokeInBox,
  strokesCross,
  type PaperBox,
  type Stroke,
} from './overlap.ts';
import { turned, type LeaderTarget, type Run, type ViewDimension } from './view-dimension.ts';

export const LETTER_MM = 3.5;
const FIRST_ROW_MM = 9;
const ROW_MM = 7;
const MOST_ROWS = 14;
const ARROW_MM = 2.8;
/** Extension lines begin so far from the part, and end so far behind the dimension line. */
const GAP_MM = 1.2;
const BEYOND_MM = 1.8;
/** Between base lines of the rows of a callout. */
const LINE_MM = LETTER_MM * 1.55;
const ROUNDS = 6;

/** The lines of a view on paper, relative to the place of its origin; mm. */
export interface ViewOnPaper {
  readonly strokes: readonly Stroke[];
  /** Center lines and marks: texts avoid them less. */
  readonly marks: readonly Stroke[];
  readonly outline: PaperBox;
  /** Paper that is covered already. */
  readonly taken: readonly PaperBox[];
  /** Paper size over part size. */
  readonly scale: number;
}

/** A dimension with its place. */
export interface PlacedDimension {
  readonly id: string;
  readonly entities: readonly SheetEntity[];
  readonly texts: readonly PaperBox[];
  /** Row and side, or place of the text, as it can be asked for again. */
  readonly offset: Vec2;
  /** Direction of a linear one, and the size of the view across it. */
  readonly angle: number | null;
  readonly acrossMm: number;
  readonly hiddenEnds: number;
}

type Role = 'dimension' | 'extension' | 'leader';

interface Candidate {
  readonly own: number;
  readonly texts: readonly PaperBox[];
  readonly strokes: readonly (Stroke & { readonly role: Role })[];
  readonly offset: Vec2;
  readonly draw: () => readonly SheetEntity[];
}

const COST = {
  textOnText: 1000,
  textOnLine: 400,
  lineThroughText: 400,
  sameLine: 500,
  textOnMark: 60,
  leaderCrossesPart: 2.5,
  textInside: 30,
  leaderCrossesLeader: 80,
  dimensionCrossesDimension: 60,
  dimensionCrossesExtension: 9,
  leaderCrossesDimension: 14,
  extensionCrosses: 1,
} as const;
/** A place that costs more than this is a fault of the sheet. */
const FAULT = 300;
/** Of a millimeter of leader: long ones are hard to follow. */
const COST_OF_LENGTH = 0.16;

/**
 * Finds places for the dimensions of a view: outside the outline where possible, shorter ones inside longer ones, rows
 * evenly spaced, no text on a line, no leader through another. Each is put where it costs least beside those that are
 * there; then those that are in the way of something are put again, some times over. `wanted` are offsets given by hand.
 */
export function placeDimensions(
  view: ViewOnPaper,
  dimensions: readonly ViewDimension[],
  wanted: ReadonlyMap<string, Vec2> = new Map(),
): readonly PlacedDimension[] {
  const items = [...dimensions]
    .sort((a, b) => sizeOf(a, view.scale) - sizeOf(b, view.scale))
    .map((dimension) => ({ dimension, candidates: candidatesOf(dimension, view, wanted.get(dimension.id)) }));
  const chosen = new Map<string, { candidate: Candidate; cost: number }>();
  const put = ({ dimension, candidates }: (typeof items)[number]): void => {
    chosen.delete(dimension.id);
    const others = [...chosen.values()].map(({ candidate }) => candidate);
    let best = null as { readonly candidate: Candidate; readonly cost: number } | null;
    for (const candidate of candidates) {
      if (best !== null && candidate.own >= best.cost) break;
      const cost =
        candidate.own + clashes(candidate, others, view, best === null ? Infinity : best.cost - candidate.own);
      if (best === null || cost < best.cost) best = { candidate, cost };
    }
    if (best !== null) chosen.set(dimension.id, best);
  };
  for (const item of items) put(item);
  for (let round = 0; round < ROUNDS; round++) {
    const faulty = items.filter(({ dimension }) => {
      const own = chosen.get(dimension.id);
      if (own === undefined) return false;
      const others = [...chosen].filter(([id]) => id !== dimension.id).map(([, { candidate }]) => candidate);
      return clashes(own.candidate, others, view, Infinity) >= (round === 0 ? 5 : FAULT);
    });
    if (faulty.length === 0) break;
    for (const item of faulty) put(item);
  }
  return items.flatMap(({ dimension }) => {
    const own = chosen.get(dimension.id);
    return own === undefined
      ? []
      : [
          {
            id: dimension.id,
            entities: own.candidate.draw(),
            texts: own.candidate.texts,
            offset: own.candidate.offset,
            angle: 'angle' in dimension ? dimension.angle : null,
            acrossMm: 'angle' in dimension ? widthOf(extentAcross(view, dimension.angle)) : 0,
            hiddenEnds: dimension.hiddenEnds,
          },
        ];
  });
}

/** Where the lines of a view begin and end across a direction. */
const extentAcross = ({ strokes }: ViewOnPaper, angle: number): readonly [number, number] =>
  extremes(strokes.flatMap(({ from, to }) => [turned(from, angle)[1], turned(to, angle)[1]]));
const widthOf = ([low, high]: readonly [number, number]): number => high - low;

function sizeOf(dimension: ViewDimension, scale: number): number {
  switch (dimension.kind) {
    // They stand in one row, before any other.
    case 'ordinate':
      return dimension.isDatum ? -2 : -1;
    case 'linear':
      return Math.abs(dimension.to.at - dimension.from.at) * scale;
    case 'angular':
      return 1e4;
    case 'leader':
      return 2e4;
  }
}

/** What a place costs beside the lines of the view and the dimensions that are there. Stops above a limit. */
function clashes(candidate: Candidate, others: readonly Candidate[], view: ViewOnPaper, limit: number): number {
  let cost = 0;
  for (const text of candidate.texts) {
    const roomy = grown(text, 0.5);
    for (const stroke of view.strokes) {
      if (strokeInBox(stroke, roomy)) cost += COST.textOnLine;
      if (cost >= limit) return cost;
    }
    for (const stroke of view.marks) if (strokeInBox(stroke, roomy)) cost += COST.textOnMark;
    if (boxesOverlap(text, view.outline)) cost += COST.textInside;
    for (const taken of view.taken) if (boxesOverlap(roomy, taken)) cost += COST.textOnText;
  }
  for (const stroke of candidate.strokes)
    if (stroke.role === 'leader')
      for (const line of view.strokes) if (strokesCross(stroke, line)) cost += COST.leaderCrossesPart;
  if (cost >= limit) return cost;
  for (const other of others) {
    for (const text of candidate.texts) {
      const roomy = grown(text, 0.6);
      for (const theirs of other.texts) if (boxesOverlap(roomy, theirs)) cost += COST.textOnText;
      for (const stroke of other.strokes) if (strokeInBox(stroke, roomy)) cost += COST.lineThroughText;
    }
    if (cost >= limit) return cost;
    for (const stroke of candidate.strokes) {
      for (const theirs of other.texts) if (strokeInBox(stroke, grown(theirs, 0.4))) cost += COST.lineThroughText;
      for (const line of other.strokes) cost += crossingCost(stroke, line);
    }
    if (cost >= limit) return cost;
  }
  return cost;
}

function crossingCost(a: Candidate['strokes'][number], b: Candidate['strokes'][number]): number {
  // Extension lines may lie on each other: two dimensions often begin at one edge.
  if (!(a.role === 'extension' && b.role === 'extension') && sharedLength(a, b) > 0.5) return COST.sameLine;
  if (!strokesCross(a, b)) return 0;
  const roles = [a.role, b.role];
  if (a.role === b.role)
    return a.role === 'leader'
      ? COST.leaderCrossesLeader
      : a.role === 'dimension'
        ? COST.dimensionCrossesDimension
        : COST.extensionCrosses;
  if (roles.includes('leader')) return COST.leaderCrossesDimension;
  return COST.dimensionCrossesExtension;
}

function candidatesOf(dimension: ViewDimension, view: ViewOnPaper, wanted: Vec2 | undefined): readonly Candidate[] {
  const all =
    dimension.kind === 'linear'
      ? linearCandidates(dimension, view, wanted)
      : dimension.kind === 'ordinate'
        ? ordinateCandidates(dimension, view, wanted)
        : dimension.kind === 'leader'
          ? leaderCandidates(dimension, view, wanted)
          : angularCandidates(dimension, view, wanted);
  return all.sort((a, b) => a.own - b.own);
}

type Linear = Extract<ViewDimension, { kind: 'linear' }>;
type Ordinate = Extract<ViewDimension, { kind: 'ordinate' }>;
type Leader = Extract<ViewDimension, { kind: 'leader' }>;
type Angular = Extract<ViewDimension, { kind: 'angular' }>;

const back = (p: Vec2, angle: number): Vec2 => turned(p, -angle);

/** The box around a text that may lie aslant. */
function textBox(at: Vec2, width: number, height: number, angle: number): PaperBox {
  const corners: readonly Vec2[] = [
    [0, -0.25 * height],
    [width, -0.25 * height],
    [width, height],
    [0, height],
  ];
  return boxOf(
    corners.map((corner) => {
      const [x, y] = back(corner, angle);
      return [at[0] + x, at[1] + y] as const;
    }),
  );
}

function linearCandidates(dimension: Linear, view: ViewOnPaper, wanted: Vec2 | undefined): Candidate[] {
  const { angle, text } = dimension;
  const { scale } = view;
  const [low, high] = extentAcross(view, angle);
  const [a, b] = [dimension.from, dimension.to]
    .map((end) => ({ at: end.at * scale, low: end.low * scale, high: end.high * scale }))
    .sort((p, q) => p.at - q.at);
  if (a === undefined || b === undefined) return [];
  const width = textWidth(text, LETTER_MM);
  const size = b.at - a.at;
  // Too narrow for arrows inside: they point in from outside.
  const outside = size < 2 * ARROW_MM + 3;
  const fits = width + 2 <= size - (outside ? 0 : 2 * ARROW_MM);
  const tail = outside ? 6 : 0;
  const middle = (a.at + b.at) / 2 - width / 2;
  const places: (readonly [start: number, cost: number])[] = fits
    ? [
        [middle, 0],
        ...(size > width + 4 * ARROW_MM + 4
          ? ([
              [a.at + ARROW_MM + 1.5, 2.5],
              [b.at - ARROW_MM - 1.5 - width, 2.5],
              [(a.at + middle) / 2, 2],
              [(b.at - width + middle) / 2, 2],
            ] as const)
          : []),
      ]
    : [0, 3, 7, 12, 18].flatMap((further) => [
        [b.at + tail + 1.2 + further, 2.5 + further * 0.3] as const,
        [a.at - tail - 1.2 - width - further, 3 + further * 0.3] as const,
      ]);
  const levels: (readonly [side: 1 | -1, level: number, cost: number, offset: number])[] = [];
  if (wanted !== undefined) {
    const side = wanted[1] >= 0 ? 1 : -1;
    levels.push([side, (side > 0 ? high : low) + wanted[1], 0, wanted[1]]);
  } else
    for (let row = 0; row < MOST_ROWS; row++)
      for (const side of [1, -1] as const) {
        const distance = FIRST_ROW_MM + row * ROW_MM;
        // Extension lines that run across the part are worth avoiding.
        const reach = [a, b].reduce((sum, end) => sum + (side > 0 ? high - end.high : end.low - low), 0);
        levels.push([side, side > 0 ? high + distance : low - distance, 2.2 * row + 0.12 * reach, side * distance]);
      }
  const base = places[0]?.[0] ?? middle;
  const shifts = wanted === undefined ? places : [[base + wanted[0], 0] as const];
  return levels.flatMap(([side, level, levelCost, offset]) =>
    shifts.map(([start, placeCost]): Candidate => {
      const at = back([start, level + 1], angle);
      const from = (end: typeof a): number => (side > 0 ? end.high + GAP_MM : end.low - GAP_MM);
      const lineFrom = fits ? a.at - tail : Math.min(a.at - tail, start);
      const lineTo = fits ? b.at + tail : Math.max(b.at + tail, start + width);
      const strokes = [
        { from: back([a.at, from(a)], angle), to: back([a.at, level + side * BEYOND_MM], angle), role: 'extension' },
        { from: back([b.at, from(b)], angle), to: back([b.at, level + side * BEYOND_MM], angle), role: 'extension' },
        { from: back([lineFrom, level], angle), to: back([lineTo, level], angle), role: 'dimension' },
      ] as const;
      return {
        own: levelCost + placeCost,
        texts: [textBox(at, width, LETTER_MM, angle)],
        strokes,
        offset: [start - base, offset],
        draw: () => {
          const own = { checkId: dimension.id };
          const arrow = (x: number, outwards: number): SheetEntity => ({
            kind: 'arrow',
            tip: back([x, level], angle),
            angle: angle + (outwards > 0 ? 0 : Math.PI),
            ...own,
          });
          return [
            ...strokes.map(({ from: start2, to }): SheetEntity => ({
              kind: 'line',
              layer: 'dimension',
              from: start2,
              to,
              ...own,
            })),
            arrow(a.at, outside ? 1 : -1),
            arrow(b.at, outside ? -1 : 1),
            { kind: 'text', text, at, heightMm: LETTER_MM, anchor: 'start', ...(angle === 0 ? {} : { angle }), ...own },
          ];
        },
      };
    }),
  );
}

/** How far the text of an ordinate may stand beside its place, where its neighbors leave no room. */
const JOGS_MM = [0, 3, -3, 6, -6, 9, -9, 13, -13] as const;
const JOG_RUN_MM = 5;

function ordinateCandidates(dimension: Ordinate, view: ViewOnPaper, wanted: Vec2 | undefined): Candidate[] {
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
        ...strokes.map(({ from: a, to: b }): SheetEntity => ({
          kind: 'line',
          layer: 'dimension',
          from: a,
          to: b,
          ...own,
        })),
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

const rowText = (row: readonly Run[]): string => row.map(({ text }) => text).join('');

function leaderCandidates(dimension: Leader, view: ViewOnPaper, wanted: Vec2 | undefined): Candidate[] {
  const { rows, targets } = dimension;
  const { outline, scale } = view;
  const width = Math.max(...rows.map((row) => textWidth(rowText(row), LETTER_MM)));
  const height = (rows.length - 1) * LINE_MM + LETTER_MM;
  /** Elbows: where the leader ends and the landing begins; the text is to its right or left. */
  const elbows: (readonly [elbow: Vec2, side: 1 | -1, cost: number])[] = [];
  const onPaper = targets.map(({ center, radius, at }) => ({
    center: [center[0] * scale, center[1] * scale] satisfies Vec2,
    radius: radius * scale,
    at,
  }));
  if (wanted !== undefined) {
    const [first] = onPaper;
    if (first !== undefined)
      elbows.push([[first.center[0] + wanted[0], first.center[1] + wanted[1]], wanted[0] >= 0 ? 1 : -1, 0]);
  } else {
    const [[left, bottom], [right, top]] = [outline.min, outline.max];
    for (const [i, out] of [7, 13, 20, 28, 38, 50].entries())
      for (let y = bottom - 24; y <= top + 24; y += 3.5) {
        elbows.push([[right + out, y], 1, i * 0.8], [[left - out, y], -1, i * 0.8]);
      }
    for (const [i, out] of [7, 13, 19, 26, 34].entries())
      for (let x = left - 10; x <= right + 10; x += 5)
        for (const side of [1, -1] as const)
          elbows.push([[x, top + out], side, 1 + i * 0.8], [[x, bottom - out], side, 1 + i * 0.8]);
  }
  const nearest = [...onPaper].sort((a, b) => toOutline(a.center, outline) - toOutline(b.center, outline)).slice(0, 4);
  return (wanted === undefined ? nearest : onPaper.slice(0, 1)).flatMap((target) =>
    elbows.flatMap(([elbow, side, cost]): Candidate[] => {
      const tip = tipOf(target, elbow);
      const run = Math.hypot(elbow[0] - tip[0], elbow[1] - tip[1]);
      if (run < 4 && wanted === undefined) return [];
      // Leaders that lie level or upright are taken for dimension lines.
      const slope = Math.abs(elbow[1] - tip[1]) / Math.max(1e-6, Math.abs(elbow[0] - tip[0]));
      const flat = slope < 0.09 || slope > 11 ? 6 : 0;
      const off = target.at === null || target.radius === 0 ? 0 : awayFromRay(target, tip, elbow);
      const landing: Vec2 = [elbow[0] + side * 3, elbow[1]];
      const textAt: Vec2 = [side > 0 ? landing[0] + 0.8 : landing[0] - 0.8 - width, elbow[1] - LETTER_MM / 2];
      const texts = rows.map((row, i) =>
        textBox([textAt[0], textAt[1] - i * LINE_MM], textWidth(rowText(row), LETTER_MM), LETTER_MM, 0),
      );
      const strokes = [
        { from: tip, to: elbow, role: 'leader' },
        { from: elbow, to: landing, role: 'leader' },
      ] as const;
      return [
        {
          own: cost + COST_OF_LENGTH * run + flat + off + 0.02 * height,
          texts,
          strokes,
          offset: [elbow[0] - target.center[0], elbow[1] - target.center[1]],
          draw: () => drawLeader(dimension, strokes, tip, elbow, textAt, scale),
        },
      ];
    }),
  );
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

function drawLeader(
  { rows, circle, id }: Leader,
  strokes: readonly Stroke[],
  tip: Vec2,
  elbow: Vec2,
  textAt: Vec2,
  scale: number,
): readonly SheetEntity[] {
  const first = rows[0]?.[0]?.checkId ?? null;
  const own = { checkId: first ?? id };
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
  const words = rows.flatMap((row, i) => {
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
  return [
    ...ring,
    ...strokes.map(({ from, to }): SheetEntity => ({ kind: 'line', layer: 'dimension', from, to, ...own })),
    { kind: 'arrow', tip, angle: Math.atan2(tip[1] - elbow[1], tip[0] - elbow[0]), ...own },
    ...words,
  ];
}

const ARC_PIECES = 12;

function angularCandidates(dimension: Angular, view: ViewOnPaper, wanted: Vec2 | undefined): Candidate[] {
  const { legs, text } = dimension;
  const { scale } = view;
  const apex: Vec2 = [dimension.apex[0] * scale, dimension.apex[1] * scale];
  let sweep = legs[1].angle - legs[0].angle;
  while (sweep > Math.PI) sweep -= 2 * Math.PI;
  while (sweep < -Math.PI) sweep += 2 * Math.PI;
  const start = sweep >= 0 ? legs[0].angle : legs[1].angle;
  const turn = Math.abs(sweep);
  const width = textWidth(text, LETTER_MM);
  const far = Math.max(
    ...view.strokes.flatMap(({ from, to }) => [from, to]).map((p) => Math.hypot(p[0] - apex[0], p[1] - apex[1])),
  );
  const radii =
    wanted === undefined ? Array.from({ length: 24 }, (_, i) => 12 + i * 5).filter((r) => r <= far + 30) : [wanted[1]];
  return radii.flatMap((radius, i) =>
    [0.5, 0.3, 0.7].flatMap((share): Candidate[] => {
      const at = (angle: number, r = radius): Vec2 => [apex[0] + r * Math.cos(angle), apex[1] + r * Math.sin(angle)];
      const narrow = turn * radius < 2 * ARROW_MM + 3;
      const arc = Array.from({ length: ARC_PIECES }, (_, k) => ({
        from: at(start + (turn * k) / ARC_PIECES),
        to: at(start + (turn * (k + 1)) / ARC_PIECES),
        role: 'dimension' as const,
      }));
      const extensions = legs.flatMap((leg) => {
        const begins = leg.reach * scale + GAP_MM;
        return radius + BEYOND_MM > begins && leg.reach > 0
          ? [{ from: at(leg.angle, begins), to: at(leg.angle, radius + BEYOND_MM), role: 'extension' as const }]
          : [];
      });
      const direction = start + turn * share;
      const middle = at(direction, radius + 2.2);
      // The text stands beyond the arc, level, on the side that it lies on.
      const textAt: Vec2 = [
        middle[0] + (Math.cos(direction) - 1) * 0.5 * width,
        middle[1] + (Math.sin(direction) - 1) * 0.5 * LETTER_MM,
      ];
      return [
        {
          own: i * 0.6 + (share === 0.5 ? 0 : 1),
          texts: [textBox(textAt, width, LETTER_MM, 0)],
          strokes: [...arc, ...extensions],
          offset: [0, radius],
          draw: () => {
            const own = { checkId: dimension.id };
            const arrow = (angle: number, forward: number): SheetEntity => ({
              kind: 'arrow',
              tip: at(angle),
              angle: angle + (forward * Math.PI) / 2,
              ...own,
            });
            return [
              ...extensions.map(({ from, to }): SheetEntity => ({
                kind: 'line',
                layer: 'dimension',
                from,
                to,
                ...own,
              })),
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
              { kind: 'text', text, at: textAt, heightMm: LETTER_MM, anchor: 'start', ...own },
            ];
          },
        },
      ];
    }),
  );
}
