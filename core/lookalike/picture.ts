import * as v from 'valibot';

import type { ViewDirection } from '#core/kernel';
import { cleanView, pointsAlong, projectSolid, type Drawable } from '#core/sheet';
import type { Vec2 } from '#core/vector';

/** Seen lines of a part, each as x, y, x, y ... in thousandths of its frame, y down. */
export const PictureSchema = v.pipe(v.array(v.pipe(v.array(v.number()), v.readonly())), v.readonly());
export type Picture = v.InferOutput<typeof PictureSchema>;

const FRAME = 1000;
const MARGIN = 30;

type Lines = readonly (readonly Vec2[])[];

/** The seen lines of a part from a side, in mm. */
export function seenLines(part: Drawable, view: ViewDirection): Lines {
  const { visible } = cleanView(projectSolid(part, view));
  return visible.map((curve) => pointsAlong(curve));
}

/** Pictures of some parts at one scale, each in the middle: where a part lies does not show, its sizes beside others do. */
export function atOneScale(all: readonly Lines[]): readonly Picture[] {
  const boxes = all.map((lines) => {
    const points = lines.flat();
    const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
    const [left, low] = [least(xs), least(ys)];
    const [right, high] = [-least(xs.map((x) => -x)), -least(ys.map((y) => -y))];
    return { middle: [(left + right) / 2, (low + high) / 2] as const, size: Math.max(right - left, high - low) };
  });
  const scale = (FRAME - 2 * MARGIN) / Math.max(1e-9, ...boxes.map(({ size }) => size));
  return all.map((lines, i) => {
    const [x0, y0] = boxes[i]?.middle ?? [0, 0];
    const at = ([x, y]: Vec2): number[] => [
      Math.round(FRAME / 2 + (x - x0) * scale),
      Math.round(FRAME / 2 - (y - y0) * scale),
    ];
    return lines.map((line) => line.flatMap(at));
  });
}

const least = (values: readonly number[]): number => values.reduce((a, b) => Math.min(a, b), Infinity);

const CELL = 20;
const CELLS = FRAME / CELL + 1;

/** The cells of a grid that the lines of a picture pass. */
function cellsOf(picture: Picture): ReadonlySet<number> {
  const cells = new Set<number>();
  for (const line of picture)
    for (let i = 0; i + 3 < line.length; i += 2) {
      const [x = 0, y = 0, toX = 0, toY = 0] = line.slice(i, i + 4);
      const steps = Math.max(1, Math.ceil(Math.hypot(toX - x, toY - y) / (CELL / 2)));
      for (let step = 0; step <= steps; step++) {
        const [column, row] = [x + ((toX - x) * step) / steps, y + ((toY - y) * step) / steps];
        cells.add(Math.floor(row / CELL) * CELLS + Math.floor(column / CELL));
      }
    }
  return cells;
}

const AROUND = [-1, 0, 1].flatMap((row) => [-1, 0, 1].map((column) => row * CELLS + column));

/**
 * How much two pictures at one scale differ to the eye: cells with a line in one of them and none near it in the other, as a
 * share of all cells with a line. 0 for the same picture.
 */
export function unlikeness(first: Picture, second: Picture): number {
  const [a, b] = [cellsOf(first), cellsOf(second)];
  const alone = (own: ReadonlySet<number>, other: ReadonlySet<number>): number =>
    [...own].filter((cell) => !AROUND.some((step) => other.has(cell + step))).length;
  return (alone(a, b) + alone(b, a)) / Math.max(1, new Set([...a, ...b]).size);
}
