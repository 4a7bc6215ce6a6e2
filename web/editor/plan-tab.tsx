import { Crosshair, WandSparkles } from 'lucide-react';
import { useMemo, useState } from 'react';
import { toast } from 'sonner';

import { offerOf, pickingOf, type Check, type CheckKind } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { CheckState } from '#core/plan';
import { formatFixed } from '#core/quantity';
import { Button, Panel, plural, Alert } from '#web/ui';
import { ModelView } from '#web/viewer';
import { SUPERSEDED, useAsked, type WorkshopClient } from '#web/workshop';

import { checkFromFaces, PICKABLE_KINDS, surfacesOf } from './new-check.ts';
import { PlanOfferBox } from './plan-offer.tsx';
import { PlanTable } from './plan-table.tsx';
import type { Preview } from './preview.ts';
import { TypedValues } from './typed-values.tsx';

interface PlanTabProps {
  readonly exercise: Exercise;
  readonly preview: Preview;
  readonly workshop: WorkshopClient;
  readonly onChange: (change: (exercise: Exercise) => Exercise, topic?: string | null) => void;
}

/** A new check whose surfaces are being picked in the part. */
interface Adding {
  readonly kind: CheckKind;
  readonly names: readonly string[];
}

/** The plan measured on the reference, anew with each change that decides a measurement. */
function usePlanStates(workshop: WorkshopClient, exercise: Exercise) {
  const { recipe, model, stages, checks, material, decimals, scoring } = exercise;
  // Only what decides a measurement; a new title does not measure anew.
  const basis = useMemo(
    () => ({ recipe, model, checks, stages, material, decimals, scoring }),
    [recipe, model, checks, stages, material, decimals, scoring],
  );
  const { value, problem } = useAsked<'plan', typeof basis>(workshop, basis, () => ({
    kind: 'plan',
    exercise: { ...exercise, ...basis },
  }));
  const states = useMemo(() => new Map(value?.map((state) => [state.checkId, state])), [value]);
  return { states, problem: problem?.message ?? null };
}

/** What the head of the table says: how many checks there are, or how many the reference itself does not pass. */
function planTitle(checks: readonly Check[], states: ReadonlyMap<string, CheckState>): string {
  if (checks.length === 0) return 'No checks yet';
  const active = checks.filter(({ off }) => off !== true);
  const wrong = active.filter(({ id }) => {
    const state = states.get(id);
    return state !== undefined && (state.kind === 'broken' || (state.kind === 'measured' && !state.passes));
  });
  if (wrong.length > 0) return `${plural(wrong.length, 'check')} that the reference itself does not pass`;
  const total = active.reduce((sum, { weight }) => sum + weight, 0);
  return `${plural(active.length, 'check')}, weights add up to ${formatFixed(total, 1).replace(/\.0$/, '')}`;
}

/** The check plan with the value of each check on the reference itself. */
export function PlanTab({ exercise, preview, workshop, onChange }: PlanTabProps) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [suggested, setSuggested] = useState<readonly Check[] | null>(null);
  const { states, problem } = usePlanStates(workshop, exercise);
  const suggest = () => {
    setBusy(true);
    void workshop.ask<'suggest'>({ kind: 'suggest', exercise }).then((result) => {
      setBusy(false);
      if (result.ok && exercise.checks.length > 0) setSuggested(result.value);
      else if (result.ok) onChange((before) => ({ ...before, checks: result.value }));
      else if (result.problem.code !== SUPERSEDED) toast.error(result.problem.message);
    });
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,7fr)_minmax(0,5fr)]">
      <Panel
        title={planTitle(exercise.checks, states)}
        aside={
          <Button onClick={suggest} disabled={busy || preview.part === null}>
            <WandSparkles size={14} aria-hidden /> {busy ? 'Measuring ...' : 'Suggest a plan'}
          </Button>
        }
      >
        {suggested !== null && (
          <PlanOfferBox
            offer={offerOf(exercise.checks, suggested)}
            onAdd={() => {
              onChange((before) => ({
                ...before,
                checks: [...before.checks, ...offerOf(before.checks, suggested).added],
              }));
              setSuggested(null);
            }}
            onReplace={() => {
              onChange((before) => ({ ...before, checks: suggested }));
              setSuggested(null);
            }}
            onKeep={() => {
              setSuggested(null);
            }}
          />
        )}
        {problem !== null && <Alert>{problem}</Alert>}
        {exercise.checks.length === 0 && (
          <p className="px-3 py-4 text-soft">
            Let Zorvet suggest a plan from the sizes and features of the part, and change what you want to have
            otherwise.
          </p>
        )}
        <PlanTable exercise={exercise} states={states} chosen={chosen} onChoose={setChosen} onChange={onChange} />
      </Panel>
      <div className="flex flex-col gap-4 lg:sticky lg:top-4">
        <PickedPart
          exercise={exercise}
          preview={preview}
          state={chosen === null ? undefined : states.get(chosen)}
          onAdd={(check) => {
            onChange((before) => ({ ...before, checks: [...before.checks, check] }));
            setChosen(check.id);
          }}
        />
        <TypedValues exercise={exercise} onChange={onChange} />
      </div>
    </div>
  );
}

interface PickedPartProps {
  readonly exercise: Exercise;
  readonly preview: Preview;
  /** Of the check whose faces are marked. */
  readonly state: CheckState | undefined;
  readonly onAdd: (check: Check) => void;
}

/** The reference with the faces of the chosen check, on which surfaces of a new check are picked. */
function PickedPart({ exercise, preview: { part }, state, onAdd }: PickedPartProps) {
  const [adding, setAdding] = useState<Adding | null>(null);
  const picked = useMemo(
    () =>
      new Set([
        // Faces of a later stage are not those of the part that is shown.
        ...(state?.kind === 'measured' && state.inStage === undefined ? state.faceIds : []),
        ...(part?.namesOfFace ?? []).flatMap((names, face) =>
          adding?.names.some((name) => names.includes(name)) ? [face] : [],
        ),
      ]),
    [state, adding, part],
  );
  const onPick = (faceId: number | null) => {
    const name = faceId === null ? undefined : part?.namesOfFace[faceId]?.[0];
    if (adding === null || name === undefined) return;
    const names = [...adding.names, name];
    if (names.length < surfacesOf(adding.kind)) {
      setAdding({ ...adding, names });
      return;
    }
    onAdd(checkFromFaces(adding.kind, names, exercise));
    setAdding(null);
  };
  return (
    <section className="panel">
      <div className="h-[42vh] min-h-72">
        {part && (
          <ModelView
            model={part.model}
            label={`Reference part: ${exercise.title}`}
            keepView
            pickedFaces={picked}
            onPick={onPick}
          />
        )}
      </div>
      <div className="flex flex-wrap items-center gap-2 border-t border-rule px-3 py-2 text-sm">
        <label className="flex items-center gap-2">
          Add by picking:
          <select
            aria-label="Kind of the new check"
            className="h-7 border border-ink/50 bg-paper px-1.5 text-sm"
            value={adding?.kind ?? ''}
            onChange={(event) => {
              const kind = event.target.value as CheckKind | '';
              setAdding(kind === '' ? null : { kind, names: [] });
            }}
          >
            <option value="">choose a check</option>
            {PICKABLE_KINDS.map((kind) => (
              <option key={kind} value={kind}>
                {pickingOf(kind)?.label}
              </option>
            ))}
          </select>
        </label>
        {adding && (
          <span role="status" className="text-soft">
            <Crosshair size={13} className="inline" aria-hidden /> Pick{' '}
            {plural(surfacesOf(adding.kind) - adding.names.length, 'surface')} in the part
          </span>
        )}
      </div>
    </section>
  );
}
