import { type CheckMeasurement, kindOf, type Check } from '#core/check';
import type { Exercise } from '#core/exercise';
import { stringsIn } from '#core/recipe';

import type { Mistake } from './mistake.ts';

/**
 * The checks that speak of a mistake itself, where others fail only because of it: those that give the number which is
 * wrong; of something that was left out, those that find it missing; else the one that is nearest to where it was made.
 */
export function rootsOf(
  exercise: Pick<Exercise, 'checks'>,
  mistake: Pick<Mistake, 'expression' | 'stepIds' | 'edits'>,
  failing: readonly CheckMeasurement[],
): readonly string[] {
  const checkOf = (id: string): Check | undefined => exercise.checks.find((check) => check.id === id);
  const letters = mistake.edits.flatMap((edit) => (edit.kind === 'parameter' ? edit.name : []));
  const given = failing.filter(({ checkId, measured }) => {
    const check = checkOf(checkId);
    return measured !== null && check !== undefined && 'nominal' in check && letters.includes(bare(check.nominal));
  });
  if (given.length > 0) return given.map(({ checkId }) => checkId);
  const leavesOut = mistake.edits.some(
    (edit) => edit.kind === 'drop' || (edit.kind === 'set' && (edit.value === null || edit.path.includes('skip'))),
  );
  const gone = failing.filter(({ measured }) => measured === null).map(({ checkId }) => checkId);
  if (leavesOut && gone.length > 0) return gone;
  const costs = failing
    .flatMap(({ checkId }) => checkOf(checkId) ?? [])
    .map((check) => ({ check, cost: costOf(check, mistake) }))
    .sort((a, b) => a.cost - b.cost);
  const [best] = costs;
  return best === undefined ? [] : [best.check.id];
}

function costOf(check: Check, { expression, stepIds }: Pick<Mistake, 'expression' | 'stepIds'>): number {
  const own = 'nominal' in check && expression !== null && bare(check.nominal) === bare(expression);
  const names = stringsIn({ ...check, id: '', label: '', kind: '' });
  const onStep = names.some((name) => name.includes('.') && stepIds.some((id) => name.split('.').includes(id)));
  const { group } = kindOf(check.kind);
  const located = group === 'dimensions' ? 0 : group === 'features' ? 1 : group === 'properties' ? 2 : 3;
  return located + (own ? -6 : 0) + (onStep ? -3 : 0);
}

const bare = (expression: string): string => expression.replace(/\s/g, '');
