import type { Vec2 } from '#core/vector';

import { boxOf, type PaperBox, type Stroke } from '../overlap.ts';

/** A picture of zeros and ones over a piece of paper, row by row from below. */
export interface Raster {
  readonly columns: number;
  readonly rows: number;
  readonly cells: Uint8Array;
}

/** How paper is divided: square cells with an empty rim all round. */
export interface Grid {
  readonly low: Vec2;
  readonly cellMm: number;
  readonly columns: number;
  readonly rows: number;
}

const RIM_CELLS = 4;

/** A grid of so many cells along the longer side of the box around points. */
export function gridAround(points: readonly Vec2[], cells: number): Grid {
  const { min, max }: PaperBox = boxOf(points);
  const cellMm = Math.max(max[0] - min[0], max[1] - min[1], 1e-9) / cells;
  const count = (axis: 0 | 1): number => Math.ceil((max[axis] - min[axis]) / cellMm) + 1 + 2 * RIM_CELLS;
  return {
    // Half a cell off, so that borders of the box run through the middle of cells.
    low: [min[0] - (RIM_CELLS + 0.5) * cellMm, min[1] - (RIM_CELLS + 0.5) * cellMm],
    cellMm,
    columns: count(0),
    rows: count(1),
  };
}

const blank = ({ columns, rows }: Grid): Raster => ({ columns, rows, cells: new Uint8Array(columns * rows) });

/** All that strokes enclose: what cannot be reached from outside without crossing one. */
export function enclosedBy(strokes: readonly Stroke[], grid: Grid): Raster {
  const walls = blank(grid);
  const place = (p: Vec2): Vec2 => [(p[0] - grid.low[0]) / grid.cellMm, (p[1] - grid.low[1]) / grid.cellMm];
  for (const { from, to } of strokes) {
    const [a, b] = [place(from), place(to)];
    const count = Math.max(1, Math.ceil(2 * Math.max(Math.abs(b[0] - a[0]), Math.abs(b[1] - a[1]))));
    for (let i = 0; i <= count; i++) {
      const column = Math.floor(a[0] + ((b[0] - a[0]) * i) / count);
      const row = Math.floor(a[1] + ((b[1] - a[1]) * i) / count);
      if (column >= 0 && row >= 0 && column < grid.columns && row < grid.rows)
        walls.cells[row * grid.columns + column] = 1;
    }
  }
  return filledUp(walls);
}

/** The shadow of triangles, holes filled up. */
export function shadowOf(triangles: readonly (readonly [Vec2, Vec2, Vec2])[], grid: Grid): Raster {
  const shadow = blank(grid);
  const { low, cellMm, columns, rows } = grid;
  for (const corners of triangles) {
    const [a, b, c] = corners.map((p): Vec2 => [(p[0] - low[0]) / cellMm - 0.5, (p[1] - low[1]) / cellMm - 0.5]);
    if (a === undefined || b === undefined || c === undefined) continue;
    const first = Math.max(0, Math.ceil(Math.min(a[1], b[1], c[1])));
    const last = Math.min(rows - 1, Math.floor(Math.max(a[1], b[1], c[1])));
    for (let row = first; row <= last; row++) {
      let [left, right] = [Infinity, -Infinity];
      for (const [p, q] of [
        [a, b],
        [b, c],
        [c, a],
      ] as const) {
        if (Math.min(p[1], q[1]) > row || Math.max(p[1], q[1]) < row) continue;
        const ends = p[1] === q[1] ? [p[0], q[0]] : [p[0] + ((q[0] - p[0]) * (row - p[1])) / (q[1] - p[1])];
        left = Math.min(left, ...ends);
        right = Math.max(right, ...ends);
      }
      if (left <= right)
        shadow.cells.fill(1, row * columns + Math.max(0, Math.ceil(left)), row * columns + Math.floor(right) + 1);
    }
  }
  return filledUp(shadow);
}

/** A picture with all that its ones enclose filled up. */
function filledUp({ columns, rows, cells }: Raster): Raster {
  const out = new Uint8Array(cells.length).fill(1);
  const open = [0];
  out[0] = 0;
  while (open.length > 0) {
    const at = open.pop() ?? 0;
    const column = at % columns;
    for (const [next, isThere] of [
      [at - 1, column > 0],
      [at + 1, column < columns - 1],
      [at - columns, at >= columns],
      [at + columns, at < columns * (rows - 1)],
    ] as const)
      if (isThere && out[next] === 1 && cells[next] === 0) {
        out[next] = 0;
        open.push(next);
      }
  }
  return { columns, rows, cells: out };
}

/** How much of a picture differs from another: the share of its ones, without the rims that both have of their own. */
export function shareApart(drawn: Raster, cast: Raster): number {
  const { columns, rows, cells } = cast;
  const differs = (at: number): boolean => drawn.cells[at] !== cells[at];
  const around = [-2, -1, 0, 1, 2].flatMap((dy) => [-2, -1, 0, 1, 2].map((dx) => dy * columns + dx));
  let [apart, all] = [0, 0];
  for (let row = 2; row < rows - 2; row++)
    for (let column = 2; column < columns - 2; column++) {
      const at = row * columns + column;
      all += cells[at] ?? 0;
      // A difference as wide as five cells is none of rounding.
      if (differs(at) && around.every((step) => differs(at + step))) apart++;
    }
  return apart / Math.max(1, all);
}

/** Tells whether a piece of paper has ones of a picture on it. */
export const enclosing =
  ({ columns, rows, cells }: Raster, { low, cellMm }: Grid): ((box: PaperBox) => boolean) =>
  ({ min, max }) => {
    const cell = (value: number, axis: 0 | 1, most: number): number =>
      Math.min(most - 1, Math.max(0, Math.floor((value - low[axis]) / cellMm)));
    for (let row = cell(min[1], 1, rows); row <= cell(max[1], 1, rows); row++)
      for (let column = cell(min[0], 0, columns); column <= cell(max[0], 0, columns); column++)
        if (cells[row * columns + column] === 1) return true;
    return false;
  };
