import type { PlacedView } from '#core/sheet';
import type { PaperPoint } from '#core/selfcheck';
import { cross, dot, type Vec2, type Vec3 } from '#core/vector';

import type { ReadSheet } from './question.ts';

/** A view that looks at the whole part straight on. */
export interface PlainView {
  readonly id: string;
  readonly page: number;
  readonly lies: NonNullable<PlacedView['lies']>;
  readonly toViewer: Vec3;
  /** Lower left and upper right of its drawing with dimensions, paper mm. */
  readonly min: Vec2;
  readonly max: Vec2;
  readonly scale: number;
}

/** The plain views of a sheet, without sections and details. */
export function plainViews({ sheet, exercise }: Pick<ReadSheet, 'sheet' | 'exercise'>): readonly PlainView[] {
  const others = new Set((exercise.sheet?.views ?? []).flatMap(({ id, kind }) => (kind === 'plain' ? [] : [id])));
  return sheet.views.flatMap(({ viewId, page, lies, min, max, scale }) =>
    lies === undefined || others.has(viewId)
      ? []
      : [{ id: viewId, page, lies, toViewer: cross(lies.right, lies.up), min, max, scale }],
  );
}

const heightOf = ({ sheet }: Pick<ReadSheet, 'sheet'>, page: number): number => sheet.pages[page - 1]?.heightMm ?? 0;

/** A point of the paper, y up from its lower left corner, as it is picked on a screen. */
export const onScreen = (sheet: Pick<ReadSheet, 'sheet'>, page: number, [x, y]: Vec2): PaperPoint => ({
  page,
  at: [x, heightOf(sheet, page) - y],
});

/** Where a view shows a point of the part. */
export const shownAt = (sheet: Pick<ReadSheet, 'sheet'>, { lies, scale, page }: PlainView, point: Vec3): PaperPoint =>
  onScreen(sheet, page, [
    lies.origin[0] + dot(lies.right, point) * scale,
    lies.origin[1] + dot(lies.up, point) * scale,
  ]);

const DIRECTIONS: readonly (readonly [Vec3, string])[] = [
  [[0, -1, 0], 'from the front'],
  [[0, 0, 1], 'from above'],
  [[1, 0, 0], 'from the right'],
  [[-1, 0, 0], 'from the left'],
  [[0, 0, -1], 'from below'],
  [[0, 1, 0], 'from behind'],
];

/** "from above". */
export const directionWords = ({ toViewer }: PlainView): string =>
  DIRECTIONS.find(([direction]) => dot(direction, toViewer) > 0.999)?.[1] ?? 'from aside';
