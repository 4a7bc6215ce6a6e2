import { X } from 'lucide-react';

import type { PolicyAnswer } from '#api';
import { ROUND_POINTS, type LateRule, type ScoringPolicy } from '#core/grade';
import { NumberField, SelectField } from '#web/ui';

interface RulesProps {
  readonly policy: ScoringPolicy;
  readonly checks: PolicyAnswer['checks'];
  readonly onChange: (policy: ScoringPolicy) => void;
}

const ROUNDS = [0.1, 0.5, 1, 5] as const;
const MOST_POINTS = 100;
const NOT_LATE: LateRule = { amount: 0, of: 'points', each: 'day', graceMinutes: 0, most: MOST_POINTS };
/** A day of grace at most; a school that gives more sets another due time. */
const MOST_GRACE = 1440;

/** What holds over all checks: which attempt counts, rounding, late work, build rules, and checks that must be right. */
export function Rules({ policy, checks, onChange }: RulesProps) {
  const gates = policy.gates ?? [];
  const late = policy.late ?? NOT_LATE;
  const setLate = (change: Partial<typeof late>): void => {
    const next = { ...late, ...change };
    const { late: _, ...rest } = policy;
    onChange(next.amount === 0 ? rest : { ...rest, late: next });
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
        <NumberField
          label="Off if nothing was measured"
          least={0}
          most={MOST_POINTS}
          value={policy.roundPoints ?? ROUND_POINTS}
          onChange={(roundPoints) => {
            onChange({ ...policy, roundPoints });
          }}
        />
        <NumberField
          label="Weight of a build rule"
          least={0}
          most={1000}
          value={policy.ruleWeight ?? 0}
          onChange={(ruleWeight) => {
            onChange({ ...policy, ruleWeight });
          }}
        />
      </span>
      <span className="grid grid-cols-[1fr_1.5fr_1fr_1fr] items-end gap-3">
        <NumberField
          label="Off for coming late"
          least={0}
          most={MOST_POINTS}
          value={late.amount}
          onChange={(amount) => {
            setLate({ amount });
          }}
        />
        <SelectField
          label="Counted in"
          disabled={late.amount === 0}
          value={`${late.of} ${late.each}`}
          onChange={(event) => {
            const [of, each] = event.target.value.split(' ');
            setLate({ of: of === 'percent' ? 'percent' : 'points', each: each === 'hour' ? 'hour' : 'day' });
          }}
        >
          <option value="points day">points a day</option>
          <option value="points hour">points an hour</option>
          <option value="percent day">percent a day</option>
          <option value="percent hour">percent an hour</option>
        </SelectField>
        <NumberField
          label="Minutes free"
          least={0}
          most={MOST_GRACE}
          value={late.graceMinutes}
          onChange={(graceMinutes) => {
            setLate({ graceMinutes: Math.round(graceMinutes) });
          }}
        />
        <NumberField
          label="Most that is taken"
          least={0}
          most={MOST_POINTS}
          value={late.most}
          onChange={(most) => {
            setLate({ most });
          }}
        />
      </span>
      <div className="flex flex-col gap-1">
        {gates.map(({ checkId, most }, i) => (
          <span key={checkId} className="flex items-start gap-2 text-sm">
            <span className="flex-1">
              <NumberField
                label={`Most points without "${checks.find(({ id }) => id === checkId)?.label ?? checkId}"`}
                least={0}
                most={MOST_POINTS}
                value={most}
                onChange={(points) => {
                  setGates(gates.map((gate, k) => (k === i ? { checkId, most: points } : gate)));
                }}
              />
            </span>
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
