import { Crosshair, Trash2, WandSparkles } from 'lucide-react';
import { useMemo, useState } from 'react';
import { toast } from 'sonner';

import { checkValueText, groupOf, pickingOf, type Check, type CheckGroup, type CheckKind } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { CheckState } from '#core/plan';
import { formatFixed } from '#core/quantity';
import { Button, Panel, plural } from '#web/ui';
import { ModelView } from '#web/viewer';
import { SUPERSEDED, useAsked, type WorkshopClient } from '#web/workshop';

import { CheckDetails } from './check-details.tsx';
import { checkFromFaces, PICKABLE_KINDS, surfacesOf } from './new-check.ts';
import { scaledWeights, toleranceOf, toleranceText } from './plan-edit.ts';
import type { Preview } from './preview.ts';

interface PlanTabProps {
  readonly exercise: Exercise;
  readonly preview: Preview;
  readonly workshop: WorkshopClient;
  readonly onChange: (change: (exercise: Exercise) => Exercise, topic?: string | null) => void;
}

const GROUPS: Readonly<Record<CheckGroup, string>> = {
  dimensions: 'Dimensions',
  features: 'Features',
  properties: 'Volume and mass properties',
  'model-quality': 'File',
};
const SMALL = 'h-7 border border-ink/50 bg-paper px-1.5 text-sm';

/** The check plan with the value of each check on the reference itself. */
export function PlanTab({ exercise, preview, workshop, onChange }: PlanTabProps) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [adding, setAdding] = useState<{ readonly kind: CheckKind; readonly names: readonly string[] } | null>(null);
  const { recipe, model, stages, checks, material, decimals, scoring } = exercise;

  // Only what decides a measurement; a new title does not measure anew.
  const basis = useMemo(
    () => ({ recipe, model, checks, stages, material, decimals, scoring }),
    [recipe, model, checks, stages, material, decimals, scoring],
  );
  const asked = useAsked<'plan', typeof basis>(workshop, basis, () => ({
    kind: 'plan',
    exercise: { ...exercise, ...basis },
  }));
  const plan = asked.value;
  const problem = asked.problem?.message ?? null;

  const states = useMemo(() => new Map(plan?.map((state) => [state.checkId, state])), [plan]);
  const active = checks.filter(({ off }) => off !== true);
  const total = active.reduce((sum, { weight }) => sum + weight, 0);
  const wrong = active.filter(({ id }) => {
    const state = states.get(id);
    return state !== undefined && (state.kind === 'broken' || (state.kind === 'measured' && !state.passes));
  });
  const put = (id: string, changes: object, topic: string) => {
    onChange(
      (before) => ({
        ...before,
        checks: before.checks.map((check) => (check.id === id ? { ...check, ...changes } : check)),
      }),
      `check ${id} ${topic}`,
    );
  };
  const suggest = () => {
    setBusy(true);
    void workshop.ask<'suggest'>({ kind: 'suggest', exercise }).then((result) => {
      setBusy(false);
      if (result.ok) onChange((before) => ({ ...before, checks: result.value }));
      else if (result.problem.code !== SUPERSEDED) toast.error(result.problem.message);
    });
  };
  const state = chosen === null ? undefined : states.get(chosen);
  const picked = useMemo(
    () =>
      new Set([
        // Faces of a later stage are not those of the part that is shown.
        ...(state?.kind === 'measured' && state.inStage === undefined ? state.faceIds : []),
        ...(preview.part?.namesOfFace ?? []).flatMap((names, face) =>
          adding?.names.some((name) => names.includes(name)) ? [face] : [],
        ),
      ]),
    [state, adding, preview.part],
  );
  const onPick = (faceId: number | null) => {
    const name = faceId === null ? undefined : preview.part?.namesOfFace[faceId]?.[0];
    if (adding === null || name === undefined || preview.part === null) return;
    const names = [...adding.names, name];
    if (names.length < surfacesOf(adding.kind)) {
      setAdding({ ...adding, names });
      return;
    }
    const check = checkFromFaces(adding.kind, names, exercise);
    onChange((before) => ({ ...before, checks: [...before.checks, check] }));
    setChosen(check.id);
    setAdding(null);
  };

  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-[minmax(0,7fr)_minmax(0,5fr)]">
      <Panel
        title={
          checks.length === 0
            ? 'No checks yet'
            : wrong.length > 0
              ? `${plural(wrong.length, 'check')} that the reference itself does not pass`
              : `${plural(active.length, 'check')}, weights add up to ${formatFixed(total, 1).replace(/\.0$/, '')}`
        }
        aside={
          <Button onClick={suggest} disabled={busy || preview.part === null}>
            <WandSparkles size={14} aria-hidden /> {busy ? 'Measuring ...' : 'Suggest a plan'}
          </Button>
        }
      >
        {problem !== null && (
          <p role="alert" className="border-l-4 border-wrong bg-wrong-soft px-3 py-2">
            {problem}
          </p>
        )}
        {checks.length === 0 && (
          <p className="px-3 py-4 text-soft">
            Let Zorvet suggest a plan from the sizes and features of the part, and change what you want to have
            otherwise.
          </p>
        )}
        <table className="w-full text-sm" data-testid="plan">
          <thead>
            <tr className="border-b border-rule text-left caption">
              <th className="px-2 py-1 font-normal">On</th>
              <th className="font-normal">Check</th>
              <th className="font-normal">Nominal</th>
              <th className="font-normal">Tolerance</th>
              <th className="font-normal">Weight</th>
              <th className="font-normal">On the reference</th>
              <th />
            </tr>
          </thead>
          {(Object.keys(GROUPS) as CheckGroup[]).map((group) => {
            const members = checks.filter((check) => groupOf(check) === group);
            return members.length === 0 ? null : (
              <tbody key={group}>
                <tr>
                  <th colSpan={4} className="bg-ground px-2 py-1 text-left text-xs font-medium">
                    {GROUPS[group]}
                  </th>
                  <th colSpan={3} className="bg-ground text-left font-normal">
                    <GroupWeight
                      name={GROUPS[group]}
                      members={members}
                      onScale={(weights) => {
                        onChange(
                          (before) => ({
                            ...before,
                            checks: before.checks.map((check) => ({
                              ...check,
                              weight: weights.get(check.id) ?? check.weight,
                            })),
                          }),
                          `weights of ${group}`,
                        );
                      }}
                    />
                  </th>
                </tr>
                {members.map((check) => (
                  <CheckRow
                    key={check.id}
                    check={check}
                    state={states.get(check.id)}
                    exercise={exercise}
                    chosen={chosen === check.id}
                    onChoose={() => {
                      setChosen(chosen === check.id ? null : check.id);
                    }}
                    onChange={(changes, topic) => {
                      put(check.id, changes, topic);
                    }}
                    onRemove={() => {
                      onChange((before) => ({ ...before, checks: before.checks.filter(({ id }) => id !== check.id) }));
                    }}
                  />
                ))}
              </tbody>
            );
          })}
        </table>
      </Panel>
      <div className="flex flex-col gap-4 lg:sticky lg:top-4">
        <section className="panel">
          <div className="h-[42vh] min-h-72">
            {preview.part && (
              <ModelView
                model={preview.part.model}
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
                className={SMALL}
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
        <TypedValues exercise={exercise} onChange={onChange} />
      </div>
    </div>
  );
}

function CheckRow({
  check,
  state,
  exercise,
  chosen,
  onChoose,
  onChange,
  onRemove,
}: {
  check: Check;
  state: CheckState | undefined;
  exercise: Exercise;
  chosen: boolean;
  onChoose: () => void;
  onChange: (changes: object, topic: string) => void;
  onRemove: () => void;
}) {
  const tolerance = 'tolerancePercent' in check ? String(check.tolerancePercent) : null;
  return (
    <>
      <tr
        className={`border-b border-rule ${chosen ? 'bg-accent-soft' : ''} ${check.off === true ? 'opacity-50' : ''}`}
      >
        <td className="px-2 align-middle">
          <input
            type="checkbox"
            className="block"
            aria-label={`${check.label} is checked`}
            checked={check.off !== true}
            onChange={(event) => {
              onChange({ off: event.target.checked ? undefined : true }, 'off');
            }}
          />
        </td>
        <td className="py-0.5 pr-2">
          <span className="flex items-center gap-1">
            <input
              aria-label={`Name of check ${check.label}`}
              className="h-7 min-w-0 flex-1 border border-transparent bg-transparent hover:border-ink/50"
              value={check.label}
              onChange={(event) => {
                if (event.target.value !== '') onChange({ label: event.target.value }, 'label');
              }}
            />
            <button
              type="button"
              aria-pressed={chosen}
              aria-label={`Show ${check.label} in the part`}
              className="cursor-pointer p-1 hover:bg-accent-soft"
              onClick={onChoose}
            >
              <Crosshair size={13} aria-hidden />
            </button>
          </span>
        </td>
        <td className="pr-1">
          {'nominal' in check && (
            <Cell
              label={`Nominal of ${check.label}`}
              value={check.nominal}
              onChange={(nominal) => onChange({ nominal }, 'nominal')}
            />
          )}
        </td>
        <td className="pr-1 whitespace-nowrap">
          {tolerance !== null ? (
            <>
              <Cell
                label={`Tolerance of ${check.label}, percent`}
                value={tolerance}
                onChange={(text) => {
                  const percent = Number(text.replace(',', '.'));
                  if (percent >= 0.0001 && percent <= 50) onChange({ tolerancePercent: percent }, 'tolerance');
                }}
              />{' '}
              %
            </>
          ) : 'tolerance' in check ? (
            <Cell
              label={`Tolerance of ${check.label}`}
              value={toleranceText(check.tolerance)}
              onChange={(text) => {
                const tolerance = toleranceOf(text);
                if (typeof tolerance === 'string' || 'nominal' in check) onChange({ tolerance }, 'tolerance');
              }}
            />
          ) : null}
        </td>
        <td className="pr-1">
          <Cell
            label={`Weight of ${check.label}`}
            value={String(check.weight)}
            onChange={(text) => {
              const weight = Number(text.replace(',', '.'));
              if (weight >= 0 && weight <= 1000) onChange({ weight }, 'weight');
            }}
          />
        </td>
        <td className="pr-1">
          <OnReference check={check} state={state} exercise={exercise} />
        </td>
        <td className="pr-1">
          <button
            type="button"
            aria-label={`Remove check ${check.label}`}
            className="cursor-pointer p-1 hover:bg-accent-soft"
            onClick={onRemove}
          >
            <Trash2 size={13} aria-hidden />
          </button>
        </td>
      </tr>
      {chosen && (
        <tr className="border-b border-rule bg-accent-soft">
          <td />
          <td colSpan={6} className="pb-2">
            <CheckDetails check={check} exercise={exercise} onChange={onChange} />
          </td>
        </tr>
      )}
    </>
  );
}

/** The weight of a whole group; a new one is shared out as the old one was. */
function GroupWeight({
  name,
  members,
  onScale,
}: {
  name: string;
  members: readonly Check[];
  onScale: (weights: ReadonlyMap<string, number>) => void;
}) {
  const total = members.reduce((sum, { off, weight }) => sum + (off === true ? 0 : weight), 0);
  return (
    <Cell
      label={`Weight of all of ${name}`}
      value={formatFixed(total, 2).replace(/\.?0+$/, '')}
      onChange={(text) => {
        const weights = scaledWeights(members, Number(text.replace(',', '.')));
        if (weights !== null) onScale(weights);
      }}
    />
  );
}

/** A cell that keeps what is typed until it makes sense. */
function Cell({ label, value, onChange }: { label: string; value: string; onChange: (value: string) => void }) {
  const [text, setText] = useState(value);
  const [before, setBefore] = useState(value);
  if (value !== before) {
    setBefore(value);
    setText(value);
  }
  return (
    <input
      aria-label={label}
      className="h-7 w-16 border border-transparent bg-transparent px-1 hover:border-ink/50"
      value={text}
      onChange={(event) => {
        setText(event.target.value);
        if (event.target.value.trim() !== '') onChange(event.target.value.trim());
      }}
    />
  );
}

function OnReference({ check, state, exercise }: { check: Check; state: CheckState | undefined; exercise: Exercise }) {
  if (state === undefined) return <span className="text-soft">...</span>;
  switch (state.kind) {
    case 'off':
      return <span className="text-soft">switched off</span>;
    case 'broken':
      return <span className="text-wrong">✕ {state.message}</span>;
    case 'measured': {
      const text = state.measured === null ? 'holds' : checkValueText(check.kind, state.measured, exercise);
      const where = state.inStage === undefined ? '' : ` (stage "${state.inStage}")`;
      return state.passes ? (
        <span>✓ {text}</span>
      ) : (
        <span className="text-wrong">
          ✕ {state.measured === null ? 'fails' : text}
          {where}
        </span>
      );
    }
  }
}

const TYPED = [
  ['mass', 'Mass'],
  ['volume', 'Volume'],
  ['x', 'Center X'],
  ['y', 'Center Y'],
  ['z', 'Center Z'],
] as const;

function TypedValues({ exercise, onChange }: Pick<PlanTabProps, 'exercise' | 'onChange'>) {
  return (
    <Panel title="Numbers that students type">
      <div className="flex flex-wrap gap-x-4 gap-y-1 px-3 py-2">
        {TYPED.map(([name, label]) => (
          <label key={name} className="inline-flex cursor-pointer items-center gap-1.5">
            <input
              type="checkbox"
              checked={exercise.typedValues.includes(name)}
              onChange={(event) => {
                onChange((before) => ({
                  ...before,
                  typedValues: TYPED.map(([other]) => other).filter((other) =>
                    other === name ? event.target.checked : before.typedValues.includes(other),
                  ),
                }));
              }}
            />
            {label}
          </label>
        ))}
      </div>
    </Panel>
  );
}
