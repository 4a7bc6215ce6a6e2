import type { Check } from './kinds/index.ts';

/**
 * Weights of the checks of a group that add up to a total, in the shares that they have now; in equal ones where they
 * have none. Null for a total that makes no sense, or without a check that is on.
 */
export function scaledWeights(members: readonly Check[], total: number): ReadonlyMap<string, number> | null {
  const active = members.filter(({ off }) => off !== true);
  if (!(total >= 0 && total <= 1000) || active.length === 0) return null;
  const before = active.reduce((sum, { weight }) => sum + weight, 0);
  const rounded = (value: number): number => Math.round(value * 100) / 100;
  let given = 0;
  return new Map(
    active.map(({ id, weight }, i): [string, number] => {
      const share = before > 0 ? weight / before : 1 / active.length;
      // The last one takes what rounding left.
      const own = i === active.length - 1 ? rounded(total - given) : rounded(total * share);
      given += own;
      return [id, Math.max(0, own)];
    }),
  );
}
