import { X } from 'lucide-react';

import type { PolicyAnswer } from '#api';
import type { ScoringPolicy } from '#core/grade';
import { SelectField, TextField } from '#web/ui';

interface RulesProps {
  readonly policy: ScoringPolicy;
  readonly checks: PolicyAnswer['checks'];
  readonly onChange: (policy: ScoringPolicy) => void;
}

const ROUNDS = [0.1, 0.5, 1, 5] as const;
const MOST_POINTS = 100;

/** The number in a field, or null where it is none from 0 to `most`. */
const numberIn = (text: string, most: number): number | null => {
  const value = Number(text);
  return text.trim() !== '' && value >= 0 && value <= most ? value : null;
};

/** What holds over all checks: which attempt counts, rounding, late work, build rules, and checks that must be right. */
export function Rules({ policy, checks, onChange }: RulesProps) {
  const gates = policy.gates ?? [];
  const late = policy.late ?? { perDay: 0, most: MOST_POINTS };
  const setLate = (change: Partial<typeof late>): void => {
    const next = { ...late, ...change };
    const { late: _, ...rest } = policy;
    onChange(next.perDay === 0 ? rest : { ...rest, late: next });
  };
  const setGates = (next: typeof gates): void => {
    const { gates: _, ...rest } = policy;
    onChange(next.length === 0 ? rest : { ...rest, gates: [...next] });
  };
  return (
    <>
      <span className="grid grid-cols-4 items-end gap-3">
        <SelectField
          label="Attempt that counts"
          value={policy.counts ?? 'best'}
          onChange={(event) => {
            onChange({ ...policy, counts: event.target.value === 'last' ? 'last' : 'best' });
          }}
        >
          <option value="best">the best</option>
          <option value="last">the last</option>
        </SelectField>
        <SelectField
          label="Rounded to"
          value={String(policy.roundTo ?? 0.1)}
          onChange={(event) => {
            const roundTo = ROUNDS.find((step) => String(step) === event.target.value);
            if (roundTo !== undefined) onChange({ ...policy, roundTo });
          }}
        >
          {ROUNDS.map((step) => (
            <option key={step} value={step}>
              {step}
            </option>
          ))}
        </SelectField>
        <TextField
          label="Points off for a day late"
          type="number"
          min={0}
          max={MOST_POINTS}
          defaultValue={String(late.perDay)}
          onChange={(event) => {
            const perDay = numberIn(event.target.value, MOST_POINTS);
            if (perDay !== null) setLate({ perDay });
          }}
        />
        <TextField
          label="Weight of a build rule"
          type="number"
          min={0}
          max={1000}
          defaultValue={String(policy.ruleWeight ?? 0)}
          onChange={(event) => {
            const ruleWeight = numberIn(event.target.value, 1000);
            if (ruleWeight !== null) onChange({ ...policy, ruleWeight });
          }}
        />
      </span>
      <div className="flex flex-col gap-1">
        {gates.map(({ checkId, most }, i) => (
          <span key={checkId} className="flex items-center gap-2 text-sm">
            {checks.find(({ id }) => id === checkId)?.label ?? checkId}: otherwise at most
            <input
              type="number"
              min={0}
              max={MOST_POINTS}
              aria-label={`Most points without ${checkId}`}
              className="h-7 w-16 border border-ink/60 bg-paper px-1"
              defaultValue={most}
              onChange={(event) => {
                const points = numberIn(event.target.value, MOST_POINTS);
                if (points !== null) setGates(gates.map((gate, k) => (k === i ? { checkId, most: points } : gate)));
              }}
            />
            points
            <button
              type="button"
              aria-label={`Remove ${checkId}`}
              className="flex size-6 cursor-pointer items-center justify-center hover:bg-accent-soft"
              onClick={() => {
                setGates(gates.filter((_, k) => k !== i));
              }}
            >
              <X size={13} aria-hidden />
            </button>
          </span>
        ))}
        <SelectField
          label="A check that must be right"
          value=""
          onChange={(event) => {
            setGates([...gates, { checkId: event.target.value, most: 50 }]);
          }}
        >
          <option value="">Choose a check</option>
          {checks
            .filter(({ id }) => gates.every(({ checkId }) => checkId !== id))
            .map(({ id, label }) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
        </SelectField>
      </div>
    </>
  );
}
