import { freeCheckId, groupOf, scaledWeights, subjectOf, type Check } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { PlanBasis } from '#core/plan';

import type { DeterminacyStudy } from './determine.ts';
import { openSizesOf, type OpenSizes } from './words.ts';

/** A plan that was completed, and what is open after it for want of a check that would settle it. */
export interface Completed {
  readonly checks: readonly Check[];
  readonly left: OpenSizes;
}

/** Sizes of a part that can be open are fewer; more proposals than that go round in a circle. */
const MOST_ADDED = 60;

/**
 * Adds to a plan, one proposal after another, what settles the sizes that are open: checks that say and decide them, and
 * planned ones that only have to be put on the sheet. Each group keeps its weight, shared out anew. Refuses as
 * `DeterminacyStudy.determine` does.
 */
export function completedPlan(study: DeterminacyStudy, basis: PlanBasis): Completed {
  let { exercise } = basis;
  let left = openSizesOf(study, basis);
  for (let added = 0; added < MOST_ADDED; added++) {
    const proposal = [...left.undetermined, ...left.unchecked].find((size) => size.proposal !== null)?.proposal ?? null;
    if (proposal === null) break;
    exercise = withProposal(exercise, proposal);
    left = openSizesOf(study, { ...basis, exercise });
  }
  return { checks: exercise === basis.exercise ? exercise.checks : inOldShares(basis.exercise, exercise), left };
}

/** The exercise with a check more: one that is planned already takes its place, as the proposal has it. */
export function withProposal(exercise: Exercise, proposal: Check): Exercise {
  const own = exercise.checks.find((one) => subjectOf(one) === subjectOf(proposal));
  const checks =
    own === undefined
      ? [
          ...exercise.checks,
          { ...proposal, id: freeCheckId(proposal.id, new Set(exercise.checks.map(({ id }) => id))) },
        ]
      : exercise.checks.map((one) => (one === own ? { ...proposal, id: own.id } : one));
  return { ...exercise, checks };
}

/** Each group as heavy as before: what is new weighs as much as the others of its group on average. */
function inOldShares(before: Exercise, after: Exercise): readonly Check[] {
  const known = new Set(before.checks.map(({ id }) => id));
  const isActive = ({ off }: Check): boolean => off !== true;
  const weights = new Map(
    [...new Set(after.checks.map(groupOf))].flatMap((group) => {
      const own = before.checks.filter((check) => groupOf(check) === group && isActive(check));
      const total = own.reduce((sum, { weight }) => sum + weight, 0);
      const members = after.checks
        .filter((check) => groupOf(check) === group)
        .map((check) => (known.has(check.id) ? check : { ...check, weight: total / own.length }));
      return total > 0 ? [...(scaledWeights(members, total) ?? [])] : [];
    }),
  );
  return after.checks.map((check) => ({ ...check, weight: weights.get(check.id) ?? check.weight }));
}
