import type { Reference } from '#core/check';
import type { Exercise, SheetViewName } from '#core/exercise';
import { circleCover } from '#core/feature';
import type { Projection } from '#core/kernel';
import { formatFixed, LENGTH_UNITS, type Scope } from '#core/quantity';
import { cross, dot, length, type Vec2 } from '#core/vector';

import { dimensionsOf, dimensionText, type ViewDimension, type Witness } from './dimension.ts';
import { cleanView, type SheetCurve, type ViewLines } from './lines.ts';
import { scaleText, textWidth, type LineLayer, type Sheet, type SheetEntity } from './model.ts';
import { inView, VIEWS, type ViewName } from './views.ts';

const PAPER = { widthMm: 420, heightMm: 297, marginMm: 10 };
const TITLE_BLOCK = { widthMm: 176, heightMm: 40 };
const FIRST_ROW_MM = 11;
const ROW_MM = 8;
const LETTER_MM = 3.5;
const GAP_MM = 14;
const SCALES = [20, 10, 5, 2, 1, 1 / 2, 1 / 5, 1 / 10, 1 / 20, 1 / 50, 1 / 100];

interface Extent {
  readonly min: Vec2;
  readonly max: Vec2;
}

type Side = 'left' | 'right' | 'below' | 'above';

/** Room that dimensions take beside a view, in paper mm. */
type Bands = Record<Side, number>;

interface PlacedRow {
  readonly dimension: Extract<ViewDimension, { kind: 'linear' }>;
  readonly row: number;
}

interface ViewPlan {
  readonly name: ViewName;
  readonly lines: ViewLines;
  readonly extent: Extent;
  readonly column: 0 | 1;
  readonly row: 0 | 1;
  readonly rows: readonly PlacedRow[];
  readonly leaders: readonly Extract<ViewDimension, { kind: 'leader' }>[];
}

function curvePoints(curve: SheetCurve): readonly Vec2[] {
  if (curve.kind === 'line') return [curve.from, curve.to];
  if (curve.kind === 'polyline') return curve.points;
  return Array.from({ length: 25 }, (_, i) => {
    const angle = curve.start + (curve.sweep * i) / 24;
    return [curve.center[0] + curve.radius * Math.cos(angle), curve.center[1] + curve.radius * Math.sin(angle)];
  });
}

function extentOf(lines: ViewLines): Extent {
  const points = lines.visible.flatMap(curvePoints);
  return {
    min: [Math.min(...points.map((p) => p[0])), Math.min(...points.map((p) => p[1]))],
    max: [Math.max(...points.map((p) => p[0])), Math.max(...points.map((p) => p[1]))],
  };
}

/** Column and row (0 is the upper one) of each view, by the projection method. */
const GRID: Readonly<Record<Exercise['projection'], Readonly<Record<ViewName, readonly [0 | 1, 0 | 1]>>>> = {
  'third-angle': { top: [0, 0], isometric: [1, 0], front: [0, 1], right: [1, 1] },
  'first-angle': { right: [0, 0], front: [1, 0], isometric: [0, 1], top: [1, 1] },
};

const outerSide = (plan: Pick<ViewPlan, 'column' | 'row'>, direction: 'horizontal' | 'vertical'): Side =>
  direction === 'horizontal' ? (plan.row === 0 ? 'above' : 'below') : plan.column === 0 ? 'left' : 'right';
const leaderSide = (plan: Pick<ViewPlan, 'column'>): 'left' | 'right' => (plan.column === 0 ? 'right' : 'left');

/** Shorter dimensions inside longer ones; those that do not overlap share a row. */
function stackRows(dimensions: readonly Extract<ViewDimension, { kind: 'linear' }>[], scale: number): PlacedRow[] {
  const taken: Record<string, [number, number][][]> = { horizontal: [], vertical: [] };
  const span = ({ from, to }: (typeof dimensions)[number]): [number, number] => [
    Math.min(from.at, to.at) * scale,
    Math.max(from.at, to.at) * scale,
  ];
  return [...dimensions]
    .sort((a, b) => span(a)[1] - span(a)[0] - (span(b)[1] - span(b)[0]))
    .map((dimension) => {
      const [low, high] = span(dimension);
      const room = Math.max(0, textWidth(dimension.text, LETTER_MM) + 5 - (high - low));
      const wanted: [number, number] = [low - room / 2 - 1, high + (high - low < 12 ? room + 4 : room / 2) + 1];
      const rows = taken[dimension.direction] ?? [];
      let row = rows.findIndex((intervals) => intervals.every(([a, b]) => b <= wanted[0] || a >= wanted[1]));
      if (row < 0) row = rows.push([]) - 1;
      // A longer dimension never lies inside a shorter one that it spans.
      const inside = rows.findLastIndex((intervals) => intervals.some(([a, b]) => a < wanted[1] && b > wanted[0]));
      row = Math.max(row, inside + 1);
      while (rows.length <= row) rows.push([]);
      rows[row]?.push(wanted);
      return { dimension, row };
    });
}

function bandsOf(plan: ViewPlan): Bands {
  const bands: Bands = { left: 0, right: 0, above: 0, below: 0 };
  for (const { dimension, row } of plan.rows) {
    const side = outerSide(plan, dimension.direction);
    bands[side] = Math.max(bands[side], FIRST_ROW_MM + row * ROW_MM + LETTER_MM + 2);
  }
  if (plan.leaders.length > 0) {
    const widest = Math.max(...plan.leaders.map(({ text }) => textWidth(text, LETTER_MM)));
    bands[leaderSide(plan)] = Math.max(bands[leaderSide(plan)], 14 + widest);
  }
  return bands;
}

interface Frame {
  readonly plans: readonly ViewPlan[];
  readonly scale: number;
  readonly columnWidths: readonly [number, number];
  readonly rowHeights: readonly [number, number];
}

function planAt(
  scale: number,
  views: readonly { name: ViewName; lines: ViewLines }[],
  dimensions: readonly ViewDimension[],
  projection: Exercise['projection'],
): Frame {
  const plans = views.map(({ name, lines }): ViewPlan => {
    const own = dimensions.filter((dimension) => dimension.view === name);
    const [column, row] = GRID[projection][name];
    return {
      name,
      lines,
      extent: extentOf(lines),
      column,
      row,
      rows: stackRows(
        own.flatMap((dimension) => (dimension.kind === 'linear' ? [dimension] : [])),
        scale,
      ),
      leaders: own.flatMap((dimension) => (dimension.kind === 'leader' ? [dimension] : [])),
    };
  });
  const widest = (column: 0 | 1): number =>
    Math.max(
      ...plans
        .filter((plan) => plan.column === column)
        .map((plan) => (plan.extent.max[0] - plan.extent.min[0]) * scale + bandsOf(plan).left + bandsOf(plan).right),
    );
  const tallest = (row: 0 | 1): number =>
    Math.max(
      ...plans
        .filter((plan) => plan.row === row)
        .map((plan) => (plan.extent.max[1] - plan.extent.min[1]) * scale + bandsOf(plan).above + bandsOf(plan).below),
    );
  return { plans, scale, columnWidths: [widest(0), widest(1)], rowHeights: [tallest(0), tallest(1)] };
}

const AVAILABLE = {
  widthMm: PAPER.widthMm - 2 * PAPER.marginMm - GAP_MM,
  heightMm: PAPER.heightMm - 2 * PAPER.marginMm - TITLE_BLOCK.heightMm - GAP_MM,
};

const fits = ({ columnWidths, rowHeights }: Frame): boolean =>
  columnWidths[0] + columnWidths[1] + GAP_MM <= AVAILABLE.widthMm &&
  rowHeights[0] + rowHeights[1] + GAP_MM <= AVAILABLE.heightMm;

/** Draws the sheet of an exercise from the projections of its reference. */
export function layOutSheet(
  exercise: Exercise,
  reference: Reference,
  projections: Readonly<Record<ViewName, Projection>>,
  scope: Scope,
): Sheet {
  const names: readonly ViewName[] = ['front', 'top', 'right', 'isometric'];
  const views = names.map((name) => {
    const lines = cleanView(projections[name]);
    return { name, lines: name === 'isometric' ? { ...lines, hidden: [] } : lines };
  });
  const dimensions = dimensionsOf(exercise, reference);
  const frames = SCALES.map((scale) => planAt(scale, views, dimensions, exercise.projection));
  const frame = frames.find(fits) ?? frames.at(-1);
  if (frame === undefined) throw new Error('no scale');
  const spareX = Math.max(0, AVAILABLE.widthMm - frame.columnWidths[0] - frame.columnWidths[1]);
  const spareY = Math.max(0, AVAILABLE.heightMm - frame.rowHeights[0] - frame.rowHeights[1]);
  const columnLeft = [
    PAPER.marginMm + spareX / 3,
    PAPER.marginMm + frame.columnWidths[0] + (2 * spareX) / 3 + GAP_MM / 2,
  ];
  const rowTop = [
    PAPER.heightMm - PAPER.marginMm - spareY / 4,
    PAPER.heightMm - PAPER.marginMm - frame.rowHeights[0] - (3 * spareY) / 4 - GAP_MM / 2,
  ];
  const entities: SheetEntity[] = [];
  // Views of a column share their left edge, views of a row their lower edge, so that they stay aligned.
  const leftBand = (column: 0 | 1) =>
    Math.max(...frame.plans.filter((plan) => plan.column === column).map((plan) => bandsOf(plan).left));
  const aboveBand = (row: 0 | 1) =>
    Math.max(...frame.plans.filter((plan) => plan.row === row).map((plan) => bandsOf(plan).above));
  for (const plan of frame.plans) {
    const { extent, column, row } = plan;
    const toPaper = ([x, y]: Vec2): Vec2 => [
      (columnLeft[column] ?? 0) + leftBand(column) + (x - extent.min[0]) * frame.scale,
      (rowTop[row] ?? 0) - aboveBand(row) + (y - extent.max[1]) * frame.scale,
    ];
    entities.push(
      ...curves(plan.lines.hidden, 'hidden', toPaper, frame.scale),
      ...curves(plan.lines.visible, 'visible', toPaper, frame.scale),
    );
    if (plan.name !== 'isometric') entities.push(...centerLines(reference, plan.name, toPaper));
    entities.push(...plan.rows.flatMap((placed) => drawLinear(plan, placed, toPaper)));
    entities.push(...drawLeaders(plan, toPaper, frame.scale));
  }
  entities.push(...furniture(exercise, reference, frame.scale, scope));
  return {
    widthMm: PAPER.widthMm,
    heightMm: PAPER.heightMm,
    scale: frame.scale,
    title: `${exercise.number} ${exercise.title}`,
    entities,
  };
}

function curves(
  list: readonly SheetCurve[],
  layer: LineLayer,
  toPaper: (p: Vec2) => Vec2,
  scale: number,
): SheetEntity[] {
  return list.map((curve) => {
    if (curve.kind === 'line') return { kind: 'line', layer, from: toPaper(curve.from), to: toPaper(curve.to) };
    if (curve.kind === 'polyline') return { kind: 'polyline', layer, points: curve.points.map(toPaper) };
    return { ...curve, layer, center: toPaper(curve.center), radius: curve.radius * scale };
  });
}

/** A cross for a round seen along its axis, a line along the axis where it is seen from the side. */
function centerLines(reference: Reference, view: SheetViewName, toPaper: (p: Vec2) => Vec2): SheetEntity[] {
  const { toViewer } = VIEWS[view];
  const seen = new Set<string>();
  return reference.solid.faces.flatMap((face): SheetEntity[] => {
    if (face.surface.kind !== 'cylinder' || circleCover(reference.solid, face) < 0.49) return [];
    const { direction, radiusMm, origin } = face.surface;
    const center = toPaper(inView(view, origin));
    const edge = toPaper(inView(view, face.bounds.max));
    const scale = Math.abs(toPaper([1, 0])[0] - toPaper([0, 0])[0]);
    const key = `${center.map((c) => c.toFixed(2)).join()}/${String(Math.abs(dot(direction, toViewer)) > 0.99)}`;
    if (length(cross(direction, toViewer)) < 1e-6) {
      if (seen.has(key)) return [];
      seen.add(key);
      const reach = radiusMm * scale + 2.5;
      return [
        { kind: 'line', layer: 'center', from: [center[0] - reach, center[1]], to: [center[0] + reach, center[1]] },
        { kind: 'line', layer: 'center', from: [center[0], center[1] - reach], to: [center[0], center[1] + reach] },
      ];
    }
    if (Math.abs(dot(direction, toViewer)) > 1e-6) return [];
    const start = toPaper(inView(view, face.bounds.min));
    const lies = Math.abs(dot(direction, VIEWS[view].right)) > 0.5;
    const line: SheetEntity = lies
      ? { kind: 'line', layer: 'center', from: [start[0] - 2.5, center[1]], to: [edge[0] + 2.5, center[1]] }
      : { kind: 'line', layer: 'center', from: [center[0], start[1] - 2.5], to: [center[0], edge[1] + 2.5] };
    const place = `${String(lies)}${line.from
      .concat(line.to)
      .map((c) => c.toFixed(1))
      .join()}`;
    if (seen.has(place)) return [];
    seen.add(place);
    return [line];
  });
}

const swap = ([x, y]: Vec2): Vec2 => [y, x];

/** Draws a linear dimension as if it were horizontal; a vertical one is the same with x and y exchanged. */
function drawLinear(plan: ViewPlan, { dimension, row }: PlacedRow, toPaper: (p: Vec2) => Vec2): SheetEntity[] {
  const { checkId, direction, text } = dimension;
  const upright = direction === 'vertical';
  const turn = (p: Vec2): Vec2 => (upright ? swap(p) : p);
  const side = outerSide(plan, direction);
  const sign = side === 'above' || side === 'right' ? 1 : -1;
  const corner = turn(toPaper(sign > 0 ? plan.extent.max : plan.extent.min));
  const level = corner[1] + sign * (FIRST_ROW_MM + row * ROW_MM);
  const start = (end: Witness): Vec2 => turn(toPaper(turn([end.at, sign > 0 ? end.high : end.low])));
  const [a, b] = [start(dimension.from), start(dimension.to)].sort((p, q) => p[0] - q[0]);
  if (a === undefined || b === undefined) return [];
  const line = (from: Vec2, to: Vec2): SheetEntity => ({
    kind: 'line',
    layer: 'dimension',
    from: turn(from),
    to: turn(to),
    checkId,
  });
  const arrow = (x: number, outwards: number): SheetEntity => ({
    kind: 'arrow',
    tip: turn([x, level]),
    angle: upright ? (outwards > 0 ? Math.PI / 2 : -Math.PI / 2) : outwards > 0 ? 0 : Math.PI,
    checkId,
  });
  const width = textWidth(text, LETTER_MM);
  const size = b[0] - a[0];
  // Too narrow for text and arrows: arrows point in from outside, and the text stands beside them.
  const narrow = size < 9;
  const beside = size < width + 7;
  const middle = narrow ? b[0] + 9 + width / 2 : (a[0] + b[0]) / 2;
  const textAt: Vec2 = [middle, level + (upright ? -1 : 1)];
  return [
    line([a[0], a[1] + sign * 1.2], [a[0], level + sign * 1.8]),
    line([b[0], b[1] + sign * 1.2], [b[0], level + sign * 1.8]),
    line([narrow ? a[0] - 6 : a[0], level], [narrow ? b[0] + 6 : b[0], level]),
    arrow(a[0], narrow ? 1 : -1),
    arrow(b[0], narrow ? -1 : 1),
    {
      kind: 'text',
      text,
      at: turn(textAt),
      heightMm: beside && !narrow ? Math.min(LETTER_MM, 3) : LETTER_MM,
      anchor: 'middle',
      upright,
      checkId,
    },
  ];
}

/** Callouts stand in a column beside the view, ordered as their circles are, and never closer than two lines. */
function drawLeaders(plan: ViewPlan, toPaper: (p: Vec2) => Vec2, scale: number): SheetEntity[] {
  const side = leaderSide(plan);
  const sign = side === 'right' ? 1 : -1;
  const edge = toPaper(side === 'right' ? plan.extent.max : plan.extent.min)[0];
  const top = toPaper(plan.extent.max)[1];
  const bottom = toPaper(plan.extent.min)[1];
  const sorted = plan.leaders
    .flatMap(({ rounds, text, checkId }) => {
      const [first, ...others] = rounds;
      if (first === undefined) return [];
      const nearest = others.reduce((a, b) => (sign * (b.center[0] - a.center[0]) > 1e-6 ? b : a), first);
      return [{ ...nearest, text, checkId }];
    })
    .sort((a, b) => b.center[1] - a.center[1]);
  const step = LETTER_MM * 2;
  let previous = Infinity;
  const heights = sorted.map((leader, i) => {
    const wanted =
      toPaper(leader.center)[1] + (leader.center[1] >= (plan.extent.min[1] + plan.extent.max[1]) / 2 ? 6 : -4);
    const lowest = bottom + (sorted.length - 1 - i) * step - 4;
    const height = Math.min(previous - step, Math.max(lowest, Math.min(wanted, top + 2)));
    previous = height;
    return height;
  });
  return sorted.flatMap((leader, i): SheetEntity[] => {
    const { checkId } = leader;
    const center = toPaper(leader.center);
    const elbow: Vec2 = [edge + sign * 8, heights[i] ?? center[1]];
    const toElbow = Math.atan2(elbow[1] - center[1], elbow[0] - center[0]);
    const angle = leader.at ?? toElbow;
    const radius = leader.radius * scale;
    const tip: Vec2 = [center[0] + radius * Math.cos(angle), center[1] + radius * Math.sin(angle)];
    const pointing = Math.atan2(tip[1] - elbow[1], tip[0] - elbow[0]);
    return [
      { kind: 'line', layer: 'dimension', from: tip, to: elbow, checkId },
      { kind: 'line', layer: 'dimension', from: elbow, to: [elbow[0] + sign * 4, elbow[1]], checkId },
      { kind: 'arrow', tip, angle: pointing, checkId },
      {
        kind: 'text',
        text: leader.text,
        at: [elbow[0] + sign * 5, elbow[1] - LETTER_MM * 0.36],
        heightMm: LETTER_MM,
        anchor: sign > 0 ? 'start' : 'end',
        checkId,
      },
    ];
  });
}

function box(x: number, y: number, width: number, height: number): SheetEntity[] {
  const corners: Vec2[] = [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ];
  return corners.map((from, i) => ({ kind: 'line', layer: 'frame', from, to: corners[(i + 1) % 4] ?? from }));
}

const words = (
  text: string,
  at: Vec2,
  heightMm: number,
  options: { bold?: boolean; anchor?: 'start' | 'middle' | 'end' } = {},
): SheetEntity => ({
  kind: 'text',
  text,
  at,
  heightMm,
  anchor: options.anchor ?? 'start',
  bold: options.bold ?? false,
});

/** Frame, title block, letter table, notes. */
function furniture(exercise: Exercise, reference: Reference, scale: number, scope: Scope): SheetEntity[] {
  const { widthMm, heightMm, marginMm } = PAPER;
  const left = widthMm - marginMm - TITLE_BLOCK.widthMm;
  const bottom = marginMm;
  const { material } = exercise;
  const cells: readonly (readonly [x: number, row: number, width: number, label: string, value: string])[] = [
    [0, 0, 44, 'Number', exercise.number],
    [44, 0, 88, 'Part', exercise.title],
    [132, 0, 44, 'Scale', scaleText(scale)],
    [0, 1, 88, 'Material', `${material.name}, ${formatFixed(reference.densityGPerCm3, 2)} g/cm³`],
    [88, 1, 44, 'Unit', exercise.recipe.unit === 'mm' ? 'Millimeter' : 'Inch'],
    [132, 1, 44, 'Projection', exercise.projection === 'third-angle' ? 'Third angle' : 'First angle'],
    [0, 2, 176, 'Origin', exercise.origin],
  ];
  const rowMm = TITLE_BLOCK.heightMm / 4;
  const block = cells.flatMap(([x, row, width, label, value]) => [
    ...box(left + x, bottom + TITLE_BLOCK.heightMm - (row + 1) * rowMm, width, rowMm),
    words(label, [left + x + 1.5, bottom + TITLE_BLOCK.heightMm - row * rowMm - 3], 2),
    words(value, [left + x + 1.5, bottom + TITLE_BLOCK.heightMm - (row + 1) * rowMm + 1.8], row === 2 ? 2.8 : 3.4, {
      bold: row === 0,
    }),
  ]);
  const letters = exercise.recipe.parameters.filter(({ name }) => /^[A-Z]$/.test(name));
  const table = letters.flatMap(({ name, label }, i) => {
    const y = bottom + TITLE_BLOCK.heightMm - 8 - i * 6;
    const value = dimensionText((scope[name] ?? 0) * LENGTH_UNITS[exercise.recipe.unit], reference);
    return [
      words(name, [marginMm + 6, y], 3.5, { bold: true }),
      words(value, [marginMm + 34, y], 3.5, { anchor: 'end' }),
      words(label ?? '', [marginMm + 38, y], 2.8),
    ];
  });
  const noteX = marginMm + (letters.length > 0 ? 96 : 6);
  return [
    ...box(marginMm, marginMm, widthMm - 2 * marginMm, heightMm - 2 * marginMm),
    ...box(left, bottom, TITLE_BLOCK.widthMm, TITLE_BLOCK.heightMm),
    ...block,
    words('For training only, not for manufacture', [left + 1.5, bottom + 3.2], 3),
    ...(letters.length > 0
      ? [words(`Letter values (${exercise.recipe.unit})`, [marginMm + 6, bottom + TITLE_BLOCK.heightMm - 2], 2.4)]
      : []),
    ...table,
    ...(exercise.notes.length > 0 ? [words('Notes', [noteX, bottom + TITLE_BLOCK.heightMm - 2], 2.4)] : []),
    ...exercise.notes.map((note, i) => words(note, [noteX, bottom + TITLE_BLOCK.heightMm - 8 - i * 5], 3)),
  ];
}
