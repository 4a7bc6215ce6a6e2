import { useEffect, useState, type RefObject } from 'react';

/** Shares of the width and height of the page. */
interface Place {
  readonly x: number;
  readonly y: number;
}

/**
 * Lines across and down the page through the pointer, as a drafter carries a place from one view to the next: views that
 * lie beside or below each other show the same height or the same side there.
 */
export function ProjectionLines({ area }: { readonly area: RefObject<HTMLDivElement | null> }) {
  const [at, setAt] = useState<Place | null>(null);
  useEffect(() => {
    const page = area.current;
    if (page === null) return undefined;
    const follow = ({ clientX, clientY }: PointerEvent): void => {
      const { left, top, width, height } = page.getBoundingClientRect();
      setAt({ x: (clientX - left) / width, y: (clientY - top) / height });
    };
    // A finger taps where a mouse moves.
    page.addEventListener('pointermove', follow);
    page.addEventListener('pointerdown', follow);
    return () => {
      page.removeEventListener('pointermove', follow);
      page.removeEventListener('pointerdown', follow);
    };
  }, [area]);
  if (at === null) return null;
  const percent = (share: number): string => `${String(100 * share)}%`;
  return (
    <svg
      className="pointer-events-none absolute inset-0 h-full w-full"
      stroke="#0b5d66"
      strokeWidth={1}
      strokeDasharray="7 3"
      data-testid="projection-lines"
      aria-hidden
    >
      <line x1="0" x2="100%" y1={percent(at.y)} y2={percent(at.y)} />
      <line y1="0" y2="100%" x1={percent(at.x)} x2={percent(at.x)} />
    </svg>
  );
}
