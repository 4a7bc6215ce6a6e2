import { DEFAULT_SHEET, PAPERS, type Direction, type Exercise, type Paper, type SheetView } from '#core/exercise';
import type { CutAway, CutView, ViewDirection } from '#core/kernel';
import { evaluateExpression, LENGTH_UNITS, type Scope } from '#core/quantity';
import type { Thread } from '#core/recipe';
import type { Vec2 } from '#core/vector';

import { clippedToCircle } from './clip.ts';
import { dimensionsOf, type DimensionView, type ViewDimension } from './dimension.ts';
import { FOOT_MM, MARGIN_MM, notePage, PAPER_SIZES, pageFoot, pageFrame } from './frame.ts';
import { hatchLines } from './hatch.ts';
import { textWidth } from './lettering.ts';
import { projectSolid } from './project.ts';
import { cleanView, pointsAlong, type SheetCurve, type ViewLines } from './lines.ts';
import { centerLines, threadPicture } from './marks.ts';
import { scaleText, type LineLayer, type PlacedView, type Sheet, type SheetEntity, type SheetPage } from './model.ts';
import { boxOf, grown, joined, type PaperBox, type Stroke } from './overlap.ts';
import { placeDimensions, type PlacedDimension } from './place.ts';
import type { Writer } from './text.ts';
import { axesOf, DIRECTIONS, ISOMETRIC, seen, type ViewAxes } from './views.ts';

const GAP_MM = 9;
const LABEL_MM = 4;

/** All that a sheet is drawn from. */
export interface SheetSource extends Writer {
  readonly scope: Scope;
  readonly threads: readonly Thread[];
  /** Null for a part that cannot be cut exactly. */
  readonly cut: ((view: ViewDirection, cuts: readonly CutAway[]) => CutView) | null;
}

/** A view before it has a scale; view coordinates, mm. */
interface PreparedView {
  readonly view: SheetView;
  readonly axes: ViewAxes;
  readonly lines: ViewLines;
  /** Of the cut faces of a section. */
  readonly cutTriangles: readonly (readonly [Vec2, Vec2, Vec2])[];
  /** How much larger than the other views. */
  readonly factor: number;
  readonly title: string | null;
  /** Lines that show where a section cuts this view, or what of it a detail shows. */
  readonly cutLines: readonly CutLine[];
  readonly circles: readonly { readonly center: Vec2; readonly radius: number; readonly letter: string }[];
}

interface CutLine {
  readonly points: readonly Vec2[];
  readonly letter: string;
  /** Where the section looks to. */
  readonly towards: Vec2;
}

/** A view at a scale, on paper relative to the place of its origin. */
interface Block {
  readonly prepared: PreparedView;
  readonly scale: number;
  readonly entities: readonly SheetEntity[];
  readonly placed: readonly PlacedDimension[];
  readonly box: PaperBox;
}

const PRINCIPAL = { plain: true, section: true, isometric: false, detail: false } as const;

/** Column and row of each view, by the projection method; row 0 is the uppermost. */
const GRID: Readonly<Record<Exercise['projection'], Readonly<Record<Direction, readonly [number, number]>>>> = {
  'third-angle': { left: [0, 1], front: [1, 1], right: [2, 1], back: [3, 1], top: [1, 0], bottom: [1, 2] },
  'first-angle': { right: [0, 1], front: [1, 1], left: [2, 1], back: [3, 1], bottom: [1, 0], top: [1, 2] },
};

/** Draws the sheet of an exercise. */
export function layOutSheet(source: SheetSource): Sheet {
  const settings = source.exercise.sheet ?? DEFAULT_SHEET;
  const warnings: string[] = [];
  const prepared = prepareViews(source, settings.views.length === 0 ? DEFAULT_SHEET.views : settings.views, warnings);
  const dimensionViews = prepared
    .filter(({ view }) => PRINCIPAL[view.kind] || view.kind === 'detail')
    .map((one): DimensionView => ({
      id: one.view.id,
      axes: one.axes,
      lines: one.lines,
      section: one.view.kind === 'section',
      onlyWanted: one.view.kind === 'detail',
    }));
  const dimensions = dimensionsOf(source, dimensionViews, source.threads);
  const wanted = new Map(
    Object.entries(settings.placed ?? {}).flatMap(([id, { offset }]) => (offset === undefined ? [] : [[id, offset]])),
  );
  const blockOf = (one: PreparedView, scale: number): Block => drawBlock(source, one, scale, dimensions, wanted);
  const papers = PAPERS.filter((paper) => paper === settings.paper || LARGER[settings.paper].includes(paper)).sort(
    (a, b) => PAPER_SIZES[a][0] - PAPER_SIZES[b][0],
  );
  for (const paper of papers) {
    const pages = pagesOn(paper, prepared, blockOf, source, settings.scale);
    if (pages === null) continue;
    if (paper !== settings.paper)
      warnings.push(`The views and dimensions do not fit on ${settings.paper}; the sheet was made ${paper}.`);
    return finished(source, pages, paper, settings.moved ?? {}, warnings);
  }
  // Nothing fits: the largest paper, whatever hangs over.
  const paper = papers.at(-1) ?? settings.paper;
  warnings.push('The sheet has more dimensions than the largest paper holds. Take some off the sheet.');
  const scale = settings.scale ?? scalesFrom(bareScale(prepared, PAPER_SIZES[paper]) / prepared.length)[0] ?? 1;
  const blocks = prepared.map((one) => blockOf(one, scale));
  return finished(source, [gridOf(blocks, source.exercise.projection)], paper, settings.moved ?? {}, warnings);
}

const LARGER: Readonly<Record<Paper, readonly Paper[]>> = {
  A4: ['A3', 'A2', 'A1'],
  A3: ['A2', 'A1'],
  A2: ['A1'],
  A1: [],
  letter: ['tabloid', 'A2', 'A1'],
  tabloid: ['A2', 'A1'],
};

// ---- views

function prepareViews(source: SheetSource, views: readonly SheetView[], warnings: string[]): readonly PreparedView[] {
  const { exercise, scope, reference } = source;
  const { unit } = exercise.recipe;
  const mm = (expression: string): number => {
    const value = evaluateExpression(expression, scope, unit);
    if (value.ok) return value.value * LENGTH_UNITS[unit];
    warnings.push(`A view of the sheet: ${value.problem.message}`);
    return 0;
  };
  const made: PreparedView[] = [];
  for (const view of views) {
    const plain = (direction: ViewDirection, hidden: boolean, title: string | null): PreparedView => {
      const lines = cleanView(projectSolid(reference.solid, direction));
      return {
        view,
        axes: axesOf(direction),
        lines: hidden ? lines : { ...lines, hidden: [] },
        cutTriangles: [],
        factor: 1,
        title,
        cutLines: [],
        circles: [],
      };
    };
    switch (view.kind) {
      case 'plain':
        made.push(plain(DIRECTIONS[view.direction], view.hidden !== false, null));
        break;
      case 'isometric':
        made.push(plain(ISOMETRIC, false, null));
        break;
      case 'section': {
        const direction = DIRECTIONS[view.direction];
        if (source.cut === null) {
          warnings.push(
            `Section ${view.letter}-${view.letter} is shown uncut: a reference of triangles cannot be cut exactly. Upload it as STEP.`,
          );
          made.push(plain(direction, true, null));
          break;
        }
        const cuts = cutsOf(view, axesOf(direction), reference.solid.bounds, mm);
        const { part, cutFaceIds } = source.cut(direction, cuts);
        if (cutFaceIds.length === 0)
          warnings.push(`Section ${view.letter}-${view.letter} does not meet the part. Move its plane.`);
        const borders = cuts.flatMap(({ from, to }) => [from, to]);
        const lines = cleanView(projectSolid(part, direction));
        const drawn = {
          visible: lines.visible.filter((curve) => !onBorder(curve, borders)),
          hidden: view.hidden === true ? lines.hidden : [],
        };
        const title = `${view.letter}-${view.letter}`;
        const axes = axesOf(direction);
        const cutTriangles = trianglesOf(part.mesh, cutFaceIds, axes);
        made.push({ view, axes, lines: drawn, cutTriangles, factor: 1, title, cutLines: [], circles: [] });
        break;
      }
      case 'detail': {
        const parent = made.find((one) => one.view.id === view.of);
        if (parent === undefined) {
          warnings.push(`Detail ${view.letter} is of a view that is not on the sheet.`);
          break;
        }
        const center: Vec2 = [mm(view.center[0]), mm(view.center[1])];
        const radius = Math.max(1e-3, mm(view.radius));
        const clip = (curves: readonly SheetCurve[]) =>
          curves.flatMap((curve) => clippedToCircle(curve, center, radius));
        const lines = { visible: clip(parent.lines.visible), hidden: clip(parent.lines.hidden) };
        if (lines.visible.length === 0) {
          warnings.push(`Detail ${view.letter} shows nothing of the part. Move its center.`);
          break;
        }
        made.push({
          ...parent,
          view,
          lines,
          cutTriangles: [],
          factor: view.factor,
          title: view.letter,
          cutLines: [],
          circles: [],
        });
        made.splice(made.indexOf(parent), 1, {
          ...parent,
          circles: [...parent.circles, { center, radius, letter: view.letter }],
        });
        break;
      }
    }
  }
  return withCutLines(made, reference.solid.bounds, mm, warnings);
}

function trianglesOf(
  mesh: CutView['part']['mesh'],
  faceIds: readonly number[],
  axes: ViewAxes,
): PreparedView['cutTriangles'] {
  const point = (i: number): Vec2 => {
    const at = 3 * (mesh.indices[i] ?? 0);
    return seen(axes, [mesh.positions[at] ?? 0, mesh.positions[at + 1] ?? 0, mesh.positions[at + 2] ?? 0]);
  };
  return mesh.groups
    .filter(({ faceId }) => faceIds.includes(faceId))
    .flatMap(({ start, count }) =>
      Array.from(
        { length: count / 3 },
        (_, t) => [point(start + 3 * t), point(start + 3 * t + 1), point(start + 3 * t + 2)] as const,
      ),
    );
}

const onBorder = (curve: SheetCurve, borders: readonly number[]): boolean =>
  curve.kind === 'line' &&
  borders.some((at) => Math.abs(curve.from[0] - at) < 1e-3 && Math.abs(curve.to[0] - at) < 1e-3);

type Section = Extract<SheetView, { kind: 'section' }>;
type Bounds = SheetSource['reference']['solid']['bounds'];

const componentOf = ([x, y, z]: readonly [number, number, number]): readonly [axis: 0 | 1 | 2, sign: number] =>
  Math.abs(x) > 0.5 ? [0, Math.sign(x)] : Math.abs(y) > 0.5 ? [1, Math.sign(y)] : [2, Math.sign(z)];

function cutsOf(view: Section, axes: ViewAxes, bounds: Bounds, mm: (expression: string) => number): readonly CutAway[] {
  const [, depthSign] = componentOf(axes.toViewer);
  const [acrossAxis, acrossSign] = componentOf(axes.right);
  const middle = (acrossSign * (bounds.min[acrossAxis] + bounds.max[acrossAxis])) / 2;
  const steps = (view.steps ?? [])
    .map((step) => ({ from: acrossSign * mm(step.beyond), at: depthSign * mm(step.at) }))
    .sort((a, b) => a.from - b.from);
  const starts = [{ from: view.half === true ? middle : -Infinity, at: depthSign * mm(view.at) }, ...steps];
  return starts.map(({ from, at }, i) => ({ from, to: starts[i + 1]?.from ?? Infinity, at }));
}

/** Shows in another view where each section cuts. */
function withCutLines(
  made: readonly PreparedView[],
  bounds: Bounds,
  mm: (expression: string) => number,
  warnings: string[],
): readonly PreparedView[] {
  const lines = new Map<string, CutLine[]>();
  for (const { view, axes } of made) {
    if (view.kind !== 'section') continue;
    const parent = made.find(
      (other) =>
        other.view.kind === 'plain' &&
        [other.axes.right, other.axes.up].some((axis) => componentOf(axis)[0] === componentOf(axes.toViewer)[0]) &&
        [other.axes.right, other.axes.up].some((axis) => componentOf(axis)[0] === componentOf(axes.right)[0]),
    );
    if (parent === undefined) {
      warnings.push(`No view of the sheet shows where section ${view.letter}-${view.letter} cuts. Add one beside it.`);
      continue;
    }
    const cuts = cutsOf(view, axes, bounds, mm);
    const place = (across: number, depth: number): Vec2 => {
      const point = [0, 1, 2].map((i) => across * (axes.right[i] ?? 0) + depth * (axes.toViewer[i] ?? 0));
      const on = (axis: readonly number[]): number => point.reduce((sum, value, i) => sum + value * (axis[i] ?? 0), 0);
      return [on(parent.axes.right), on(parent.axes.up)];
    };
    const [axis, sign] = componentOf(axes.right);
    const ends = [sign * bounds.min[axis], sign * bounds.max[axis]].sort((a, b) => a - b);
    const [low = 0, high = 0] = ends;
    const points = cuts.flatMap(({ from, to, at }) => [place(Math.max(from, low), at), place(Math.min(to, high), at)]);
    const towards = place(0, -1);
    lines.set(parent.view.id, [...(lines.get(parent.view.id) ?? []), { points, letter: view.letter, towards }]);
  }
  return made.map((one) => ({ ...one, cutLines: lines.get(one.view.id) ?? [] }));
}

// ---- one view on paper

const onPaper =
  (scale: number) =>
  ([x, y]: Vec2): Vec2 => [x * scale, y * scale];

function curveEntity(curve: SheetCurve, layer: LineLayer, scale: number, viewId: string): SheetEntity {
  const place = onPaper(scale);
  switch (curve.kind) {
    case 'line':
      return { kind: 'line', layer, from: place(curve.from), to: place(curve.to), viewId };
    case 'polyline':
      return { kind: 'polyline', layer, points: curve.points.map(place), viewId };
    case 'arc':
      return { ...curve, layer, center: place(curve.center), radius: curve.radius * scale, viewId };
    case 'ellipse':
      return { ...curve, layer, center: place(curve.center), radii: place(curve.radii), viewId };
  }
}

const strokesAlong = (curve: SheetCurve, scale: number): readonly Stroke[] => {
  const points = pointsAlong(curve).map(onPaper(scale));
  return points.slice(1).map((to, i) => ({ from: points[i] ?? to, to }));
};

function drawBlock(
  source: SheetSource,
  prepared: PreparedView,
  sheetScale: number,
  dimensions: readonly ViewDimension[],
  wanted: ReadonlyMap<string, Vec2>,
): Block {
  const scale = sheetScale * prepared.factor;
  const { view, lines, axes } = prepared;
  const viewId = view.id;
  const drawn = [...lines.visible, ...lines.hidden].flatMap((curve) => strokesAlong(curve, scale));
  const outline = boxOf(drawn.flatMap(({ from, to }) => [from, to]));
  const square = view.kind === 'plain' || view.kind === 'section';
  const marks = square ? centerLines(source.reference, axes, scale) : [];
  const threads = square
    ? threadPicture(source.threads, source.reference, axes, view.kind === 'section')
    : { arcs: [], lines: [] };
  const { entities: cutting, strokes: cutStrokes, boxes: cutBoxes } = cuttingMarks(prepared, scale, outline);
  const hatch = hatchLines(
    prepared.cutTriangles.map(([a, b, c]) => [onPaper(scale)(a), onPaper(scale)(b), onPaper(scale)(c)] as const),
  );
  const placed: readonly PlacedDimension[] = placeDimensions(
    { strokes: [...drawn, ...cutStrokes], marks, outline, scale, taken: cutBoxes },
    dimensions.filter((dimension) => dimension.viewId === viewId),
    wanted,
  );
  const entities: SheetEntity[] = [
    ...hatch.map(({ from, to }): SheetEntity => ({ kind: 'line', layer: 'hatch', from, to, viewId })),
    ...lines.hidden.map((curve) => curveEntity(curve, 'hidden', scale, viewId)),
    ...lines.visible.map((curve) => curveEntity(curve, 'visible', scale, viewId)),
    ...marks.map(({ from, to }): SheetEntity => ({ kind: 'line', layer: 'center', from, to, viewId })),
    ...threads.arcs.map(({ center, radius }): SheetEntity => ({
      kind: 'arc',
      layer: 'thin',
      center: onPaper(scale)(center),
      radius: radius * scale,
      start: -0.2,
      sweep: 1.5 * Math.PI,
      viewId,
    })),
    ...threads.lines.map(({ from, to }): SheetEntity => ({
      kind: 'line',
      layer: 'thin',
      from: onPaper(scale)(from),
      to: onPaper(scale)(to),
      viewId,
    })),
    ...cutting,
    ...placed.flatMap(({ entities: own }) => own.map((entity) => ({ ...entity, viewId }))),
  ];
  let box = placed
    .flatMap(({ texts }) => texts)
    .concat(cutBoxes)
    .reduce(joined, grown(outline, 2.5));
  for (const entity of entities)
    if (entity.kind === 'line' && entity.layer !== 'hatch') box = joined(box, boxOf([entity.from, entity.to]));
  if (view.kind === 'detail') {
    const center = onPaper(scale)(detailCenter(prepared));
    const radius = detailRadius(prepared) * scale;
    entities.push({ kind: 'arc', layer: 'thin', center, radius, start: 0, sweep: 2 * Math.PI, viewId });
    box = joined(
      box,
      boxOf([
        [center[0] - radius, center[1] - radius],
        [center[0] + radius, center[1] + radius],
      ]),
    );
  }
  if (prepared.title !== null) {
    const text = view.kind === 'detail' ? `${prepared.title} (${scaleText(scale)})` : prepared.title;
    const at: Vec2 = [(outline.min[0] + outline.max[0]) / 2, box.max[1] + 2.5];
    entities.push({ kind: 'text', text, at, heightMm: LABEL_MM, anchor: 'middle', bold: true, viewId });
    const half = textWidth(text, LABEL_MM) / 2;
    box = joined(
      box,
      boxOf([
        [at[0] - half, at[1]],
        [at[0] + half, at[1] + LABEL_MM + 1],
      ]),
    );
  }
  return { prepared, scale, entities, placed, box };
}

// The circle of a detail was found when its lines were clipped: the smallest circle about them is not it.
const detailCenter = ({ lines }: PreparedView): Vec2 => {
  const { min, max } = boxOf(lines.visible.flatMap(pointsAlong));
  return [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2];
};
const detailRadius = (prepared: PreparedView): number => {
  const center = detailCenter(prepared);
  return (
    1.03 *
    Math.max(...prepared.lines.visible.flatMap(pointsAlong).map((p) => Math.hypot(p[0] - center[0], p[1] - center[1])))
  );
};

/** Cutting-plane lines with arrows and letters, and circles of details. */
function cuttingMarks({ cutLines, circles, view }: PreparedView, scale: number, outline: PaperBox) {
  const entities: SheetEntity[] = [];
  const strokes: Stroke[] = [];
  const boxes: PaperBox[] = [];
  const viewId = view.id;
  const letter = (text: string, at: Vec2): void => {
    entities.push({ kind: 'text', text, at, heightMm: LABEL_MM, anchor: 'middle', bold: true, viewId });
    const half = textWidth(text, LABEL_MM) / 2;
    boxes.push(
      boxOf([
        [at[0] - half, at[1]],
        [at[0] + half, at[1] + LABEL_MM],
      ]),
    );
  };
  for (const { points, letter: name, towards } of cutLines) {
    const paper = points.map(onPaper(scale));
    const [first, second] = paper;
    const [last, beforeLast] = [paper.at(-1), paper.at(-2)];
    if (!first || !second || !last || !beforeLast) continue;
    const out = (from: Vec2, to: Vec2): Vec2 => {
      const size = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
      return [to[0] + ((to[0] - from[0]) / size) * 7, to[1] + ((to[1] - from[1]) / size) * 7];
    };
    const ends = [out(second, first), out(beforeLast, last)] as const;
    const line = [ends[0], ...paper, ends[1]];
    entities.push({ kind: 'polyline', layer: 'cutting', points: line, viewId });
    strokes.push(...line.slice(1).map((to, i) => ({ from: line[i] ?? to, to })));
    for (const end of ends) {
      const tip: Vec2 = [end[0] + towards[0] * 8, end[1] + towards[1] * 8];
      entities.push({ kind: 'line', layer: 'cutting', from: end, to: tip, viewId });
      entities.push({ kind: 'arrow', tip, angle: Math.atan2(towards[1], towards[0]), viewId });
      strokes.push({ from: end, to: tip });
      const beside: Vec2 =
        Math.abs(towards[0]) > 0.5
          ? [0, end[1] > (outline.min[1] + outline.max[1]) / 2 ? 1.5 : -5.5]
          : [end[0] > (outline.min[0] + outline.max[0]) / 2 ? 3 : -3, -2];
      letter(name, [(end[0] + tip[0]) / 2 + beside[0], (end[1] + tip[1]) / 2 + beside[1]]);
    }
  }
  for (const { center, radius, letter: name } of circles) {
    const [x, y] = onPaper(scale)(center);
    entities.push({
      kind: 'arc',
      layer: 'thin',
      center: [x, y],
      radius: radius * scale,
      start: 0,
      sweep: 2 * Math.PI,
      viewId,
    });
    const at = radius * scale * Math.SQRT1_2 + 2.5;
    letter(name, [x + at, y + at]);
  }
  return { entities, strokes, boxes };
}

// ---- pages

interface Grid {
  readonly blocks: readonly { readonly block: Block; readonly column: number; readonly row: number }[];
  readonly columns: readonly { readonly before: number; readonly after: number }[];
  readonly rows: readonly { readonly before: number; readonly after: number }[];
}

const spanOf = (spans: Grid['columns']): number =>
  spans.reduce((sum, { before, after }) => sum + before + after, 0) + GAP_MM * Math.max(0, spans.length - 1);

/** Puts views into columns and rows that share an origin; pictorial views and details into free cells. */
function gridOf(blocks: readonly Block[], projection: Exercise['projection']): Grid {
  const cells: { block: Block; column: number; row: number }[] = [];
  const taken = new Set<string>();
  const put = (block: Block, column: number, row: number): void => {
    taken.add(`${String(column)} ${String(row)}`);
    cells.push({ block, column, row });
  };
  const free: Block[] = [];
  for (const block of blocks) {
    const { view } = block.prepared;
    if (view.kind !== 'plain' && view.kind !== 'section') {
      free.push(block);
      continue;
    }
    const [column, row] = GRID[projection][view.direction];
    if (taken.has(`${String(column)} ${String(row)}`)) free.push(block);
    else put(block, column, row);
  }
  const used = (pick: 'column' | 'row') => [...new Set(cells.map((cell) => cell[pick]))].sort((a, b) => a - b);
  const [columns, rows] = [used('column'), used('row')];
  const compact = cells.map((cell) => ({ ...cell, column: columns.indexOf(cell.column), row: rows.indexOf(cell.row) }));
  const isTaken = (column: number, row: number): boolean =>
    compact.some((cell) => cell.column === column && cell.row === row);
  let [width, height] = [Math.max(1, columns.length), Math.max(1, rows.length)];
  for (const block of free) {
    const places = Array.from({ length: width }, (_, i) => width - 1 - i).flatMap((column) =>
      Array.from({ length: height }, (_, row) => [column, row] as const),
    );
    const place = places.find(([column, row]) => !isTaken(column, row));
    if (place) compact.push({ block, column: place[0], row: place[1] });
    else if (width <= height + 1) {
      compact.push({ block, column: width, row: 0 });
      width++;
    } else {
      compact.push({ block, column: 0, row: height });
      height++;
    }
  }
  const shared = ({ prepared: { view } }: Block): boolean => view.kind === 'plain' || view.kind === 'section';
  const spans = (count: number, pick: 'column' | 'row', axis: 0 | 1): Grid['columns'] =>
    Array.from({ length: count }, (_, i) => {
      const own = compact.filter((cell) => cell[pick] === i);
      const aligned = own.filter(({ block }) => shared(block));
      let before = Math.max(0, ...aligned.map(({ block }) => -block.box.min[axis]));
      let after = Math.max(aligned.length > 0 ? -before : 0, ...aligned.map(({ block }) => block.box.max[axis]));
      const size = Math.max(
        0,
        ...own.filter(({ block }) => !shared(block)).map(({ block }) => block.box.max[axis] - block.box.min[axis]),
      );
      if (size > before + after) {
        const more = (size - before - after) / 2;
        before += more;
        after += more;
      }
      return { before, after };
    });
  return { blocks: compact, columns: spans(width, 'column', 0), rows: spans(height, 'row', 1) };
}

const roomOn = ([width, height]: Vec2): Vec2 => [width - 2 * MARGIN_MM - 8, height - 2 * MARGIN_MM - FOOT_MM - 8];

const fits = (grid: Grid, size: Vec2): boolean => {
  const [width, height] = roomOn(size);
  return spanOf(grid.columns) <= width && spanOf(grid.rows) <= height;
};

/** The largest scale at which the bare outlines of the views could stand side by side. */
function bareScale(prepared: readonly PreparedView[], size: Vec2): number {
  const [width, height] = roomOn(size);
  const sizes = prepared
    .filter(({ view }) => PRINCIPAL[view.kind])
    .map(({ lines }) => boxOf(lines.visible.flatMap(pointsAlong)))
    .map(({ min, max }) => [max[0] - min[0], max[1] - min[1]] as const);
  const widest = Math.max(...sizes.map(([x]) => x), 1e-6);
  const tallest = Math.max(...sizes.map(([, y]) => y), 1e-6);
  return Math.min(width / widest, height / tallest);
}

/** Scales of the standard series (ISO 5455: 1, 2, 5 and their decades), the largest first, from below a number. */
function scalesFrom(most: number): readonly number[] {
  const scales: number[] = [];
  for (let power = Math.ceil(Math.log10(Math.max(1e-9, most))) + 1; scales.length < 12; power--)
    for (const digit of [5, 2, 1]) {
      const enlarged = digit * 10 ** power;
      // Reductions are 1:2, 1:5, 1:10, which are other numbers than enlargements of the same digits.
      const scale = power >= 0 ? enlarged : 1 / ({ 5: 2, 2: 5, 1: 10 }[digit] ?? 1) / 10 ** (-power - 1);
      if (scale <= most * 1.0001) scales.push(Number(scale.toPrecision(6)));
    }
  return scales;
}

const MOST_TRIES = 5;

/** The views on as few pages as are enough, or null where the paper is too small. */
function pagesOn(
  paper: Paper,
  prepared: readonly PreparedView[],
  blockOf: (one: PreparedView, scale: number) => Block,
  { exercise: { projection } }: SheetSource,
  fixedScale: number | undefined,
): readonly Grid[] | null {
  const size = PAPER_SIZES[paper];
  const known = new Map<string, Block>();
  const blocksAt = (views: readonly PreparedView[], scale: number): readonly Block[] =>
    views.map((one) => {
      const key = `${one.view.id} ${String(scale)}`;
      const block = known.get(key) ?? blockOf(one, scale);
      known.set(key, block);
      return block;
    });
  const scales = fixedScale === undefined ? scalesFrom(bareScale(prepared, size)).slice(0, MOST_TRIES) : [fixedScale];
  const firstFit = (views: readonly PreparedView[]): { grid: Grid; scale: number } | null => {
    for (const scale of scales) {
      const grid = gridOf(blocksAt(views, scale), projection);
      if (fits(grid, size)) return { grid, scale };
    }
    return null;
  };
  const all = firstFit(prepared);
  const principal = prepared.filter(({ view }) => PRINCIPAL[view.kind]);
  const others = prepared.filter(({ view }) => !PRINCIPAL[view.kind]);
  // Pictorial views and details move to a second page when the principal ones gain more than one step of the scale.
  if (principal.length > 0 && others.length > 0) {
    const alone = firstFit(principal);
    const rest = alone && firstFit(others);
    if (alone && rest && (all === null || alone.scale > 2.3 * all.scale)) return [alone.grid, rest.grid];
  }
  return all === null ? null : [all.grid];
}

function finished(
  source: SheetSource,
  grids: readonly Grid[],
  paper: Paper,
  moved: Readonly<Record<string, Vec2>>,
  warnings: readonly string[],
): Sheet {
  const size = PAPER_SIZES[paper];
  const views: PlacedView[] = [];
  const scale = grids[0]?.blocks[0]?.block ?? null;
  const sheetScale = scale === null ? 1 : scale.scale / scale.prepared.factor;
  const { left: overflow } = pageFoot(source, size, { scale: sheetScale, scope: source.scope, page: 1, pages: 1 });
  const count = grids.length + (overflow.length > 0 ? 1 : 0);
  const pages = grids.map((grid, i): SheetPage => {
    const entities: SheetEntity[] = [];
    const [roomX, roomY] = roomOn(size);
    const spareX = Math.max(0, roomX - spanOf(grid.columns)) / (grid.columns.length + 1);
    const spareY = Math.max(0, roomY - spanOf(grid.rows)) / (grid.rows.length + 1);
    const originX = (column: number): number =>
      MARGIN_MM +
      4 +
      spareX * (column + 1) +
      spanOf(grid.columns.slice(0, column)) +
      (column > 0 ? GAP_MM : 0) +
      (grid.columns[column]?.before ?? 0);
    const originY = (row: number): number =>
      size[1] -
      MARGIN_MM -
      4 -
      spareY * (row + 1) -
      spanOf(grid.rows.slice(0, row)) -
      (row > 0 ? GAP_MM : 0) -
      (grid.rows[row]?.after ?? 0);
    // A moved view takes its column or row along, so that aligned views stay aligned.
    const shiftOf = (pick: 'column' | 'row', place: number, axis: 0 | 1): number =>
      grid.blocks
        .filter((cell) => cell[pick] === place)
        .reduce((sum, { block }) => sum + (moved[block.prepared.view.id]?.[axis] ?? 0), 0);
    for (const { block, column, row } of grid.blocks) {
      const { view } = block.prepared;
      const aligned = PRINCIPAL[view.kind];
      const spanX = grid.columns[column] ?? { before: 0, after: 0 };
      const spanY = grid.rows[row] ?? { before: 0, after: 0 };
      const own = moved[view.id] ?? [0, 0];
      const at: Vec2 = aligned
        ? [originX(column) + shiftOf('column', column, 0), originY(row) + shiftOf('row', row, 1)]
        : [
            originX(column) + (spanX.after - spanX.before) / 2 - (block.box.min[0] + block.box.max[0]) / 2 + own[0],
            originY(row) + (spanY.after - spanY.before) / 2 - (block.box.min[1] + block.box.max[1]) / 2 + own[1],
          ];
      entities.push(...block.entities.map((entity) => movedBy(entity, at)));
      views.push({
        viewId: view.id,
        page: i + 1,
        scale: block.scale,
        min: [block.box.min[0] + at[0], block.box.min[1] + at[1]],
        max: [block.box.max[0] + at[0], block.box.max[1] + at[1]],
        column,
        row,
      });
    }
    const foot = pageFoot(source, size, { scale: sheetScale, scope: source.scope, page: i + 1, pages: count });
    return { widthMm: size[0], heightMm: size[1], entities: [...entities, ...pageFrame(size), ...foot.entities] };
  });
  const notes: SheetPage[] =
    overflow.length === 0
      ? []
      : [
          {
            widthMm: size[0],
            heightMm: size[1],
            entities: [
              ...pageFrame(size),
              ...notePage(overflow, size),
              ...pageFoot(source, size, { scale: sheetScale, scope: source.scope, page: count, pages: count }).entities,
            ],
          },
        ];
  return {
    title: `${source.exercise.number} ${source.exercise.title}`,
    scale: sheetScale,
    pages: [...pages, ...notes],
    views,
    dimensions: grids.flatMap(({ blocks }) =>
      blocks.flatMap(({ block }) =>
        block.placed.map(({ id, offset, angle, acrossMm }) => ({
          id,
          viewId: block.prepared.view.id,
          offset,
          angle,
          acrossMm,
        })),
      ),
    ),
    warnings,
  };
}

function movedBy(entity: SheetEntity, [dx, dy]: Vec2): SheetEntity {
  const move = ([x, y]: Vec2): Vec2 => [x + dx, y + dy];
  switch (entity.kind) {
    case 'line':
      return { ...entity, from: move(entity.from), to: move(entity.to) };
    case 'arc':
    case 'ellipse':
      return { ...entity, center: move(entity.center) };
    case 'polyline':
      return { ...entity, points: entity.points.map(move) };
    case 'arrow':
      return { ...entity, tip: move(entity.tip) };
    case 'text':
      return { ...entity, at: move(entity.at) };
  }
}
