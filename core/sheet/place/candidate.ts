import { extremes, type Vec2 } from '#core/vector';

import type { SheetEntity } from '../model.ts';
import { boxOf, type PaperBox, type Stroke } from '../overlap.ts';
import { turned } from '../view-dimension.ts';

export const LETTER_MM = 3.5;
export const FIRST_ROW_MM = 9;
export const ROW_MM = 7;
export const MOST_ROWS = 14;
export const ARROW_MM = 2.8;
/** Extension lines begin so far from the part, and end so far behind the dimension line. */
export const GAP_MM = 1.2;
export const BEYOND_MM = 1.8;
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
  /** On which side of a short dimension its text is rather written: away from the middle of the view, or behind its end. */
  readonly textBeside?: 'outward' | 'behind';
}

/** What a stroke is to a reader: each may cross others at a cost of its own. */
export type Role = 'dimension' | 'extension' | 'leader';

/** A place for a dimension: what it costs by itself, what it covers, and how it is drawn. */
export interface Candidate {
  readonly own: number;
  readonly texts: readonly PaperBox[];
  readonly strokes: readonly (Stroke & { readonly role: Role })[];
  readonly offset: Vec2;
  readonly draw: () => readonly SheetEntity[];
}

/** Where the lines of a view begin and end across a direction. */
export const extentAcross = ({ strokes }: ViewOnPaper, angle: number): readonly [number, number] =>
  extremes(strokes.flatMap(({ from, to }) => [turned(from, angle)[1], turned(to, angle)[1]]));

/** Where the lines of a view begin and end along a direction. */
export const extentAlong = ({ strokes }: ViewOnPaper, angle: number): readonly [number, number] =>
  extremes(strokes.flatMap(({ from, to }) => [turned(from, angle)[0], turned(to, angle)[0]]));

/** From the frame of a dimension's direction to the frame of the view. */
export const back = (p: Vec2, angle: number): Vec2 => turned(p, -angle);

/** The box around a text that may lie aslant. */
export function textBox(at: Vec2, width: number, height: number, angle: number): PaperBox {
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

/** A stroke of a dimension as it is drawn. */
export const lineOf = ({ from, to }: Stroke, own: { readonly checkId?: string }): SheetEntity => ({
  kind: 'line',
  layer: 'dimension',
  from,
  to,
  ...own,
});
