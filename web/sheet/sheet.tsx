import { ChevronLeft, ChevronRight, Crosshair } from 'lucide-react';
import { useMemo, useState } from 'react';

import { useSheetQuery } from '#web/api';
import { Failed, Loading } from '#web/ui';

import { SheetStage, StageButton } from './stage.tsx';

const NONE: ReadonlySet<string> = new Set();

interface SheetViewProps {
  /** Address of the sheet as SVG below the API, with a question mark where it has parameters. */
  readonly url: string;
  /** Dimensions that are marked, by the id of their check. */
  readonly marked?: string | readonly string[];
  readonly verdicts?: ReadonlyMap<string, 'right' | 'near' | 'wrong' | 'missing'>;
  /** Words that are written beside dimensions, by the id of their check. */
  readonly notes?: ReadonlyMap<string, string>;
  /** A dimension that is gone to, on its page; null for none. */
  readonly at?: { readonly checkId: string; readonly page: number } | null;
  /** The page that is turned to, whenever it changes. */
  readonly page?: number;
  /** Where the sheet can be had as PDF. */
  readonly pdf?: string;
  readonly onPick?: (checkId: string | null) => void;
  readonly pins?: readonly SheetPin[];
  /** Takes the place of `onPick`: a point of a page was chosen, in mm from its upper left corner. */
  readonly onPoint?: (page: number, at: readonly [number, number]) => void;
}

/** A numbered mark on a page of the sheet, in mm from its upper left corner. */
export interface SheetPin {
  readonly label: string;
  readonly page: number;
  readonly at: readonly [number, number];
  /** Around the place rather than on it, so that it stays in sight. */
  readonly ring?: boolean;
}

/** The drawing sheet with what helps to read it: pages, one dimension after the other, and the sheet as PDF. */
export function SheetView({
  url,
  marked = '',
  verdicts,
  notes,
  pdf,
  onPick,
  pins,
  onPoint,
  at = null,
  page: wanted = 1,
}: SheetViewProps) {
  const [page, setPage] = useState(at?.page ?? wanted);
  const [turned, setTurned] = useState(wanted);
  if (turned !== wanted) {
    setTurned(wanted);
    setPage(wanted);
  }
  const [projects, setProjects] = useState(false);
  const [shown, setShown] = useState(at?.checkId ?? null);
  const [gone, setGone] = useState(at);
  if (at?.checkId !== gone?.checkId) {
    setGone(at);
    if (at !== null) setPage(at.page);
    setShown(at?.checkId ?? null);
  }
  const address = page === 1 ? url : `${url}${url.includes('?') ? '&' : '?'}page=${String(page)}`;
  const { data, error, refetch } = useSheetQuery(address);
  const pages = Number(/data-pages="(\d+)"/.exec(data ?? '')?.[1] ?? 1);
  const ids = useMemo(
    () => [...new Set([...(data ?? '').matchAll(/<g [^>]*data-check="([^"]*)"/g)].flatMap(([, id]) => id ?? []))],
    [data],
  );
  const highlighted = useMemo(() => {
    const all = [...(typeof marked === 'string' ? [marked] : marked), shown ?? ''].filter((id) => id !== '');
    return all.length === 0 ? NONE : new Set(all);
  }, [marked, shown]);
  const annotated = useMemo(
    () => withMarks(data ?? '', notes, pins?.filter((pin) => pin.page === page) ?? []),
    [data, notes, pins, page],
  );
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the sheet" />;
  const step = (by: number): void => {
    const place = shown === null ? (by > 0 ? -1 : 0) : ids.indexOf(shown);
    setShown(ids[(place + by + ids.length) % ids.length] ?? null);
  };
  return (
    <SheetStage
      svg={annotated}
      marked={highlighted}
      focus={shown}
      projects={projects}
      {...(verdicts === undefined ? {} : { verdicts })}
      {...(onPick === undefined ? {} : { onPick })}
      {...(onPoint === undefined ? {} : { onPoint: (at) => onPoint(page, at) })}
    >
      {pages > 1 && (
        <>
          <StageButton label="Page before" disabled={page <= 1} onClick={() => setPage(page - 1)}>
            <ChevronLeft size={14} aria-hidden />
          </StageButton>
          <span className="flex h-7 items-center bg-paper px-1 text-sm text-ink">
            {page} of {pages}
          </span>
          <StageButton label="Next page" disabled={page >= pages} onClick={() => setPage(page + 1)}>
            <ChevronRight size={14} aria-hidden />
          </StageButton>
        </>
      )}
      {ids.length > 0 && (
        <>
          <StageButton label="Dimension before" onClick={() => step(-1)}>
            <ChevronLeft size={14} aria-hidden />
          </StageButton>
          <StageButton
            wide
            label="One at a time"
            onClick={() => {
              setShown(null);
            }}
          >
            {shown === null ? 'dimensions' : `${String(ids.indexOf(shown) + 1)} of ${String(ids.length)}`}
          </StageButton>
          <StageButton label="Next dimension" onClick={() => step(1)}>
            <ChevronRight size={14} aria-hidden />
          </StageButton>
        </>
      )}
      <StageButton
        label="Projection lines"
        pressed={projects}
        onClick={() => {
          setProjects(!projects);
        }}
      >
        <Crosshair size={14} aria-hidden />
      </StageButton>
      {pdf !== undefined && (
        <a
          href={`/api/${pdf}`}
          download
          className="flex h-7 items-center border border-ink/50 bg-paper px-2 text-sm text-ink hover:bg-accent-soft"
        >
          PDF
        </a>
      )}
    </SheetStage>
  );
}

const SVG = 'http://www.w3.org/2000/svg';

/** The sheet with a word after the text of each dimension, in red where it is not a tick, and with numbered marks. */
function withMarks(svg: string, notes: ReadonlyMap<string, string> | undefined, pins: readonly SheetPin[]): string {
  if ((notes === undefined && pins.length === 0) || svg === '') return svg;
  const picture = new DOMParser().parseFromString(svg, 'image/svg+xml');
  const done = new Set<string>();
  for (const text of [...picture.querySelectorAll('g[data-check][transform]')].reverse()) {
    const id = text.getAttribute('data-check') ?? '';
    const note = notes?.get(id);
    if (note === undefined || done.has(id)) continue;
    done.add(id);
    const mark = picture.createElementNS(SVG, 'text');
    mark.setAttribute('y', '-4.2');
    mark.setAttribute('font-size', '3.6');
    mark.setAttribute('font-weight', '600');
    mark.setAttribute('fill', note === '✓' ? '#1d6b3a' : '#a63a12');
    mark.textContent = note;
    text.append(mark);
  }
  for (const { label, at, ring } of pins) {
    const pin = picture.createElementNS(SVG, 'g');
    pin.setAttribute('transform', `translate(${String(at[0])} ${String(at[1])})`);
    pin.setAttribute('data-pin', label);
    const disc = picture.createElementNS(SVG, 'circle');
    disc.setAttribute('r', '3.6');
    if (ring === true) {
      disc.setAttribute('fill', 'none');
      disc.setAttribute('stroke', '#0b5d66');
      disc.setAttribute('stroke-width', '0.6');
    } else disc.setAttribute('fill', '#14201f');
    const number = picture.createElementNS(SVG, 'text');
    number.setAttribute('y', ring === true ? '-2.4' : '1.5');
    number.setAttribute('x', ring === true ? '5.4' : '0');
    number.setAttribute('text-anchor', 'middle');
    number.setAttribute('font-size', '4.4');
    number.setAttribute('font-weight', '600');
    number.setAttribute('fill', ring === true ? '#0b5d66' : '#ffffff');
    number.textContent = label;
    pin.append(disc, number);
    picture.documentElement.append(pin);
  }
  return new XMLSerializer().serializeToString(picture);
}
