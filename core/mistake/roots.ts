import type { CheckMeasurement } from '#core/check';
import { groupOf, type Check, type Exercise } from '#core/exercise';
import { stringsIn } from '#core/recipe';

import type { Mistake } from './mistake.ts';

/**
 * The check that speaks of a mistake itself, where others fail only because of it: the one that gives the number which is
 * wrong; else one on the step that it was made in; else the first dimension. A mistake with several failing checks of a
 * feature that is not there has all of these as its own.
 */
export function rootsOf(
  exercise: Pick<Exercise, 'checks'>,
  mistake: Pick<Mistake, 'expression' | 'stepIds'>,
  failing: readonly CheckMeasurement[],
): readonly string[] {
  const gone = failing.filter(({ measured }) => measured === null).map(({ checkId }) => checkId);
  if (gone.length > 0) return gone;
  const checks = failing.flatMap(({ checkId }) => exercise.checks.find(({ id }) => id === checkId) ?? []);
  const costs = checks.map((check) => ({ check, cost: costOf(check, mistake) })).sort((a, b) => a.cost - b.cost);
  const [best] = costs;
  return best === undefined ? [] : [best.check.id];
}

function costOf(check: Check, { expression, stepIds }: Pick<Mistake, 'expression' | 'stepIds'>): number {
  const own = 'nominal' in check && expression !== null && bare(check.nominal) === bare(expression);
  const names = stringsIn({ ...check, id: '', label: '', kind: '' });
  const onStep = names.some((name) => name.includes('.') && stepIds.some((id) => name.split('.').includes(id)));
  const group = groupOf(check.kind);
  const located = group === 'dimensions' ? 0 : group === 'features' ? 1 : group === 'properties' ? 2 : 3;
  return located + (own ? -6 : 0) + (onStep ? -3 : 0);
}

const bare = (expression: string): string => expression.replace(/\s/g, '');
