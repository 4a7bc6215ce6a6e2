import { useEffect, useState, type RefObject } from 'react';

/** The part of the page that scrolls, and the paper in it. */
export interface StageParts {
  readonly scroller: RefObject<HTMLDivElement | null>;
  readonly area: RefObject<HTMLDivElement | null>;
}

export const LARGEST = 6;
/** A dimension is read well where a millimeter of paper has so many pixels. */
const READABLE_PX_PER_MM = 4;

/** What the drawing of a check is found by. */
export const selector = (checkId: string): string => `[data-check="${CSS.escape(checkId)}"]`;

/** How large the paper is drawn: by buttons, keys and wheel, and large enough for the dimension in `focus`. */
export function useZoom(
  { scroller, area }: StageParts,
  { focus, widthMm }: { readonly focus: string | null; readonly widthMm: number },
): { readonly zoom: number; readonly to: (next: number) => void } {
  const [zoom, setZoom] = useState(1);
  const to = (next: number): void => {
    const clamped = Math.min(LARGEST, Math.max(1, next));
    setZoom(clamped);
    const view = scroller.current;
    if (view === null) return;
    const [x, y] = [view.scrollLeft + view.clientWidth / 2, view.scrollTop + view.clientHeight / 2];
    const growth = clamped / zoom;
    requestAnimationFrame(() => {
      view.scrollTo(x * growth - view.clientWidth / 2, y * growth - view.clientHeight / 2);
    });
  };
  useEffect(() => {
    const paper = area.current;
    if (focus === null || paper === null) return undefined;
    // The paper is measured once it is laid out.
    const frame = requestAnimationFrame(() => {
      setZoom((now) => {
        const pxPerMm = paper.clientWidth / now / widthMm;
        return Math.min(LARGEST, Math.max(now, READABLE_PX_PER_MM / Math.max(1e-6, pxPerMm)));
      });
    });
    return () => {
      cancelAnimationFrame(frame);
    };
  }, [focus, area, widthMm]);
  // Once it is drawn as large as that, it is brought to the middle of the drawing, wherever the page is.
  useEffect(() => {
    const view = scroller.current;
    const found = focus === null ? null : area.current?.querySelector(`g${selector(focus)}`);
    if (view === null || !found) return;
    const [box, frame] = [found.getBoundingClientRect(), view.getBoundingClientRect()];
    view.scrollBy(
      box.left + box.width / 2 - frame.left - frame.width / 2,
      box.top + box.height / 2 - frame.top - frame.height / 2,
    );
  }, [focus, scroller, area, zoom]);
  return { zoom, to };
}
