import type { Check, PlanOffer } from '#core/check';
import { Button, plural } from '#web/ui';

interface PlanOfferProps {
  readonly offer: PlanOffer;
  readonly onAdd: () => void;
  readonly onReplace: () => void;
  readonly onKeep: () => void;
}

const MOST_NAMES = 8;

const named = (checks: readonly Check[]): string => {
  const names = checks.slice(0, MOST_NAMES).map(({ label }) => label);
  const more = checks.length - names.length;
  return more > 0 ? `${names.join(', ')} and ${String(more)} more` : names.join(', ');
};

/** What a suggestion would change in a plan that is there already; nothing is replaced unasked. */
export function PlanOfferBox({ offer: { added, differing, dropped }, onAdd, onReplace, onKeep }: PlanOfferProps) {
  return (
    <section
      className="flex flex-col gap-2 border-b border-rule bg-accent-soft px-3 py-2 text-sm"
      data-testid="plan-offer"
      aria-label="Suggested plan"
    >
      <p className="font-medium">
        {added.length === 0
          ? 'The plan has every check that would be suggested.'
          : `${plural(added.length, 'check')} would be suggested that the plan does not have: ${named(added)}.`}
      </p>
      {differing.length > 0 && <p>Yours differ in value or place from what would be suggested: {named(differing)}.</p>}
      {dropped.length > 0 && <p>Would not be suggested, and be lost if the plan is replaced: {named(dropped)}.</p>}
      <span className="flex flex-wrap gap-2">
        {added.length > 0 && (
          <Button kind="main" onClick={onAdd}>
            Add {plural(added.length, 'check')}
          </Button>
        )}
        <Button onClick={onReplace}>Replace the plan</Button>
        <Button onClick={onKeep}>Keep it as it is</Button>
      </span>
    </section>
  );
}
