import { subjectOf } from './ask.ts';
import { freeCheckId } from './fresh.ts';
import type { Check } from './kinds/index.ts';

/** What a suggested plan has in common with the one that is there. */
export interface PlanOffer {
  /** Suggested, and measured by no check of the plan; under ids that the plan does not use. */
  readonly added: readonly Check[];
  /** Of the plan, as it has them: the suggestion has other values, or puts it on the sheet or takes it off. */
  readonly differing: readonly Check[];
  /** Of the plan, and not suggested: replacing the plan would drop them. */
  readonly dropped: readonly Check[];
}

/** Compares a plan with a suggestion by what their checks measure, whatever they are called and weigh. */
export function offerOf(plan: readonly Check[], suggested: readonly Check[]): PlanOffer {
  const own = new Map(plan.map((check) => [subjectOf(check), check]));
  const offered = new Map(suggested.map((check) => [subjectOf(check), check]));
  const taken = new Set(plan.map(({ id }) => id));
  const named = (check: Check): Check => {
    const id = freeCheckId(check.id, taken);
    taken.add(id);
    return { ...check, id };
  };
  return {
    added: suggested.filter((check) => !own.has(subjectOf(check))).map(named),
    differing: plan.filter((check) => {
      const other = offered.get(subjectOf(check));
      return other !== undefined && valuesOf(other) !== valuesOf(check);
    }),
    dropped: plan.filter((check) => !offered.has(subjectOf(check))),
  };
}

const VALUES = ['nominal', 'tolerance', 'tolerancePercent', 'off', 'onSheet'] as const;

/** What a check asks for: its values, and whether it is on the sheet or off. */
function valuesOf(check: Check): string {
  const fields = check as Readonly<Record<string, unknown>>;
  return JSON.stringify(VALUES.map((name) => fields[name] ?? null));
}
