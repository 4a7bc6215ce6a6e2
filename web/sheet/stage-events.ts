import { useEffect } from 'react';

import type { StageParts } from './zoom.ts';

export interface StageEvents {
  readonly onPick?: (checkId: string | null) => void;
  /** Takes the place of `onPick`: a point of the page was chosen, in mm from its upper left corner. */
  readonly onPoint?: (at: readonly [number, number]) => void;
  readonly onPointerDown?: (event: PointerEvent) => void;
  readonly onPointerUp?: (event: PointerEvent) => void;
}

/** What is picked on the paper, and the keys and the wheel that zoom. */
export function useStageEvents(
  { scroller, area }: StageParts,
  { zoom, to }: { readonly zoom: number; readonly to: (next: number) => void },
  { onPick, onPoint, onPointerDown, onPointerUp }: StageEvents,
): void {
  // The drawing is markup of its own, so that its events are listened to where they arrive.
  useEffect(() => {
    const [view, paper] = [scroller.current, area.current];
    if (view === null || paper === null) return undefined;
    const keys = (event: KeyboardEvent): void => {
      if (event.key === '+' || event.key === '=') to(zoom * 1.5);
      else if (event.key === '-') to(zoom / 1.5);
      else if (event.key === '0') to(1);
    };
    const wheel = (event: WheelEvent): void => {
      if (!event.ctrlKey) return;
      event.preventDefault();
      to(zoom * (event.deltaY < 0 ? 1.2 : 1 / 1.2));
    };
    const click = (event: MouseEvent): void => {
      const picture = paper.querySelector('svg');
      const matrix = picture?.getScreenCTM()?.inverse();
      if (onPoint !== undefined && matrix) {
        const { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
        onPoint([x, y]);
        return;
      }
      const found = event.target instanceof Element ? event.target.closest('[data-check]') : null;
      onPick?.(found?.getAttribute('data-check') ?? null);
    };
    const [down, up] = [onPointerDown, onPointerUp];
    view.addEventListener('keydown', keys);
    view.addEventListener('wheel', wheel, { passive: false });
    paper.addEventListener('click', click);
    if (down) paper.addEventListener('pointerdown', down);
    if (up) window.addEventListener('pointerup', up);
    return () => {
      view.removeEventListener('keydown', keys);
      view.removeEventListener('wheel', wheel);
      paper.removeEventListener('click', click);
      if (down) paper.removeEventListener('pointerdown', down);
      if (up) window.removeEventListener('pointerup', up);
    };
  });
}
