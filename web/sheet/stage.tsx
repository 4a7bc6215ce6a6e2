import { Maximize, Minus, Plus } from 'lucide-react';
import { useRef, type ReactNode, type RefObject } from 'react';

import { ProjectionLines } from './projection-lines.tsx';
import { useStageEvents, type StageEvents } from './stage-events.ts';
import { LARGEST, selector, useZoom } from './zoom.ts';

interface SheetStageProps extends StageEvents {
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
  /** Lines through the pointer show where a place lies in the other views. */
  readonly projects?: boolean;
}

/** Width and height of a page, mm, as its SVG says. */
function paperOf(svg: string): { readonly widthMm: number; readonly heightMm: number } {
  const [, width, height] = /viewBox="0 0 ([\d.]+) ([\d.]+)"/.exec(svg) ?? [];
  return { widthMm: Number(width ?? 420), heightMm: Number(height ?? 297) };
}

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
  projects = false,
  ...events
}: SheetStageProps) {
  const { widthMm, heightMm } = paperOf(svg);
  const own = useRef<HTMLDivElement>(null);
  const area = drawing ?? own;
  const scroller = useRef<HTMLDivElement>(null);
  const parts = { scroller, area };
  const { zoom, to } = useZoom(parts, { focus, widthMm });
  useStageEvents(parts, { zoom, to }, events);
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
          className="relative mx-auto"
          // The whole page at first, whichever way it is narrow.
          style={{ width: `calc(min(100cqw, 100cqh * ${String(widthMm / heightMm)}) * ${String(zoom)})` }}
        >
          <div
            ref={area}
            data-sheet
            className={`[&>svg]:block [&>svg]:h-auto [&>svg]:w-full ${events.onPoint || projects ? 'cursor-crosshair' : ''}`}
            dangerouslySetInnerHTML={{ __html: svg }}
          />
          {projects && <ProjectionLines area={area} />}
        </div>
      </div>
    </div>
  );
}

export function StageButton({
  label,
  wide = false,
  pressed,
  ...rest
}: {
  label: string;
  wide?: boolean;
  /** Of a button that stays pressed. */
  pressed?: boolean;
  disabled?: boolean;
  onClick: () => void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={wide ? undefined : label}
      aria-pressed={pressed}
      className={`flex h-7 cursor-pointer items-center justify-center border border-ink/50 bg-paper hover:bg-accent-soft disabled:cursor-default disabled:opacity-40 aria-pressed:bg-accent-soft ${wide ? 'px-2 text-sm' : 'w-7'}`}
      {...rest}
    />
  );
}
