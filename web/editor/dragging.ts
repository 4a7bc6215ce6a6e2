import { useRef, type RefObject } from 'react';

import type { Sheet } from '#core/sheet';

import { draggedOffset, withMoved, withOffset, type PutSheet } from './sheet-arrange.ts';

interface Drag {
  readonly kind: 'dimension' | 'view';
  readonly id: string;
  readonly from: readonly [number, number];
  readonly mmPerPixel: number;
}

/** Less than this is a click. */
const DRAG_PIXELS = 4;

interface DraggingOptions {
  readonly drawing: RefObject<HTMLDivElement | null>;
  readonly sheet: Sheet | null;
  readonly page: number;
  readonly onPut: PutSheet;
}

/** The view on a page that a point of the window lies in. */
function viewAt(event: PointerEvent, mmPerPixel: number, { drawing, sheet, page }: DraggingOptions): string | null {
  const box = drawing.current?.querySelector('svg')?.getBoundingClientRect();
  const height = sheet?.pages[page - 1]?.heightMm ?? 0;
  if (box === undefined) return null;
  const [x, y] = [(event.clientX - box.left) * mmPerPixel, height - (event.clientY - box.top) * mmPerPixel];
  return (
    sheet?.views.find(
      (view) => view.page === page && x > view.min[0] && x < view.max[0] && y > view.min[1] && y < view.max[1],
    )?.viewId ?? null
  );
}

/** Dimensions and views of a drawn sheet are dragged to other places. */
export function useDragging(options: DraggingOptions): {
  readonly begin: (event: PointerEvent) => void;
  readonly finish: (event: PointerEvent) => void;
} {
  const { drawing, sheet, page, onPut } = options;
  const drag = useRef<Drag | null>(null);
  const begin = (event: PointerEvent): void => {
    const target = event.target instanceof Element ? event.target : null;
    const width = drawing.current?.querySelector('svg')?.getBoundingClientRect().width ?? 0;
    if (target === null || width === 0 || sheet === null) return;
    const mmPerPixel = (sheet.pages[page - 1]?.widthMm ?? 1) / width;
    const checkId = target.closest('[data-check]')?.getAttribute('data-check');
    const viewId = target.closest('[data-view]')?.getAttribute('data-view') ?? viewAt(event, mmPerPixel, options);
    const id = checkId ?? viewId;
    if (id === null) return;
    drag.current = {
      kind: typeof checkId === 'string' ? 'dimension' : 'view',
      id,
      from: [event.clientX, event.clientY],
      mmPerPixel,
    };
  };
  const finish = (event: PointerEvent): void => {
    const { current } = drag;
    drag.current = null;
    if (current === null) return;
    const [dx, dy] = [event.clientX - current.from[0], event.clientY - current.from[1]];
    if (Math.hypot(dx, dy) < DRAG_PIXELS) return;
    const by = [dx * current.mmPerPixel, -dy * current.mmPerPixel] as const;
    if (current.kind === 'view') {
      onPut((before) => withMoved(before, current.id, by), `move ${current.id}`);
      return;
    }
    const dimension = sheet?.dimensions.find(({ id }) => id === current.id);
    if (dimension)
      onPut((before) => withOffset(before, current.id, draggedOffset(dimension, by)), `place ${current.id}`);
  };
  return { begin, finish };
}
