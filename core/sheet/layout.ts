import { DEFAULT_SHEET, isPrincipal, type Direction, type Exercise, type Paper } from '#core/exercise';
import type { Vec2 } from '#core/vector';

import { bareBlock, drawBlock, type Block } from './block.ts';
import { dimensionsOf } from './draft/index.ts';
import { FOOT_MM, MARGIN_MM, notePage, PAPER_SIZES, pageFoot, pageFrame } from './frame.ts';
import { unlettered } from './lettering.ts';
import { pointsAlong } from './lines.ts';
import type { PlacedView, Sheet, SheetEntity, SheetPage } from './model.ts';
import { boxOf } from './overlap.ts';
import { dimensionViewsOf, prepareViews, type PreparedView, type SheetSource } from './prepare.ts';

const GAP_MM = 9;

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
  const dimensions = dimensionsOf(source, dimensionViewsOf(prepared), source.threads);
  const wanted = new Map(
    Object.entries(settings.placed ?? {}).flatMap(([id, { offset }]) => (offset === undefined ? [] : [[id, offset]])),
  );
  const blockOf = (one: PreparedView, scale: number): Block => drawBlock(source, one, scale, { dimensions, wanted });
  const papers = [settings.paper, ...LARGER[settings.paper]];
  for (const paper of papers) {
    const pages = pagesOn(paper, prepared, {
      blockOf,
      projection: source.exercise.projection,
      fixedScale: settings.scale,
    });
    if (pages === null) continue;
    if (paper !== settings.paper)
      warnings.push(`The views and dimensions do not fit on ${settings.paper}; the sheet was made ${paper}.`);
    return finished(source, pages, paper, warnings);
  }
  // Nothing fits: the largest paper, whatever hangs over.
  const paper = papers.at(-1) ?? settings.paper;
  warnings.push('The sheet has more dimensions than the largest paper holds. Take some off the sheet.');
  const scale = settings.scale ?? scalesFrom(bareScale(prepared, PAPER_SIZES[paper]) / prepared.length)[0] ?? 1;
  const blocks = prepared.map((one) => blockOf(one, scale));
  return finished(source, [gridOf(blocks, source.exercise.projection)], paper, warnings);
}

/** Papers that a sheet moves on to, the smallest first. */
const LARGER: Readonly<Record<Paper, readonly Paper[]>> = {
  A4: ['A3', 'A2', 'A1'],
  A3: ['A2', 'A1'],
  A2: ['A1'],
  A1: [],
  letter: ['tabloid', 'A2', 'A1'],
  tabloid: ['A2', 'A1'],
};

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
    if (!isPrincipal(view)) {
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
  const spans = (count: number, pick: 'column' | 'row', axis: 0 | 1): Grid['columns'] =>
    Array.from({ length: count }, (_, i) => {
      const own = compact.filter((cell) => cell[pick] === i);
      const aligned = own.filter(({ block }) => isPrincipal(block.prepared.view));
      let before = Math.max(0, ...aligned.map(({ block }) => -block.box.min[axis]));
      let after = Math.max(aligned.length > 0 ? -before : 0, ...aligned.map(({ block }) => block.box.max[axis]));
      const size = Math.max(
        0,
        ...own
          .filter(({ block }) => !isPrincipal(block.prepared.view))
          .map(({ block }) => block.box.max[axis] - block.box.min[axis]),
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
    .filter(({ view }) => isPrincipal(view))
    .map(({ lines }) => boxOf(lines.visible.flatMap((curve) => pointsAlong(curve))))
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

interface PageOptions {
  readonly blockOf: (one: PreparedView, scale: number) => Block;
  readonly projection: Exercise['projection'];
  readonly fixedScale: number | undefined;
}

/** The views on as few pages as are enough, or null where the paper is too small. */
function pagesOn(
  paper: Paper,
  prepared: readonly PreparedView[],
  { blockOf, projection, fixedScale }: PageOptions,
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
      // Where the bare outlines do not fit, the dimensions need not be placed.
      if (
        !fits(
          gridOf(
            views.map((one) => bareBlock(one, scale)),
            projection,
          ),
          size,
        )
      )
        continue;
      const grid = gridOf(blocksAt(views, scale), projection);
      if (fits(grid, size)) return { grid, scale };
    }
    return null;
  };
  const all = firstFit(prepared);
  const principal = prepared.filter(({ view }) => isPrincipal(view));
  const others = prepared.filter(({ view }) => !isPrincipal(view));
  // Pictorial views and details move to a second page when the principal ones gain more than one step of the scale.
  if (principal.length > 0 && others.length > 0) {
    const alone = firstFit(principal);
    const rest = alone && firstFit(others);
    if (alone && rest && (all === null || alone.scale > 2.3 * all.scale)) return [alone.grid, rest.grid];
  }
  return all === null ? null : [all.grid];
}

function finished(source: SheetSource, grids: readonly Grid[], paper: Paper, warnings: readonly string[]): Sheet {
  const size = PAPER_SIZES[paper];
  const first = grids[0]?.blocks[0]?.block ?? null;
  const scale = first === null ? 1 : first.scale / first.prepared.factor;
  const { left: overflow } = pageFoot(source, size, { scale, scope: source.scope, page: 1, pages: 1 });
  const count = grids.length + (overflow.length > 0 ? 1 : 0);
  const paged = (entities: readonly SheetEntity[], page: number): SheetPage => ({
    widthMm: size[0],
    heightMm: size[1],
    entities: [
      ...entities,
      ...pageFrame(size),
      ...pageFoot(source, size, { scale, scope: source.scope, page, pages: count }).entities,
    ],
  });
  const laid = grids.map((grid, i) => laidOut(grid, i + 1, size, source.exercise.sheet?.moved ?? {}));
  const pages = [
    ...laid.map(({ entities }, i) => paged(entities, i + 1)),
    ...(overflow.length > 0 ? [paged(notePage(overflow, size), count)] : []),
  ];
  return {
    title: `${source.exercise.number} ${source.exercise.title}`,
    scale,
    pages,
    views: laid.flatMap(({ views }) => views),
    dimensions: grids.flatMap(({ blocks }) => blocks.flatMap(({ block }) => placementsOf(block))),
    warnings: [...warnings, ...withoutLetters(pages)],
  };
}

/** The views of a page where they stand on its paper. */
function laidOut(
  grid: Grid,
  page: number,
  size: Vec2,
  moved: Readonly<Record<string, Vec2>>,
): { readonly entities: readonly SheetEntity[]; readonly views: readonly PlacedView[] } {
  const originOf = originsIn(grid, size);
  // A moved view takes its column or row along, so that aligned views stay aligned.
  const shiftOf = (pick: 'column' | 'row', place: number, axis: 0 | 1): number =>
    grid.blocks
      .filter((cell) => cell[pick] === place)
      .reduce((sum, { block }) => sum + (moved[block.prepared.view.id]?.[axis] ?? 0), 0);
  const placed = grid.blocks.map(({ block, column, row }) => {
    const { view } = block.prepared;
    const { box } = block;
    const [originX, originY] = originOf(column, row);
    const spanX = grid.columns[column] ?? { before: 0, after: 0 };
    const spanY = grid.rows[row] ?? { before: 0, after: 0 };
    const own = moved[view.id] ?? [0, 0];
    const at: Vec2 = isPrincipal(view)
      ? [originX + shiftOf('column', column, 0), originY + shiftOf('row', row, 1)]
      : [
          originX + (spanX.after - spanX.before) / 2 - (box.min[0] + box.max[0]) / 2 + own[0],
          originY + (spanY.after - spanY.before) / 2 - (box.min[1] + box.max[1]) / 2 + own[1],
        ];
    return {
      entities: block.entities.map((entity) => movedBy(entity, at)),
      view: {
        viewId: view.id,
        page,
        scale: block.scale,
        min: [box.min[0] + at[0], box.min[1] + at[1]],
        max: [box.max[0] + at[0], box.max[1] + at[1]],
        column,
        row,
        ...(view.kind === 'isometric'
          ? {}
          : { lies: { origin: at, right: block.prepared.axes.right, up: block.prepared.axes.up } }),
      } satisfies PlacedView,
    };
  });
  return { entities: placed.flatMap(({ entities }) => entities), views: placed.map(({ view }) => view) };
}

/** Where the origin of a view lies that stands in a column and a row; what room is left is shared out between them. */
function originsIn({ columns, rows }: Grid, size: Vec2): (column: number, row: number) => Vec2 {
  const [roomX, roomY] = roomOn(size);
  const spareX = Math.max(0, roomX - spanOf(columns)) / (columns.length + 1);
  const spareY = Math.max(0, roomY - spanOf(rows)) / (rows.length + 1);
  const upTo = (spans: Grid['columns'], place: number): number =>
    spanOf(spans.slice(0, place)) + (place > 0 ? GAP_MM : 0);
  return (column, row) => [
    MARGIN_MM + 4 + spareX * (column + 1) + upTo(columns, column) + (columns[column]?.before ?? 0),
    size[1] - MARGIN_MM - 4 - spareY * (row + 1) - upTo(rows, row) - (rows[row]?.after ?? 0),
  ];
}

const placementsOf = ({ placed, prepared }: Block): Sheet['dimensions'] =>
  placed.map(({ id, offset, angle, acrossMm, hiddenEnds }) => ({
    id,
    viewId: prepared.view.id,
    offset,
    angle,
    acrossMm,
    hiddenEnds,
  }));

function withoutLetters(pages: readonly SheetPage[]): readonly string[] {
  const missing = unlettered(
    pages.flatMap(({ entities }) => entities.flatMap((entity) => (entity.kind === 'text' ? entity.text : []))),
  );
  return missing.length === 0
    ? []
    : [
        `Printed sheets have no letters for "${missing.slice(0, 12).join('')}": they show as empty boxes there. Write these words in another script.`,
      ];
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
    case 'picture':
    case 'shade':
    case 'text':
      return { ...entity, at: move(entity.at) };
  }
}
