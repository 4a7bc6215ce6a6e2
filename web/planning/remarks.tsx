import type { PlanRemark } from '#core/buildplan';
import { Signed } from '#web/sheet';
import { Panel, plural } from '#web/ui';

interface PlanRemarksProps {
  readonly remarks: readonly PlanRemark[];
  readonly onChoose: (stepId: string) => void;
}

/** What to think about before building; several plans of a part are right, so that nothing here forbids one. */
export function PlanRemarks({ remarks, onChoose }: PlanRemarksProps) {
  if (remarks.length === 0) return null;
  return (
    <Panel title={`${plural(remarks.length, 'thing')} to think about`}>
      <ul className="divide-y divide-rule" data-testid="plan-remarks">
        {remarks.map(({ kind, stepId, words }) => (
          <li key={`${kind} ${stepId ?? ''}`} className="px-3 py-1.5 text-sm">
            <Signed text={words} />{' '}
            {stepId !== null && (
              <button
                type="button"
                className="cursor-pointer underline"
                onClick={() => {
                  onChoose(stepId);
                }}
              >
                Look at it
              </button>
            )}
          </li>
        ))}
      </ul>
    </Panel>
  );
}
