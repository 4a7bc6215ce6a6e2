import { Crosshair, Trash2 } from 'lucide-react';
import { useState } from 'react';

import { checkValueText, groupOf, type Check, type CheckGroup, scaledWeights } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { CheckState } from '#core/plan';
import { formatFixed } from '#core/quantity';

import { CheckDetails } from './check-details.tsx';
import { toleranceOf, toleranceText } from './plan-edit.ts';

const GROUPS: Readonly<Record<CheckGroup, string>> = {
  dimensions: 'Dimensions',
  features: 'Features',
  properties: 'Volume and mass properties',
  'model-quality': 'File',
};
interface PlanTableProps {
  readonly exercise: Exercise;
  readonly states: ReadonlyMap<string, CheckState>;
  readonly chosen: string | null;
  readonly onChoose: (id: string | null) => void;
  readonly onChange: (change: (exercise: Exercise) => Exercise, topic?: string | null) => void;
}

/** The checks of a plan in their groups, each with its value on the reference. */
export function PlanTable({ exercise, states, chosen, onChoose, onChange }: PlanTableProps) {
  const changeChecks = (change: (checks: readonly Check[]) => readonly Check[], topic: string | null = null) => {
    onChange((before) => ({ ...before, checks: [...change(before.checks)] }), topic);
  };
  return (
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
        const members = exercise.checks.filter((check) => groupOf(check) === group);
        return members.length === 0 ? null : (
          <tbody key={group}>
            <GroupRow
              name={GROUPS[group]}
              members={members}
              onScale={(weights) => {
                changeChecks(
                  (checks) => checks.map((check) => ({ ...check, weight: weights.get(check.id) ?? check.weight })),
                  `weights of ${group}`,
                );
              }}
            />
            {members.map((check) => (
              <CheckRow
                key={check.id}
                check={check}
                state={states.get(check.id)}
                exercise={exercise}
                chosen={chosen === check.id}
                onChoose={() => {
                  onChoose(chosen === check.id ? null : check.id);
                }}
                onChange={(changes, topic) => {
                  changeChecks(
                    (checks) => checks.map((other) => (other.id === check.id ? { ...other, ...changes } : other)),
                    `check ${check.id} ${topic}`,
                  );
                }}
                onRemove={() => {
                  changeChecks((checks) => checks.filter(({ id }) => id !== check.id));
                }}
              />
            ))}
          </tbody>
        );
      })}
    </table>
  );
}

interface CheckRowProps {
  readonly check: Check;
  readonly state: CheckState | undefined;
  readonly exercise: Exercise;
  readonly chosen: boolean;
  readonly onChoose: () => void;
  readonly onChange: (changes: object, topic: string) => void;
  readonly onRemove: () => void;
}

function CheckRow(props: CheckRowProps) {
  const { check, state, exercise, chosen, onChange, onRemove } = props;
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
          <CheckName {...props} />
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
          <ToleranceCell check={check} onChange={onChange} />
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

function CheckName({ check, chosen, onChoose, onChange }: CheckRowProps) {
  return (
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
  );
}

function ToleranceCell({ check, onChange }: Pick<CheckRowProps, 'check' | 'onChange'>) {
  if ('tolerancePercent' in check)
    return (
      <>
        <Cell
          label={`Tolerance of ${check.label}, percent`}
          value={String(check.tolerancePercent)}
          onChange={(text) => {
            const percent = Number(text.replace(',', '.'));
            if (percent >= 0.0001 && percent <= 50) onChange({ tolerancePercent: percent }, 'tolerance');
          }}
        />{' '}
        %
      </>
    );
  if (!('tolerance' in check)) return null;
  return (
    <Cell
      label={`Tolerance of ${check.label}`}
      value={toleranceText(check.tolerance)}
      onChange={(text) => {
        const tolerance = toleranceOf(text);
        if (typeof tolerance === 'string' || 'nominal' in check) onChange({ tolerance }, 'tolerance');
      }}
    />
  );
}

/** The heading of a group with its weight; a new one is shared out as the old one was. */
function GroupRow({
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
    <tr>
      <th colSpan={4} className="bg-ground px-2 py-1 text-left text-xs font-medium">
        {name}
      </th>
      <th colSpan={3} className="bg-ground text-left font-normal">
        <Cell
          label={`Weight of all of ${name}`}
          value={formatFixed(total, 2).replace(/\.?0+$/, '')}
          onChange={(text) => {
            const weights = scaledWeights(members, Number(text.replace(',', '.')));
            if (weights !== null) onScale(weights);
          }}
        />
      </th>
    </tr>
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
