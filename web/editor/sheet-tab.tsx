import { useEffect, useMemo, useRef, useState } from 'react';

import {
  DEFAULT_SHEET,
  DIRECTION_NAMES,
  PAPERS,
  type Exercise,
  type Paper,
  type SheetSettings,
  type SheetView,
} from '#core/exercise';
import { LENGTH_UNITS } from '#core/quantity';
import { renderSvg, scaleText } from '#core/sheet';
import { SheetStage } from '#web/sheet';
import { Button, Panel, plural, SelectField } from '#web/ui';
import { ModelView } from '#web/viewer';
import { SUPERSEDED, type SheetAnswer, type WorkshopClient } from '#web/workshop';

import type { Preview } from './preview.ts';
import { draggedOffset, reset, withMoved, withOffset, withView } from './sheet-arrange.ts';

interface SheetTabProps {
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
export function SheetTab({ exercise, preview, workshop, onChange }: SheetTabProps) {
  const [answer, setAnswer] = useState<SheetAnswer | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [page, setPage] = useState(1);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const drawing = useRef<HTMLDivElement>(null);
  const drag = useRef<Drag | null>(null);
  const settings = exercise.sheet ?? DEFAULT_SHEET;
  const put = (change: (sheet: SheetSettings) => SheetSettings, topic: string): void => {
    onChange((before) => ({ ...before, sheet: change(before.sheet ?? DEFAULT_SHEET) }), `sheet ${topic}`);
  };

  useEffect(() => {
    let current = true;
    void workshop.ask<'sheet'>({ kind: 'sheet', exercise }).then((result) => {
      if (!current || (!result.ok && result.problem.code === SUPERSEDED)) return;
      if (result.ok) setAnswer(result.value);
      setProblem(result.ok ? null : result.problem.message);
    });
    return () => {
      current = false;
    };
  }, [workshop, exercise]);

  const sheet = answer?.sheet ?? null;
  const pages = sheet?.pages.length ?? 1;
  const svg = useMemo(() => (sheet === null ? '' : renderSvg(sheet, Math.min(page, pages))), [sheet, page, pages]);
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
        <Completeness answer={answer} onChoose={setChosen} />
        {chosen.length > 0 && preview.part !== null && (
          <section className="h-80 panel">
            <ModelView model={preview.part.model} label={`Part: ${exercise.title}`} keepView pickedFaces={faces} />
          </section>
        )}
        <PagePanel
          exercise={exercise}
          settings={settings}
          scale={sheet?.scale ?? null}
          onChange={onChange}
          onPut={put}
        />
        <ViewsPanel exercise={exercise} settings={settings} middle={middle} onPut={put} />
      </div>
    </div>
  );
}

function nameOf(view: SheetView): string {
  switch (view.kind) {
    case 'plain':
      return view.direction;
    case 'isometric':
      return 'pictorial';
    case 'section':
      return `section ${view.letter}-${view.letter}`;
    case 'detail':
      return `detail ${view.letter}`;
  }
}

const KINDS = {
  missing: 'not said',
  repeated: 'said twice',
  contradiction: 'contradicts',
  derived: 'follows',
} as const;

/** What the sheet fails to say, and what it says twice. */
function Completeness({
  answer,
  onChoose,
}: {
  answer: SheetAnswer | null;
  onChoose: (checkIds: readonly string[]) => void;
}) {
  if (answer === null) return null;
  const { findings } = answer;
  const missing = findings.filter(({ kind }) => kind === 'missing').length;
  const other = findings.length - missing;
  return (
    <Panel
      title={
        findings.length === 0
          ? 'The sheet says every size, once'
          : [
              missing > 0 ? `${plural(missing, 'size')} not said` : '',
              other > 0 ? `${plural(other, 'size')} said twice or wrong` : '',
            ]
              .filter((part) => part !== '')
              .join(', ')
      }
    >
      <ul className="divide-y divide-rule text-sm" data-testid="completeness">
        {findings.map((finding) => (
          <li key={finding.message}>
            <button
              type="button"
              className="grid w-full cursor-pointer grid-cols-[5.5rem_minmax(0,1fr)] gap-2 px-3 py-1.5 text-left hover:bg-accent-soft"
              onClick={() => {
                onChoose(finding.checkIds);
              }}
            >
              <span className={finding.kind === 'missing' ? 'font-medium text-wrong' : 'font-medium text-near'}>
                {KINDS[finding.kind]}
              </span>
              <span>{finding.message}</span>
            </button>
          </li>
        ))}
      </ul>
    </Panel>
  );
}

type Put = (change: (sheet: SheetSettings) => SheetSettings, topic: string) => void;

function PagePanel({
  exercise,
  settings,
  scale,
  onChange,
  onPut,
}: {
  exercise: Exercise;
  settings: SheetSettings;
  scale: number | null;
  onChange: SheetTabProps['onChange'];
  onPut: Put;
}) {
  const scales = [10, 5, 2, 1, 0.5, 0.2, 0.1, 0.05, 0.02, 0.01];
  return (
    <Panel
      title="Page"
      aside={
        <Button
          disabled={settings.placed === undefined && settings.moved === undefined}
          onClick={() => onPut((before) => reset(before), 'reset')}
        >
          Arrange anew
        </Button>
      }
    >
      <div className="grid grid-cols-2 gap-x-3 px-3 py-2">
        <SelectField
          label="Paper"
          value={settings.paper}
          onChange={(event) => {
            const paper = event.target.value as Paper;
            onPut((before) => ({ ...before, paper }), 'paper');
          }}
        >
          {PAPERS.map((paper) => (
            <option key={paper}>{paper}</option>
          ))}
        </SelectField>
        <SelectField
          label="Scale"
          value={settings.scale === undefined ? '' : String(settings.scale)}
          onChange={(event) => {
            const chosen = event.target.value === '' ? undefined : Number(event.target.value);
            onPut((before) => ({ ...before, scale: chosen }), 'scale');
          }}
        >
          <option value="">{scale === null ? 'chosen' : `chosen: ${scaleText(scale)}`}</option>
          {scales.map((one) => (
            <option key={one} value={one}>
              {scaleText(one)}
            </option>
          ))}
        </SelectField>
        <SelectField
          label="Projection"
          value={exercise.projection}
          onChange={(event) => {
            const projection = event.target.value as Exercise['projection'];
            onChange((before) => ({ ...before, projection }), 'projection');
          }}
        >
          <option value="third-angle">third angle</option>
          <option value="first-angle">first angle</option>
        </SelectField>
        <SelectField
          label="Letters"
          value={settings.letters ?? 'table'}
          onChange={(event) => {
            const letters = event.target.value as 'table' | 'values';
            onPut((before) => ({ ...before, letters }), 'letters');
          }}
        >
          <option value="table">with a table</option>
          <option value="values">values in their place</option>
        </SelectField>
        {exercise.recipe.unit === 'in' && (
          <SelectField
            label="Inches"
            value={settings.format ?? 'decimal'}
            onChange={(event) => {
              const format = event.target.value as 'decimal' | 'fraction';
              onPut((before) => ({ ...before, format }), 'format');
            }}
          >
            <option value="decimal">decimal</option>
            <option value="fraction">fractions</option>
          </SelectField>
        )}
      </div>
    </Panel>
  );
}

const FRESH = [...DIRECTION_NAMES, 'pictorial', 'section', 'detail'] as const;
type Fresh = (typeof FRESH)[number];

function freshView(kind: Fresh, letter: string, views: readonly SheetView[], middle = '0'): SheetView {
  const small = letter.toLowerCase();
  switch (kind) {
    case 'pictorial':
      return { kind: 'isometric', id: 'isometric' };
    case 'section':
      return { kind: 'section', id: `section-${small}`, direction: 'right', letter, at: middle };
    case 'detail': {
      const of = views.find((view) => view.kind === 'plain' || view.kind === 'section')?.id ?? 'front';
      return { kind: 'detail', id: `detail-${small}`, of, letter, center: ['0', '0'], radius: '10', factor: 2 };
    }
    default:
      return { kind: 'plain', id: kind, direction: kind };
  }
}

/** The views of the sheet: which there are, where sections cut and what details show. */
function ViewsPanel({
  exercise,
  settings,
  middle,
  onPut,
}: {
  exercise: Exercise;
  settings: SheetSettings;
  /** Where a section through the middle of the part cuts. */
  middle: string;
  onPut: Put;
}) {
  const { views } = settings;
  const used = views.flatMap((view) => ('letter' in view ? view.letter : []));
  const letter = ['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H'].find((one) => !used.includes(one)) ?? 'Z';
  const change = (place: number, changes: object, topic: string): void => {
    onPut(
      (before) => ({
        ...before,
        views: before.views.map((view, i) => (i === place ? Object.assign({}, view, changes) : view)),
      }),
      `view ${String(place)} ${topic}`,
    );
  };
  const field = (label: string, value: string, onValue: (text: string) => void) => (
    <label className="flex items-center gap-1.5">
      {label}
      <input
        className="h-7 w-20 border border-ink/50 bg-paper px-1"
        value={value}
        onChange={(event) => {
          if (event.target.value.trim() !== '') onValue(event.target.value);
        }}
      />
    </label>
  );
  return (
    <Panel title="Views">
      <ul className="divide-y divide-rule text-sm">
        {views.map((view, place) => (
          <li key={view.id} className="flex flex-wrap items-center gap-x-3 gap-y-1 px-3 py-1.5">
            <b className="w-24">{nameOf(view)}</b>
            {(view.kind === 'plain' || view.kind === 'section') && (
              <label className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={view.kind === 'plain' ? view.hidden !== false : view.hidden === true}
                  onChange={(event) => {
                    change(place, { hidden: event.target.checked }, 'hidden');
                  }}
                />
                hidden lines
              </label>
            )}
            {view.kind === 'section' && (
              <>
                <label className="flex items-center gap-1.5">
                  seen from the
                  <select
                    className="h-7 border border-ink/50 bg-paper px-1"
                    value={view.direction}
                    onChange={(event) => {
                      change(place, { direction: event.target.value }, 'direction');
                    }}
                  >
                    {DIRECTION_NAMES.map((name) => (
                      <option key={name}>{name}</option>
                    ))}
                  </select>
                </label>
                {field(`plane at, ${exercise.recipe.unit}`, view.at, (at) => change(place, { at }, 'at'))}
                <label className="flex items-center gap-1.5">
                  <input
                    type="checkbox"
                    checked={view.half === true}
                    onChange={(event) => {
                      change(place, { half: event.target.checked ? true : undefined }, 'half');
                    }}
                  />
                  half only
                </label>
                {view.steps?.map((step, i) => (
                  <span key={i} className="flex gap-2">
                    {field('beyond', step.beyond, (beyond) =>
                      change(
                        place,
                        { steps: view.steps?.map((one, j) => (j === i ? { ...one, beyond } : one)) },
                        'step',
                      ),
                    )}
                    {field('at', step.at, (at) =>
                      change(place, { steps: view.steps?.map((one, j) => (j === i ? { ...one, at } : one)) }, 'step'),
                    )}
                  </span>
                ))}
                <button
                  type="button"
                  className="cursor-pointer underline"
                  onClick={() => {
                    change(place, { steps: [...(view.steps ?? []), { beyond: '0', at: view.at }] }, 'steps');
                  }}
                >
                  Add an offset
                </button>
              </>
            )}
            {view.kind === 'detail' && (
              <>
                <label className="flex items-center gap-1.5">
                  of
                  <select
                    className="h-7 border border-ink/50 bg-paper px-1"
                    value={view.of}
                    onChange={(event) => {
                      change(place, { of: event.target.value }, 'of');
                    }}
                  >
                    {views
                      .filter(({ kind }) => kind === 'plain' || kind === 'section')
                      .map((one) => (
                        <option key={one.id} value={one.id}>
                          {nameOf(one)}
                        </option>
                      ))}
                  </select>
                </label>
                {field('across', view.center[0], (x) => change(place, { center: [x, view.center[1]] }, 'x'))}
                {field('up', view.center[1], (y) => change(place, { center: [view.center[0], y] }, 'y'))}
                {field('radius', view.radius, (radius) => change(place, { radius }, 'radius'))}
                {field('times', String(view.factor), (text) => {
                  const factor = Number(text);
                  if (factor >= 1.5 && factor <= 20) change(place, { factor }, 'factor');
                })}
              </>
            )}
            <button
              type="button"
              className="ml-auto cursor-pointer underline"
              aria-label={`Remove ${nameOf(view)}`}
              onClick={() => {
                onPut((before) => ({ ...before, views: before.views.filter((_, i) => i !== place) }), 'views');
              }}
            >
              Remove
            </button>
          </li>
        ))}
      </ul>
      <div className="px-3 py-2">
        <SelectField
          label="Add a view"
          value=""
          onChange={(event) => {
            const kind = FRESH.find((name) => name === event.target.value);
            if (kind !== undefined)
              onPut(
                (before) => ({ ...before, views: [...before.views, freshView(kind, letter, before.views, middle)] }),
                'views',
              );
          }}
        >
          <option value="">choose a view</option>
          {FRESH.filter((name) => !views.some(({ id }) => id === freshView(name, letter, views).id)).map((name) => (
            <option key={name} value={name}>
              {name === 'section' || name === 'detail' ? name : `${name} view`}
            </option>
          ))}
        </SelectField>
      </div>
    </Panel>
  );
}
