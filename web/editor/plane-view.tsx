import { useMemo } from 'react';

import { arcThrough } from '#core/kernel';
import type { Element, Loop, Outline } from '#core/outline';
import { formatFixed, LENGTH_UNITS, type DrawingUnit } from '#core/quantity';
import type { Vec2 } from '#core/vector';

import type { OutlinePreview } from './preview.ts';

interface PlaneViewProps {
  readonly preview: OutlinePreview;
  readonly outline: Outline;
  readonly unit: DrawingUnit;
  readonly decimals: number;
  readonly onChange: (outline: Outline) => void;
}

const WIDTH = 340;
const HEIGHT = 240;
const MARGIN = 34;
const MOST_LABELS = 28;

/** An outline flat on its plane with its sizes; its corners can be picked to be rounded. */
export function PlaneView({ preview, outline, unit, decimals, onChange }: PlaneViewProps) {
  const loops = useMemo(() => preview.answer?.loops ?? [], [preview.answer]);
  const frame = useMemo(() => frameOf(loops.map(({ loop }) => loop)), [loops]);
  if (preview.problem !== null && loops.length === 0)
    return <p className="px-3 py-2 text-sm text-wrong">{preview.problem.message}</p>;
  if (frame === null) return <p className="px-3 py-2 text-sm text-soft">The outline appears here.</p>;
  const { scale, u, v } = frame;
  const x = (at: number): number => WIDTH / 2 + (at - u) * scale;
  const y = (at: number): number => HEIGHT / 2 - (at - v) * scale;
  const size = (mm: number): string =>
    formatFixed(mm / LENGTH_UNITS[unit], Math.max(decimals, 2)).replace(/\.?0+$/, '');
  const elements = loops.flatMap(({ loop }) => loop);
  const labeled = elements.length <= MOST_LABELS ? elements : [];
  const outer = loops.find(({ hole }) => !hole)?.loop ?? [];
  return (
    <div className={preview.problem === null ? '' : 'opacity-60'}>
      <svg
        viewBox={`0 0 ${String(WIDTH)} ${String(HEIGHT)}`}
        className="h-52 w-full"
        role="group"
        aria-label="Outline on its plane"
        data-testid="plane-view"
      >
        <line x1={0} x2={WIDTH} y1={y(0)} y2={y(0)} className="stroke-rule" strokeDasharray="8 3 2 3" />
        <line y1={0} y2={HEIGHT} x1={x(0)} x2={x(0)} className="stroke-rule" strokeDasharray="8 3 2 3" />
        <path
          d={loops.map(({ loop }) => pathOf(loop, x, y, scale)).join(' ')}
          className="fill-accent-soft stroke-ink"
          strokeWidth={1.6}
          fillRule="evenodd"
        />
        {labeled.map((element, i) => (
          <Label key={i} element={element} x={x} y={y} size={size} />
        ))}
        {cornersOf(outline, outer).map(({ number, at, treated }) => (
          <g
            key={number}
            role="button"
            tabIndex={0}
            aria-pressed={treated}
            aria-label={`Corner ${String(number)}: ${treated ? 'make it sharp again' : 'round it'}`}
            className="cursor-pointer"
            onClick={() => {
              onChange(withCorner(outline, number, outer));
            }}
            onKeyDown={(event) => {
              if (event.key === 'Enter' || event.key === ' ') onChange(withCorner(outline, number, outer));
            }}
          >
            <circle
              cx={x(at[0])}
              cy={y(at[1])}
              r={6}
              className={`stroke-accent hover:fill-accent ${treated ? 'fill-accent-soft' : 'fill-paper'}`}
            />
            <text x={x(at[0])} y={y(at[1])} textAnchor="middle" dy="0.35em" className="fill-ink text-[8px]">
              {number}
            </text>
          </g>
        ))}
      </svg>
      {preview.problem !== null && <p className="px-3 pb-2 text-sm text-wrong">{preview.problem.message}</p>}
    </div>
  );
}

interface Corner {
  readonly number: number;
  readonly at: Vec2;
  readonly treated: boolean;
}

const isRound = (role: string | undefined): boolean => role !== undefined && /^corner\d+$/.test(role);

/** The corners that can be picked, numbered as rounds and chamfers number them: corner n is where side n ends. */
function cornersOf(outline: Outline, loop: Loop): readonly Corner[] {
  if (['circle', 'slot', 'polar', 'row', 'hull'].includes(outline.shape)) return [];
  if ('of' in outline && !['filleted', 'chamfered'].includes(outline.shape)) return [];
  if ('of' in outline && ['filleted', 'chamfered'].includes(outline.of.shape)) return [];
  let number = 0;
  return loop.flatMap((element, i): Corner[] => {
    if (element.kind === 'circle' || isRound(element.role)) return [];
    number++;
    const next = loop[(i + 1) % loop.length];
    const treated = isRound(next?.role);
    if (!treated || next === undefined || next.kind === 'circle') return [{ number, at: element.to, treated }];
    const at: Vec2 =
      next.kind === 'arc' ? next.through : [(next.from[0] + next.to[0]) / 2, (next.from[1] + next.to[1]) / 2];
    return [{ number, at, treated }];
  });
}

/** The outline with one corner more rounded, or one less. */
function withCorner(outline: Outline, corner: number, loop: Loop): Outline {
  if (outline.shape !== 'filleted' && outline.shape !== 'chamfered')
    return { shape: 'filleted', of: outline, size: '2', corners: [corner] };
  const all = cornersOf(outline, loop).filter(({ treated }) => treated);
  const before = outline.corners ?? all.map(({ number }) => number);
  const corners = before.includes(corner)
    ? before.filter((other) => other !== corner)
    : [...before, corner].sort((a, b) => a - b);
  return corners.length === 0 ? outline.of : { ...outline, corners };
}

type Along = (at: number) => number;

function frameOf(loops: readonly Loop[]): { readonly scale: number; readonly u: number; readonly v: number } | null {
  const points = loops.flat().flatMap((element) => {
    if (element.kind === 'circle') {
      const { center, radiusMm: r } = element;
      return [
        [center[0] - r, center[1] - r],
        [center[0] + r, center[1] + r],
      ] as const;
    }
    return element.kind === 'arc' ? [element.from, element.through, element.to] : [element.from, element.to];
  });
  if (points.length === 0) return null;
  const [us, vs] = [points.map(([u]) => u), points.map(([, v]) => v)];
  const [left, right, low, high] = [Math.min(...us), Math.max(...us), Math.min(...vs), Math.max(...vs)];
  const scale = Math.min(
    (WIDTH - 2 * MARGIN) / Math.max(right - left, 1e-6),
    (HEIGHT - 2 * MARGIN) / Math.max(high - low, 1e-6),
  );
  return { scale, u: (left + right) / 2, v: (low + high) / 2 };
}

function pathOf(loop: Loop, x: Along, y: Along, scale: number): string {
  const [first] = loop;
  if (first === undefined) return '';
  if (first.kind === 'circle') {
    const { center, radiusMm } = first;
    const r = radiusMm * scale;
    const [left, right, at] = [x(center[0]) - r, x(center[0]) + r, y(center[1])];
    return `M ${String(left)} ${String(at)} A ${String(r)} ${String(r)} 0 1 0 ${String(right)} ${String(at)} A ${String(r)} ${String(r)} 0 1 0 ${String(left)} ${String(at)} Z`;
  }
  const pieces = loop.map((element) => {
    if (element.kind === 'circle') return '';
    const end = `${String(x(element.to[0]))} ${String(y(element.to[1]))}`;
    const arc = element.kind === 'arc' ? arcThrough(element.from, element.through, element.to) : null;
    if (arc === null) return `L ${end}`;
    const r = String(arc.radiusMm * scale);
    return `A ${r} ${r} 0 ${Math.abs(arc.sweepRad) > Math.PI ? '1' : '0'} ${arc.sweepRad > 0 ? '0' : '1'} ${end}`;
  });
  return `M ${String(x(first.from[0]))} ${String(y(first.from[1]))} ${pieces.join(' ')} Z`;
}

function Label({ element, x, y, size }: { element: Element; x: Along; y: Along; size: (mm: number) => string }) {
  const style = 'fill-soft text-[10px]';
  if (element.kind === 'circle')
    return (
      <text x={x(element.center[0])} y={y(element.center[1])} textAnchor="middle" dy="0.35em" className={style}>
        {`⌀${size(2 * element.radiusMm)}`}
      </text>
    );
  if (element.kind === 'arc') {
    const arc = arcThrough(element.from, element.through, element.to);
    return arc === null ? null : (
      <text x={x(element.through[0])} y={y(element.through[1])} dx={4} dy={-4} className={style}>
        {`R${size(arc.radiusMm)}`}
      </text>
    );
  }
  const [du, dv] = [element.to[0] - element.from[0], element.to[1] - element.from[1]];
  const length = Math.hypot(du, dv);
  // Outside of a loop that runs counterclockwise lies to the right of the way.
  const away = [dv / length, -du / length] as const;
  return (
    <text
      x={x((element.from[0] + element.to[0]) / 2) + away[0] * 14}
      y={y((element.from[1] + element.to[1]) / 2) - away[1] * 12}
      textAnchor="middle"
      dy="0.35em"
      className={style}
    >
      {size(length)}
    </text>
  );
}
