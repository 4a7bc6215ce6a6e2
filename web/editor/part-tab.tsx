import { Plus } from 'lucide-react';
import { useMemo, useState } from 'react';

import { massOf } from '#core/material';
import type { Exercise } from '#core/exercise';
import type { Outline } from '#core/outline';
import { formatFixed, LENGTH_UNITS, propertyUnits, unitFactor } from '#core/quantity';
import { type FieldPath, getIn, operationOf, type Recipe, setIn, type Step } from '#core/recipe';
import { Button, Panel, TextField } from '#web/ui';
import { ModelView } from '#web/viewer';
import type { WorkshopClient } from '#web/workshop';

import { FormContextProvider, type FormContext } from './form/context.ts';
import { Fields } from './form/field.tsx';
import { OutlineForm } from './form/outline.tsx';
import { Letters } from './letters.tsx';
import { ModelPanel } from './model-panel.tsx';
import { Palette } from './palette.tsx';
import { PlaneView } from './plane-view.tsx';
import { useOutline, type Preview } from './preview.ts';
import { firstDifference } from './first-difference.ts';
import { StepList } from './step-list.tsx';
import { duplicated, moved, newStep, renamedIn, withoutStep, withStep } from './steps.ts';

interface PartTabProps {
  readonly id: number;
  readonly exercise: Exercise;
  readonly preview: Preview;
  readonly workshop: WorkshopClient;
  readonly until: string | null;
  readonly onUntil: (id: string | null) => void;
  readonly onChange: (change: (exercise: Exercise) => Exercise, topic?: string | null) => void;
}

const NO_FACES: ReadonlySet<number> = new Set();

interface Picking {
  readonly fieldId: string;
  readonly count: number;
  readonly names: readonly string[];
  readonly onPicked: (names: readonly string[]) => void;
}

/** The part: its letters and steps on the left, what they build on the right. */
export function PartTab({ id, exercise, preview, workshop, until, onUntil, onChange }: PartTabProps) {
  const { recipe, decimals } = exercise;
  const [chosen, setChosen] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  const [picking, setPicking] = useState<Picking | null>(null);
  const [shown, setShown] = useState<string | null>(null);
  const [marked, setMarked] = useState<ReadonlySet<number>>(NO_FACES);
  const step = recipe.steps.find(({ id }) => id === chosen) ?? null;
  const { part } = preview;
  const surfaces = useMemo(() => [...new Set(part?.namesOfFace.flat() ?? [])].sort(), [part]);

  const changeRecipe = (change: (recipe: Recipe) => Recipe, topic: string | null = null) => {
    onChange((before) => ({ ...before, recipe: change(before.recipe) }), topic);
  };
  const putStep = (id: string, next: Step) => {
    // Typing on in one field is one step of undo.
    const place = firstDifference(
      recipe.steps.find((other) => other.id === id),
      next,
    );
    changeRecipe(
      (before) => ({ ...before, steps: before.steps.map((other) => (other.id === id ? next : other)) }),
      `step ${id} ${place?.join('.') ?? ''}`,
    );
  };

  const context: FormContext = {
    surfaces,
    stepIds: recipe.steps.filter(({ id }) => id !== chosen).map(({ id }) => id),
    planeIds: recipe.steps.filter((step) => operationOf(step.op).effect(step) === 'plane').map(({ id }) => id),
    axisIds: recipe.steps.filter((step) => operationOf(step.op).effect(step) === 'axis').map(({ id }) => id),
    picking: picking?.fieldId ?? null,
    pick: (fieldId, count, onPicked) => {
      setPicking(picking?.fieldId === fieldId ? null : { fieldId, count, names: [], onPicked });
    },
    shownOutline: shown,
    showOutline: setShown,
    OutlineForm,
  };

  const outlinePath = step === null ? null : pathOfOutline(step, shown);
  const outline = step === null || outlinePath === null ? null : (getIn(step, outlinePath) as Outline | undefined);
  const outlinePreview = useOutline(workshop, recipe, outline ?? null);

  const stepFaces = useMemo(
    () =>
      new Set(
        (part?.namesOfFace ?? []).flatMap((names, face) =>
          chosen !== null && names.some((name) => name.startsWith(`${chosen}.`)) ? [face] : [],
        ),
      ),
    [part, chosen],
  );
  const pickedFaces = useMemo(
    () =>
      new Set(
        (part?.namesOfFace ?? []).flatMap((names, face) =>
          picking?.names.some((name) => names.includes(name)) ? [face] : [],
        ),
      ),
    [part, picking],
  );

  const onPick = (faceId: number | null) => {
    const name = faceId === null ? undefined : part?.namesOfFace[faceId]?.[0];
    if (picking === null) {
      const owner = name?.split('.')[0];
      if (owner !== undefined && recipe.steps.some(({ id }) => id === owner)) setChosen(owner);
      return;
    }
    if (name === undefined) return;
    const names = [...picking.names, name];
    if (names.length < picking.count) setPicking({ ...picking, names });
    else {
      picking.onPicked(names);
      setPicking(null);
    }
  };

  return (
    <FormContextProvider value={context}>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,6fr)_minmax(0,6fr)]">
        <div className="flex flex-col gap-4">
          {(exercise.model === undefined || recipe.parameters.length > 0) && (
            <Panel title="Letters">
              <Letters
                parameters={recipe.parameters}
                onChange={(parameters, topic) => {
                  changeRecipe((before) => ({ ...before, parameters: [...parameters] }), topic);
                }}
              />
            </Panel>
          )}
          {(exercise.model !== undefined || recipe.steps.length === 0) && (
            <ModelPanel id={id} exercise={exercise} preview={preview} onChange={onChange} onMark={setMarked} />
          )}
          {exercise.model === undefined && (
            <Panel
              title="Build steps"
              aside={
                <Button
                  onClick={() => {
                    setAdding(true);
                  }}
                >
                  <Plus size={14} aria-hidden /> Add a step
                </Button>
              }
            >
              {recipe.steps.length === 0 && (
                <p className="px-3 py-4 text-soft">The part is empty. Add a step that gives it its first material.</p>
              )}
              {preview.problem !== null && (
                <p role="alert" className="border-l-4 border-wrong bg-wrong-soft px-3 py-2">
                  {preview.problem.message}
                </p>
              )}
              <StepList
                steps={recipe.steps}
                chosen={chosen}
                until={until}
                unfinished={preview.unfinished}
                onChoose={(id) => {
                  setChosen(id);
                  setShown(null);
                  setPicking(null);
                  if (until !== null) onUntil(id);
                }}
                onMove={(id, to) => {
                  changeRecipe((before) => moved(before, id, to));
                }}
                onToggle={(id) => {
                  changeRecipe((before) => ({
                    ...before,
                    steps: before.steps.map((other) =>
                      other.id === id ? setIn(other, ['off'], other.off === true ? undefined : true) : other,
                    ),
                  }));
                }}
                onDuplicate={(id) => {
                  const made = duplicated(recipe, id);
                  if (made === null) return;
                  changeRecipe(() => made.recipe);
                  setChosen(made.copy.id);
                }}
                onRemove={(id) => {
                  changeRecipe((before) => withoutStep(before, id));
                  if (until === id) onUntil(null);
                }}
                onUntil={onUntil}
                form={
                  step && (
                    <div className="flex flex-wrap items-start gap-x-3 gap-y-1.5" data-testid="step-form">
                      <StepNames
                        key={step.id}
                        step={step}
                        taken={recipe.steps.map(({ id }) => id)}
                        onLabel={(label) => {
                          putStep(step.id, setIn(step, ['label'], label === '' ? undefined : label));
                        }}
                        onRename={(id) => {
                          onChange((before) => renamedIn(before, step.id, id));
                          setChosen(id);
                        }}
                      />
                      <Fields
                        fields={operationOf(step.op).form}
                        value={step}
                        where="step"
                        onChange={(next) => {
                          putStep(step.id, next);
                        }}
                      />
                    </div>
                  )
                }
              />
            </Panel>
          )}
        </div>
        <div className="flex flex-col gap-4 lg:sticky lg:top-4">
          <section className="panel">
            <div className="h-[38vh] min-h-72" data-testid="preview" data-building={preview.building}>
              {part === null ? (
                <p className="px-3 py-6 text-center text-soft">
                  {preview.building && recipe.steps.length > 0 ? 'Building the part ...' : 'Nothing is built yet.'}
                </p>
              ) : (
                <ModelView
                  model={part.model}
                  label={`Preview of ${exercise.title}`}
                  keepView
                  pickedFaces={picking !== null ? pickedFaces : exercise.model === undefined ? stepFaces : marked}
                  onPick={onPick}
                />
              )}
            </div>
            {picking !== null && (
              <p role="status" className="border-t border-rule bg-accent-soft px-3 py-1.5 text-sm">
                Pick {picking.count - picking.names.length === 1 ? 'a surface' : 'two surfaces'} in the part.{' '}
                <button
                  type="button"
                  className="cursor-pointer underline"
                  onClick={() => {
                    setPicking(null);
                  }}
                >
                  Stop picking
                </button>
              </p>
            )}
            <Figures exercise={exercise} preview={preview} />
          </section>
          {outline !== undefined && outline !== null && step !== null && outlinePath !== null && (
            <Panel title="Outline on its plane">
              <PlaneView
                preview={outlinePreview}
                outline={outline}
                unit={recipe.unit}
                decimals={decimals}
                onChange={(next) => {
                  putStep(step.id, setIn(step, outlinePath, next));
                }}
              />
            </Panel>
          )}
        </div>
      </div>
      <Palette
        open={adding}
        onClose={() => {
          setAdding(false);
        }}
        onChoose={(operation) => {
          const made = newStep(operation, recipe, surfaces);
          changeRecipe((before) => withStep(before, made, chosen));
          setChosen(made.id);
          setShown(null);
          setAdding(false);
        }}
      />
    </FormContextProvider>
  );
}

/** Where the outline is that the plane view shows: the one asked for, or the first of the step. */
function pathOfOutline(step: Step, shown: string | null): FieldPath | null {
  if (shown?.startsWith('step.') === true) {
    const path = shown
      .split('.')
      .slice(1)
      .map((key) => (/^\d+$/.test(key) ? Number(key) : key));
    if (getIn(step, path) !== undefined) return path;
  }
  if ('outlines' in step) return ['outlines', 0];
  return step.op === 'loft' ? ['outline'] : null;
}

function StepNames({
  step,
  taken,
  onLabel,
  onRename,
}: {
  step: Step;
  taken: readonly string[];
  onLabel: (label: string) => void;
  onRename: (id: string) => void;
}) {
  const [id, setId] = useState(step.id);
  const sound = /^[a-z][a-z0-9-]{0,39}$/.test(id) && (id === step.id || !taken.includes(id));
  return (
    <div className="grid w-full grid-cols-2 gap-3">
      <TextField
        label="In words"
        value={step.label ?? ''}
        placeholder={step.id}
        onChange={(event) => {
          onLabel(event.target.value);
        }}
      />
      <TextField
        label="Name for its surfaces"
        value={id}
        error={sound ? undefined : 'Small letters, digits and dashes, and not taken'}
        onChange={(event) => {
          setId(event.target.value);
        }}
        onBlur={() => {
          if (sound && id !== step.id) onRename(id);
          else if (!sound) setId(step.id);
        }}
      />
    </div>
  );
}

/** Volume, mass, center, size, and how long the kernel took. */
function Figures({ exercise, preview: { part, durationMs, building } }: { exercise: Exercise; preview: Preview }) {
  const { recipe, decimals, material } = exercise;
  const units = propertyUnits(recipe.unit);
  const length = (mm: number) => formatFixed(mm / LENGTH_UNITS[recipe.unit], decimals);
  const value = (amount: number, kind: 'volume' | 'mass' | 'area') => {
    const number = amount / unitFactor(units[kind], kind);
    return `${formatFixed(number, number > 1000 ? 1 : number > 10 ? 2 : 4)} ${units[kind]}`;
  };
  const figures: readonly (readonly [string, string])[] =
    part === null
      ? []
      : [
          ['Volume', value(part.properties.volumeMm3, 'volume')],
          ['Mass', value(massOf(part.properties.volumeMm3, material.densityGPerCm3), 'mass')],
          ['Center of mass', part.properties.centroidMm.map(length).join(' / ')],
          ['Size', `${part.sizeMm.map(length).join(' x ')} ${recipe.unit}`],
          ['Built in', building ? '...' : durationMs === null ? '' : `${String(Math.round(durationMs))} ms`],
        ];
  return (
    <dl className="grid grid-cols-2 border-t border-ink/70 sm:grid-cols-5" data-testid="figures">
      {figures.map(([label, text]) => (
        <div key={label} className="border-r border-rule px-2 pt-0.5 pb-1 last:border-r-0">
          <dt className="caption">{label}</dt>
          <dd className="text-sm">{text}</dd>
        </div>
      ))}
    </dl>
  );
}
