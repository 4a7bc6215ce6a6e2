import { useCallback, useMemo, useRef, useState } from 'react';

import { DEFAULT_SHEET, type Exercise } from '#core/exercise';
import { LENGTH_UNITS } from '#core/quantity';
import { renderSvg } from '#core/sheet';
import { SheetStage } from '#web/sheet';
import { Button } from '#web/ui';
import { ModelView } from '#web/viewer';
import { useAsked, type WorkshopClient } from '#web/workshop';

import { Completeness } from './completeness.tsx';
import { DrawingPanel } from './drawing-panel.tsx';
import { PagePanel } from './page-panel.tsx';
import type { Preview } from './preview.ts';
import { draggedOffset, nameOf, reset, withMoved, withOffset, withView, type PutSheet } from './sheet-arrange.ts';
import { ViewsPanel } from './views-panel.tsx';

interface SheetTabProps {
  readonly id: number;
  readonly exercise: Exercise;
  readonly preview: Preview;
  readonly workshop: WorkshopClient;
  readonly onChange: (change: (exercise: Exercise) => Exercise, topic?: string | null) => void;
}

interface Drag {
  readonly kind: 'dimension' | 'view';
  readonly id: string;
  readonly from: readonly [number, number];
  readonly mmPerPixel: number;
}

const NO_FACES: ReadonlySet<number> = new Set();
/** Less than this is a click. */
const DRAG_PIXELS = 4;

/** Does the sheet say enough, and is it a good drawing? Dimensions and views are moved by dragging. */
export function SheetTab({ id: exerciseId, exercise, preview, workshop, onChange }: SheetTabProps) {
  const [wantedPage, setPage] = useState(1);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const drawing = useRef<HTMLDivElement>(null);
  const drag = useRef<Drag | null>(null);
  const settings = exercise.sheet ?? DEFAULT_SHEET;
  const put: PutSheet = (change, topic) => {
    onChange((before) => ({ ...before, sheet: change(before.sheet ?? DEFAULT_SHEET) }), `sheet ${topic}`);
  };

  const asked = useAsked<'sheet', Exercise>(workshop, exercise, () => ({ kind: 'sheet', exercise }));
  const answer = asked.value;
  const problem = asked.problem?.message ?? null;

  const fileAt = useCallback(
    (sha256: string): string => `/api/exercises/${String(exerciseId)}/files/${sha256}`,
    [exerciseId],
  );
  const sheet = answer?.sheet ?? null;
  const pages = sheet?.pages.length ?? 1;
  const page = Math.min(wantedPage, pages);
  const svg = useMemo(() => (sheet === null ? '' : renderSvg(sheet, page, {}, fileAt)), [sheet, page, fileAt]);
  const marked = useMemo(() => new Set(chosen), [chosen]);
  const faces = useMemo(
    () => (chosen.length === 0 ? NO_FACES : new Set(chosen.flatMap((id) => answer?.facesOf[id] ?? []))),
    [chosen, answer],
  );
  const { bounds } = preview.part?.model ?? {};
  const middle = String(
    Number((((bounds?.min[0] ?? 0) + (bounds?.max[0] ?? 0)) / 2 / LENGTH_UNITS[exercise.recipe.unit]).toFixed(3)),
  );
  const [only] = chosen.length === 1 ? chosen : [];
  const check = exercise.checks.find(({ id }) => id === only);
  const placed = sheet?.dimensions.find(({ id }) => id === only);

  const begin = (event: PointerEvent): void => {
    const target = event.target instanceof Element ? event.target : null;
    const width = drawing.current?.querySelector('svg')?.getBoundingClientRect().width ?? 0;
    if (target === null || width === 0 || sheet === null) return;
    const mmPerPixel = (sheet.pages[page - 1]?.widthMm ?? 1) / width;
    const checkId = target.closest('[data-check]')?.getAttribute('data-check');
    const viewId = target.closest('[data-view]')?.getAttribute('data-view') ?? viewAt(event, mmPerPixel);
    const id = checkId ?? viewId;
    if (id === null) return;
    drag.current = {
      kind: typeof checkId === 'string' ? 'dimension' : 'view',
      id,
      from: [event.clientX, event.clientY],
      mmPerPixel,
    };
  };
  const viewAt = (event: PointerEvent, mmPerPixel: number): string | null => {
    const box = drawing.current?.querySelector('svg')?.getBoundingClientRect();
    const height = sheet?.pages[page - 1]?.heightMm ?? 0;
    if (box === undefined) return null;
    const [x, y] = [(event.clientX - box.left) * mmPerPixel, height - (event.clientY - box.top) * mmPerPixel];
    return (
      sheet?.views.find(
        (view) => view.page === page && x > view.min[0] && x < view.max[0] && y > view.min[1] && y < view.max[1],
      )?.viewId ?? null
    );
  };
  const finish = (event: PointerEvent): void => {
    const { current } = drag;
    drag.current = null;
    if (current === null) return;
    const [dx, dy] = [event.clientX - current.from[0], event.clientY - current.from[1]];
    if (Math.hypot(dx, dy) < DRAG_PIXELS) return;
    const by = [dx * current.mmPerPixel, -dy * current.mmPerPixel] as const;
    if (current.kind === 'view') {
      put((before) => withMoved(before, current.id, by), `move ${current.id}`);
      return;
    }
    const dimension = sheet?.dimensions.find(({ id }) => id === current.id);
    if (dimension) put((before) => withOffset(before, current.id, draggedOffset(dimension, by)), `place ${current.id}`);
  };
  const nudge = (by: readonly [number, number]): void => {
    if (placed && only !== undefined)
      put((before) => withOffset(before, only, draggedOffset(placed, by)), `place ${only}`);
  };

  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,8fr)_minmax(0,4fr)]">
      <div className="flex flex-col gap-2">
        {problem !== null && (
          <p role="alert" className="border-l-4 border-wrong bg-wrong-soft px-3 py-2">
            {problem}
          </p>
        )}
        {sheet?.warnings.map((warning) => (
          <p key={warning} role="status" className="border-l-4 border-near bg-near-soft px-3 py-2 text-sm">
            {warning}
          </p>
        ))}
        <div className="aspect-[420/297]">
          {sheet === null ? (
            <p className="px-3 py-6 text-center text-soft">Drawing the sheet ...</p>
          ) : (
            <SheetStage
              svg={svg}
              marked={marked}
              drawing={drawing}
              onPick={(id) => {
                setChosen(id === null ? [] : [id]);
              }}
              onPointerDown={begin}
              onPointerUp={finish}
            >
              {pages > 1 && (
                <Button
                  onClick={() => {
                    setPage(page >= pages ? 1 : page + 1);
                  }}
                >
                  Page {page} of {pages}
                </Button>
              )}
            </SheetStage>
          )}
        </div>
        {check !== undefined && (
          <section className="flex flex-wrap items-center gap-2 px-3 py-2 text-sm panel" data-testid="chosen-dimension">
            <b>{check.label}</b>
            <label className="flex items-center gap-1.5">
              in the view
              <select
                className="h-7 border border-ink/50 bg-paper px-1"
                value={settings.placed?.[check.id]?.view ?? ''}
                onChange={(event) => {
                  const view = event.target.value === '' ? undefined : event.target.value;
                  put((before) => withView(before, check.id, view), `view of ${check.id}`);
                }}
              >
                <option value="">that shows it best</option>
                {settings.views
                  .filter(({ kind }) => kind !== 'isometric')
                  .map((view) => (
                    <option key={view.id} value={view.id}>
                      {nameOf(view)}
                    </option>
                  ))}
              </select>
            </label>
            {placed && (
              <span className="flex gap-1">
                {(
                  [
                    ['Left', [-2, 0]],
                    ['Right', [2, 0]],
                    ['Up', [0, 2]],
                    ['Down', [0, -2]],
                  ] as const
                ).map(([word, by]) => (
                  <Button key={word} onClick={() => nudge(by)}>
                    {word}
                  </Button>
                ))}
              </span>
            )}
            <Button onClick={() => put((before) => reset(before, check.id), `reset ${check.id}`)}>
              Let it find its place
            </Button>
          </section>
        )}
      </div>
      <div className="flex flex-col gap-4">
        {settings.drawing === undefined && <Completeness answer={answer} onChoose={setChosen} />}
        {chosen.length > 0 && preview.part !== null && (
          <section className="h-80 panel">
            <ModelView model={preview.part.model} label={`Part: ${exercise.title}`} keepView pickedFaces={faces} />
          </section>
        )}
        {settings.drawing === undefined && (
          <PagePanel
            exercise={exercise}
            settings={settings}
            scale={sheet?.scale ?? null}
            onChange={onChange}
            onPut={put}
          />
        )}
        {settings.drawing === undefined && <ViewsPanel settings={settings} middle={middle} onPut={put} />}
        <DrawingPanel id={exerciseId} drawing={settings.drawing} onPut={put} />
      </div>
    </div>
  );
}
