import { useMemo, useState, type ReactNode } from 'react';

import type { Exercise } from '#core/exercise';
import type { Outline } from '#core/outline';
import { type FieldPath, getIn, type Operation, operationOf, type Recipe, setIn, type Step } from '#core/recipe';
import { Panel } from '#web/ui';
import { ModelView } from '#web/viewer';
import type { WorkshopClient } from '#web/workshop';

import { Figures } from './figures.tsx';
import { firstDifference } from './first-difference.ts';
import { FormContextProvider, type FormContext } from './form/context.ts';
import { OutlineForm } from './form/outline.tsx';
import { Letters } from './letters.tsx';
import { ModelPanel } from './model-panel.tsx';
import { facesNamed, usePicking, type SurfacePicking } from './picking.ts';
import { PlaneView } from './plane-view.tsx';
import { useOutline, type Preview } from './preview.ts';
import { renamedIn } from './steps.ts';
import { StepsPanel } from './steps-panel.tsx';

interface PartTabProps {
  readonly id: number;
  readonly exercise: Exercise;
  readonly preview: Preview;
  readonly workshop: WorkshopClient;
  readonly until: string | null;
  readonly onUntil: (id: string | null) => void;
  /** Operations that are open, where a student builds: the part is never a file then. Everything where nothing is said. */
  readonly allowed?: readonly Operation[];
  /** Letters are those of a sheet, and are not changed here. */
  readonly fixedLetters?: boolean;
  /** The step that is open at first. */
  readonly begin?: string | null;
  /** What is looked at while building, such as the sheet. */
  readonly beside?: ReactNode;
  readonly onChange: (change: (exercise: Exercise) => Exercise, topic?: string | null) => void;
}

const NO_FACES: ReadonlySet<number> = new Set();

/** The part: its letters and steps on the left, what they build on the right. */
export function PartTab({
  fixedLetters = false,
  id,
  exercise,
  preview,
  workshop,
  until,
  onUntil,
  allowed,
  begin = null,
  beside,
  onChange,
}: PartTabProps) {
  const { recipe, model } = exercise;
  const [chosen, setChosen] = useState<string | null>(begin);
  const [shown, setShown] = useState<string | null>(null);
  const [marked, setMarked] = useState<ReadonlySet<number>>(NO_FACES);
  const picking = usePicking();
  const namesOfFace = preview.part?.namesOfFace;
  const surfaces = useMemo(() => [...new Set(namesOfFace?.flat() ?? [])].sort(), [namesOfFace]);
  const step = recipe.steps.find((one) => one.id === chosen) ?? null;
  const stepFaces = useMemo(
    () => facesNamed(namesOfFace, (name) => chosen !== null && name.startsWith(`${chosen}.`)),
    [namesOfFace, chosen],
  );

  const choose = (stepId: string | null) => {
    setChosen(stepId);
    setShown(null);
    picking.stop();
    if (until !== null) onUntil(stepId);
  };
  const changeRecipe = (change: (recipe: Recipe) => Recipe, topic: string | null = null) => {
    onChange((before) => ({ ...before, recipe: change(before.recipe) }), topic);
  };
  const putStep = (stepId: string, next: Step) => {
    // Typing on in one field is one step of undo.
    const place = firstDifference(
      recipe.steps.find((other) => other.id === stepId),
      next,
    );
    changeRecipe(
      (before) => ({ ...before, steps: before.steps.map((other) => (other.id === stepId ? next : other)) }),
      `step ${stepId} ${place?.join('.') ?? ''}`,
    );
  };
  const idsOf = (effect: 'plane' | 'axis') =>
    recipe.steps.filter((one) => operationOf(one.op).effect(one) === effect).map((one) => one.id);
  const context: FormContext = {
    surfaces,
    stepIds: recipe.steps.flatMap((one) => (one.id === chosen ? [] : [one.id])),
    planeIds: idsOf('plane'),
    axisIds: idsOf('axis'),
    picking: picking.fieldId,
    pick: picking.start,
    shownOutline: shown,
    showOutline: setShown,
    OutlineForm,
  };
  const onPick = (faceId: number | null) => {
    const name = faceId === null ? undefined : namesOfFace?.[faceId]?.[0];
    if (name === undefined) return;
    if (picking.fieldId !== null) {
      picking.add(name);
      return;
    }
    const owner = name.split('.')[0];
    if (owner !== undefined && recipe.steps.some((one) => one.id === owner)) setChosen(owner);
  };

  return (
    <FormContextProvider value={context}>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,6fr)_minmax(0,6fr)]">
        <div className="flex flex-col gap-4">
          {!fixedLetters && (model === undefined || recipe.parameters.length > 0) && (
            <Panel title="Letters">
              <Letters
                parameters={recipe.parameters}
                onChange={(parameters, topic) => {
                  changeRecipe((before) => ({ ...before, parameters: [...parameters] }), topic);
                }}
              />
            </Panel>
          )}
          {allowed === undefined && (model !== undefined || recipe.steps.length === 0) && (
            <ModelPanel id={id} exercise={exercise} preview={preview} onChange={onChange} onMark={setMarked} />
          )}
          {model === undefined && (
            <StepsPanel
              recipe={recipe}
              preview={preview}
              surfaces={surfaces}
              chosen={chosen}
              onChoose={choose}
              until={until}
              onUntil={onUntil}
              allowed={allowed}
              onChange={changeRecipe}
              onStep={putStep}
              onRename={(stepId, name) => {
                onChange((before) => renamedIn(before, stepId, name));
                setChosen(name);
              }}
            />
          )}
        </div>
        <div className="flex flex-col gap-4 lg:sticky lg:top-4">
          {beside}
          <BuiltPart
            exercise={exercise}
            preview={preview}
            picking={picking}
            marked={model === undefined ? stepFaces : marked}
            onPick={onPick}
          />
          {step !== null && (
            <ShownOutline
              exercise={exercise}
              workshop={workshop}
              step={step}
              path={pathOfOutline(step, shown)}
              onChange={(next) => {
                putStep(step.id, next);
              }}
            />
          )}
        </div>
      </div>
    </FormContextProvider>
  );
}

interface BuiltPartProps {
  readonly exercise: Exercise;
  readonly preview: Preview;
  readonly picking: SurfacePicking;
  /** Faces that are marked while nothing is picked. */
  readonly marked: ReadonlySet<number>;
  readonly onPick: (faceId: number | null) => void;
}

/** What the steps build, and what is being picked in it. */
function BuiltPart({ exercise, preview, picking, marked, onPick }: BuiltPartProps) {
  const { part, building } = preview;
  const pickedFaces = useMemo(
    () => facesNamed(part?.namesOfFace, (name) => picking.names.includes(name)),
    [part, picking.names],
  );
  return (
    <section className="panel">
      <div className="h-[38vh] min-h-72" data-testid="preview" data-building={building}>
        {part === null ? (
          <p className="px-3 py-6 text-center text-soft">
            {building && exercise.recipe.steps.length > 0 ? 'Building the part ...' : 'Nothing is built yet.'}
          </p>
        ) : (
          <ModelView
            model={part.model}
            label={`Preview of ${exercise.title}`}
            keepView
            pickedFaces={picking.fieldId !== null ? pickedFaces : marked}
            onPick={onPick}
          />
        )}
      </div>
      {picking.fieldId !== null && (
        <p role="status" className="border-t border-rule bg-accent-soft px-3 py-1.5 text-sm">
          Pick {picking.left === 1 ? 'a surface' : 'two surfaces'} in the part.{' '}
          <button type="button" className="cursor-pointer underline" onClick={picking.stop}>
            Stop picking
          </button>
        </p>
      )}
      <Figures exercise={exercise} preview={preview} />
    </section>
  );
}

interface ShownOutlineProps {
  readonly exercise: Exercise;
  readonly workshop: WorkshopClient;
  readonly step: Step;
  /** Where in the step the outline is, null for a step without one. */
  readonly path: FieldPath | null;
  readonly onChange: (step: Step) => void;
}

/** An outline of the chosen step, flat on its plane. */
function ShownOutline({ exercise: { recipe, decimals }, workshop, step, path, onChange }: ShownOutlineProps) {
  const outline = path === null ? null : ((getIn(step, path) as Outline | undefined) ?? null);
  const preview = useOutline(workshop, recipe, outline);
  if (outline === null || path === null) return null;
  return (
    <Panel title="Outline on its plane">
      <PlaneView
        preview={preview}
        outline={outline}
        unit={recipe.unit}
        decimals={decimals}
        onChange={(next) => {
          onChange(setIn(step, path, next));
        }}
      />
    </Panel>
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
