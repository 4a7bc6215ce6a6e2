import { useCallback, useMemo, useRef, useState } from 'react';

import { DEFAULT_SHEET, type Exercise } from '#core/exercise';
import { LENGTH_UNITS } from '#core/quantity';
import { renderSvg } from '#core/sheet';
import { SheetStage } from '#web/sheet';
import { Button, Alert } from '#web/ui';
import { ModelView } from '#web/viewer';
import { useAsked, type WorkshopClient } from '#web/workshop';

import { ChosenDimension } from './chosen-dimension.tsx';
import { DrawingPanel } from './drawing-panel.tsx';
import { PagePanel } from './page-panel.tsx';
import { OpenSizes } from './open-sizes.tsx';
import type { Preview } from './preview.ts';
import { useDragging } from './dragging.ts';
import type { PutSheet } from './sheet-arrange.ts';
import { ViewsPanel } from './views-panel.tsx';

interface SheetTabProps {
  readonly id: number;
  readonly exercise: Exercise;
  readonly preview: Preview;
  readonly workshop: WorkshopClient;
  readonly onChange: (change: (exercise: Exercise) => Exercise, topic?: string | null) => void;
}

const NO_FACES: ReadonlySet<number> = new Set();

/** Does the sheet say enough, and is it a good drawing? Dimensions and views are moved by dragging. */
export function SheetTab({ id: exerciseId, exercise, preview, workshop, onChange }: SheetTabProps) {
  const [wantedPage, setPage] = useState(1);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const drawing = useRef<HTMLDivElement>(null);
  const settings = exercise.sheet ?? DEFAULT_SHEET;
  const isDrawn = settings.drawing === undefined;
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

  const { begin, finish } = useDragging({ drawing, sheet, page, onPut: put });

  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,8fr)_minmax(0,4fr)]">
      <div className="flex flex-col gap-2">
        {problem !== null && <Alert>{problem}</Alert>}
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
        {check !== undefined && <ChosenDimension check={check} placed={placed} settings={settings} onPut={put} />}
      </div>
      <div className="flex flex-col gap-4">
        {isDrawn && (
          <OpenSizes id={exerciseId} exercise={exercise} answer={answer} onChange={onChange} onChoose={setChosen} />
        )}
        {chosen.length > 0 && preview.part !== null && (
          <section className="h-80 panel">
            <ModelView model={preview.part.model} label={`Part: ${exercise.title}`} keepView pickedFaces={faces} />
          </section>
        )}
        {isDrawn && (
          <PagePanel
            exercise={exercise}
            settings={settings}
            scale={sheet?.scale ?? null}
            onChange={onChange}
            onPut={put}
          />
        )}
        {isDrawn && (
          <ViewsPanel
            settings={settings}
            middle={middle}
            onPut={put}
            onSuggest={async () => {
              const views = await workshop.ask<'views'>({ kind: 'views', exercise });
              return views.ok ? views.value : null;
            }}
          />
        )}
        <DrawingPanel id={exerciseId} drawing={settings.drawing} onPut={put} />
      </div>
    </div>
  );
}
