import { Maximize, Minus, Plus } from 'lucide-react';
import { useEffect, useRef, useState, type ReactNode, type RefObject } from 'react';

interface SheetStageProps {
  /** The sheet as SVG of this program, in which every text is escaped. */
  readonly svg: string;
  readonly marked: ReadonlySet<string>;
  /** Colors and words for dimensions, by the id of their check. */
  readonly verdicts?: ReadonlyMap<string, 'right' | 'near' | 'wrong' | 'missing'>;
  readonly label?: string;
  readonly children?: ReactNode;
  readonly drawing?: RefObject<HTMLDivElement | null>;
  /** A dimension to go to, by the id of its check: large enough to be read, in the middle. */
  readonly focus?: string | null;
  readonly onPick?: (checkId: string | null) => void;
  /** Takes the place of `onPick`: a point of the page was chosen, in mm from its upper left corner. */
  readonly onPoint?: (at: readonly [number, number]) => void;
  readonly onPointerDown?: (event: PointerEvent) => void;
  readonly onPointerUp?: (event: PointerEvent) => void;
}

const LARGEST = 6;
/** A dimension is read well where a millimeter of paper has so many pixels. */
const READABLE_PX_PER_MM = 4;

/** Width and height of a page, mm, as its SVG says. */
function paperOf(svg: string): { readonly widthMm: number; readonly heightMm: number } {
  const [, width, height] = /viewBox="0 0 ([\d.]+) ([\d.]+)"/.exec(svg) ?? [];
  return { widthMm: Number(width ?? 420), heightMm: Number(height ?? 297) };
}

const selector = (checkId: string): string => `[data-check="${CSS.escape(checkId)}"]`;

/** Rules that color the lines and letters of dimensions. */
function styleFor(marked: ReadonlySet<string>, verdicts: SheetStageProps['verdicts']): string {
  const paint = (ids: readonly string[], color: string, width: number): string =>
    ids.length === 0
      ? ''
      : `[data-sheet] g[fill="none"] > :is(${ids.map(selector).join(',')}) { stroke: ${color}; stroke-width: ${String(width)}; }
         [data-sheet] g:not([fill="none"]) > :is(${ids.map(selector).join(',')}) { fill: ${color}; }`;
  const wrong = [...(verdicts ?? [])].flatMap(([id, verdict]) => (verdict === 'right' ? [] : [id]));
  return `${paint(wrong, '#a63a12', 0.3)}${paint([...marked], '#0b5d66', 0.5)}`;
}

/** The drawing itself, always black on white, sharp at any zoom; it scrolls by mouse, finger and keys. */
export function SheetStage({
  svg,
  marked,
  verdicts,
  label = 'Drawing sheet',
  children,
  drawing,
  focus = null,
  onPick,
  onPoint,
  onPointerDown,
  onPointerUp,
}: SheetStageProps) {
  const [zoom, setZoom] = useState(1);
  const { widthMm, heightMm } = paperOf(svg);
  const own = useRef<HTMLDivElement>(null);
  const area = drawing ?? own;
  const scroller = useRef<HTMLDivElement>(null);
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
    const [view, paper] = [scroller.current, area.current];
    if (focus === null || view === null || paper === null) return;
    setZoom((now) => {
      const pxPerMm = paper.clientWidth / now / widthMm;
      return Math.min(LARGEST, Math.max(now, READABLE_PX_PER_MM / Math.max(1e-6, pxPerMm)));
    });
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
  }, [focus, area, zoom]);
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
  return (
    <div className="flex h-full flex-col">
      <div className="flex shrink-0 flex-wrap justify-end gap-1 bg-paper p-1 print:hidden">
        {children}
        <StageButton label="Smaller" disabled={zoom <= 1} onClick={() => to(zoom / 1.5)}>
          <Minus size={14} aria-hidden />
        </StageButton>
        <StageButton label="Larger" disabled={zoom >= LARGEST} onClick={() => to(zoom * 1.5)}>
          <Plus size={14} aria-hidden />
        </StageButton>
        <StageButton label="Whole sheet" disabled={zoom === 1} onClick={() => to(1)}>
          <Maximize size={13} aria-hidden />
        </StageButton>
      </div>
      <div
        className="[container-type:size] min-h-0 flex-1 overflow-auto bg-white panel"
        ref={scroller}
        tabIndex={0}
        role="region"
        aria-label={label}
        data-testid="sheet"
      >
        <style>{styleFor(marked, verdicts)}</style>
        <div
          ref={area}
          data-sheet
          // The whole page at first, whichever way it is narrow.
          style={{ width: `calc(min(100cqw, 100cqh * ${String(widthMm / heightMm)}) * ${String(zoom)})` }}
          className={`mx-auto [&>svg]:block [&>svg]:h-auto [&>svg]:w-full ${onPoint ? 'cursor-crosshair' : ''}`}
          dangerouslySetInnerHTML={{ __html: svg }}
        />
      </div>
    </div>
  );
}

export function StageButton({
  label,
  wide = false,
  ...rest
}: {
  label: string;
  wide?: boolean;
  disabled?: boolean;
  onClick: () => void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={wide ? undefined : label}
      className={`flex h-7 cursor-pointer items-center justify-center border border-ink/50 bg-paper hover:bg-accent-soft disabled:cursor-default disabled:opacity-40 ${wide ? 'px-2 text-sm' : 'w-7'}`}
      {...rest}
    />
  );
}
