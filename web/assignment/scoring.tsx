import { useEffect, useState } from 'react';
import { toast } from 'sonner';

import type { PolicyAnswer, Rescored } from '#api';
import { SCORING_PRESETS, type ScoringPolicy } from '#core/grade';
import { failureText, usePolicyQuery, useRescoreMutation } from '#web/api';
import { Button, Dialog, Loading, NumberField, plural, RootCauseToggle } from '#web/ui';

import { Rules } from './rules.tsx';

const GROUPS = [
  ['dimensions', 'Dimensions'],
  ['features', 'Features'],
  ['properties', 'Mass properties'],
  ['model-quality', 'The body'],
] as const;
const WAIT_MS = 400;

interface ScoringProps {
  readonly assignmentId: number;
  readonly open: boolean;
  readonly onClose: () => void;
}

/** How is this assignment scored, and what would another way make of it? Nothing changes until it is confirmed. */
export function ScoringDialog({ assignmentId, open, onClose }: ScoringProps) {
  const { data } = usePolicyQuery(assignmentId, { skip: !open });
  return (
    <Dialog
      title="Scoring of this assignment"
      description="What was measured stays; only what it earns changes, and only when you say so."
      open={open}
      onClose={onClose}
    >
      {data ? (
        <Form
          key={String(open)}
          assignmentId={assignmentId}
          start={data.policy}
          own={data.own}
          checks={data.checks}
          onClose={onClose}
        />
      ) : (
        <Loading what="the scoring" />
      )}
    </Dialog>
  );
}

/** What another way of scoring would make of the assignment; asked for a moment after the last change. */
function useRescored(assignmentId: number, policy: ScoringPolicy) {
  const [rescore, { isLoading }] = useRescoreMutation();
  const [seen, setSeen] = useState<Rescored | null>(null);
  useEffect(() => {
    let current = true;
    const timer = setTimeout(() => {
      void rescore({ id: assignmentId, policy, apply: false }).then(({ data }) => {
        if (current && data) setSeen(data);
      });
    }, WAIT_MS);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [assignmentId, policy, rescore]);
  return { rescore, isLoading, seen };
}

interface FormProps {
  readonly assignmentId: number;
  readonly start: ScoringPolicy;
  readonly own: boolean;
  readonly checks: PolicyAnswer['checks'];
  readonly onClose: () => void;
}

function Form({ assignmentId, start, own, checks, onClose }: FormProps) {
  const [policy, setPolicy] = useState<ScoringPolicy>(start);
  const { rescore, isLoading, seen } = useRescored(assignmentId, policy);
  const apply = (wanted: ScoringPolicy | null): void => {
    void rescore({ id: assignmentId, policy: wanted, apply: true }).then(({ data, error }) => {
      if (error) toast.error(failureText(error));
      else {
        toast.success(`${plural(changedOf(data).length, 'score')} changed.`);
        onClose();
      }
    });
  };
  return (
    <div className="flex flex-col gap-3">
      <Shares policy={policy} onChange={setPolicy} />
      <span className="grid grid-cols-4 items-end gap-3">
        {NUMBERS.map(({ name, label, least, most, step }) => (
          <NumberField
            key={name}
            label={label}
            least={least}
            most={most}
            step={step}
            value={policy[name] ?? 1}
            onChange={(value) => {
              setPolicy({ ...policy, [name]: value });
            }}
          />
        ))}
      </span>
      <Rules policy={policy} checks={checks} onChange={setPolicy} />
      <RootCauseToggle
        on={policy.rootCauseOnce === true}
        onChange={(rootCauseOnce) => {
          setPolicy({ ...policy, rootCauseOnce });
        }}
      />
      <Changes seen={seen} />
      <span className="flex gap-2">
        <Button
          kind="main"
          disabled={isLoading || seen === null}
          onClick={(event) => {
            // A number that is none is not passed over: it is gone back to.
            const wrong = event.currentTarget
              .closest('[role="dialog"]')
              ?.querySelector<HTMLElement>('[aria-invalid="true"]');
            if (wrong) wrong.focus();
            else apply(policy);
          }}
        >
          Score it this way
        </Button>
        {own && (
          <Button
            disabled={isLoading}
            onClick={() => {
              apply(null);
            }}
          >
            As the exercise says
          </Button>
        )}
        <Button onClick={onClose}>Leave it as it is</Button>
      </span>
    </div>
  );
}

const NUMBERS = [
  { name: 'partialReach', label: 'Part points up to, tolerances', least: 1, most: 100, step: 1 },
  { name: 'toleranceFactor', label: 'Tolerances times', least: 0.1, most: 20, step: 0.1 },
  { name: 'typedValueWeight', label: 'Weight of a typed number', least: 0, most: 1000, step: 1 },
  { name: 'notOneBodyCap', label: 'Most points if not one body', least: 0, most: 100, step: 1 },
] as const;

interface SharesProps {
  readonly policy: ScoringPolicy;
  readonly onChange: (policy: ScoringPolicy) => void;
}

/** Which group of checks earns how much, where not the weights of the plan say it. */
function Shares({ policy, onChange }: SharesProps) {
  return (
    <>
      <span className="flex flex-wrap gap-2">
        {SCORING_PRESETS.map(({ name, words, shares, partialReach }) => (
          <Button
            key={name}
            title={words}
            onClick={() => {
              onChange({ ...policy, shares, partialReach });
            }}
          >
            {name}
          </Button>
        ))}
        {policy.shares !== undefined && (
          <Button
            onClick={() => {
              const { shares: _, ...rest } = policy;
              onChange(rest);
            }}
          >
            Weights of the plan
          </Button>
        )}
      </span>
      {policy.shares !== undefined && (
        <span className="grid grid-cols-4 gap-3">
          {GROUPS.map(([group, label]) => (
            <NumberField
              key={group}
              label={`${label}, share`}
              least={0}
              most={100}
              value={policy.shares?.[group] ?? 0}
              onChange={(value) => {
                if (policy.shares) onChange({ ...policy, shares: { ...policy.shares, [group]: value } });
              }}
            />
          ))}
        </span>
      )}
    </>
  );
}

const changedOf = ({ changes }: Rescored) => changes.filter(({ before, after }) => before !== after);

/** Whose score would change, and by how much. */
function Changes({ seen }: { readonly seen: Rescored | null }) {
  const changed = seen === null ? [] : changedOf(seen);
  return (
    <section aria-live="polite" className="border-t border-rule pt-2" data-testid="rescored">
      <h3 className="font-semibold">
        {seen === null
          ? 'Working it out ...'
          : changed.length === 0
            ? 'No score changes'
            : `${String(changed.length)} of ${String(seen.changes.length)} scores change`}
      </h3>
      {changed.length > 0 && (
        <div className="max-h-52 overflow-auto">
          <table className="w-full text-sm">
            <thead className="text-left text-xs text-soft">
              <tr>
                <th className="py-1 font-normal">Student</th>
                <th className="py-1 text-right font-normal">Now</th>
                <th className="py-1 text-right font-normal">Then</th>
                <th className="py-1 text-right font-normal">Change</th>
              </tr>
            </thead>
            <tbody>
              {changed.map(({ attemptId, student, before, after }) => (
                <tr key={attemptId} className="border-t border-rule">
                  <td className="py-0.5">{student}</td>
                  <td className="py-0.5 text-right">{before.toFixed(1)}</td>
                  <td className="py-0.5 text-right font-medium">{after.toFixed(1)}</td>
                  <td className="py-0.5 text-right">
                    {after > before ? '+' : ''}
                    {(after - before).toFixed(1)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </section>
  );
}
