import type { SheetSettings, SheetView } from '#core/exercise';
import type { PlacedOffset } from '#core/sheet';

type Point = readonly [number, number];

/** Changes the settings of the sheet; changes of one topic on end are one step of undo. */
export type PutSheet = (change: (sheet: SheetSettings) => SheetSettings, topic: string) => void;

/** A view by the words that the editor calls it. */
export function nameOf(view: SheetView): string {
  switch (view.kind) {
    case 'plain':
      return view.direction;
    case 'isometric':
      return 'pictorial';
    case 'section':
      return `section ${view.letter}-${view.letter}`;
    case 'detail':
      return `detail ${view.letter}`;
  }
}

const NEAREST_MM = 4;

/** Where a dimension stands after it was dragged: a linear one keeps to its side, or jumps to the other. */
export function draggedOffset({ offset, angle, acrossMm }: PlacedOffset, [dx, dy]: Point): Point {
  const rounded = (value: number): number => Math.round(value * 10) / 10;
  if (angle === null) return [rounded(offset[0] + dx), rounded(offset[1] + dy)];
  const along = dx * Math.cos(angle) + dy * Math.sin(angle);
  const across = dy * Math.cos(angle) - dx * Math.sin(angle);
  const [before, shift] = [offset[1], offset[0] + along];
  const level = before + across;
  const stays = before > 0 ? level > -acrossMm / 2 : level < acrossMm / 2;
  if (stays) return [rounded(shift), rounded(before > 0 ? Math.max(NEAREST_MM, level) : Math.min(-NEAREST_MM, level))];
  const other = before > 0 ? level + acrossMm : level - acrossMm;
  return [rounded(shift), rounded(before > 0 ? Math.min(-NEAREST_MM, other) : Math.max(NEAREST_MM, other))];
}

/** The settings with a dimension at another place. */
export const withOffset = (sheet: SheetSettings, id: string, offset: Point): SheetSettings => ({
  ...sheet,
  placed: { ...sheet.placed, [id]: { ...sheet.placed?.[id], offset } },
});

/** The settings with a dimension in another view, where it finds a place by itself. */
export const withView = (sheet: SheetSettings, id: string, view: string | undefined): SheetSettings => ({
  ...sheet,
  placed: { ...sheet.placed, [id]: { view } },
});

/** The settings with a view moved by some millimeters. */
export function withMoved(sheet: SheetSettings, viewId: string, [dx, dy]: Point): SheetSettings {
  const [x, y] = sheet.moved?.[viewId] ?? [0, 0];
  const rounded = (value: number): number => Math.round(value * 10) / 10;
  return { ...sheet, moved: { ...sheet.moved, [viewId]: [rounded(x + dx), rounded(y + dy)] } };
}

/** The settings as if nothing had been put anywhere by hand, or one dimension had not. */
export function reset(sheet: SheetSettings, id?: string): SheetSettings {
  const { placed, moved: _, ...rest } = sheet;
  if (id === undefined) return rest;
  const { [id]: __, ...others } = placed ?? {};
  return { ...sheet, placed: others };
}
