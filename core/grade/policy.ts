import * as v from 'valibot';

import type { Reference, Target } from '#core/check';
import { CHECK_GROUPS, type CheckGroup } from '#core/exercise';

const ShareSchema = v.pipe(v.number(), v.minValue(0), v.maxValue(100));

/** How measurements become points. An exercise brings one; an assignment may have another. */
export const PolicySchema = v.strictObject({
  /** A deviation up to this many tolerances still earns part of the points. */
  partialReach: v.pipe(v.number(), v.minValue(1), v.maxValue(100)),
  /** Weight of each typed value; 0 reports it without points. */
  typedValueWeight: v.pipe(v.number(), v.minValue(0), v.maxValue(1000)),
  /** Highest score, in percent, of a model that is not one closed body. */
  notOneBodyCap: v.pipe(v.number(), v.minValue(0), v.maxValue(100)),
  /** What merely follows from a mistake whose cause was found earns its points. */
  rootCauseOnce: v.optional(v.boolean()),
  /** All tolerances times this. */
  toleranceFactor: v.optional(v.pipe(v.number(), v.minValue(0.1), v.maxValue(20))),
  /** Share of each group of checks, of 100; the weights of the plan hold where nothing is said. */
  shares: v.optional(
    v.strictObject({ dimensions: ShareSchema, features: ShareSchema, properties: ShareSchema, hygiene: ShareSchema }),
  ),
});
export type ScoringPolicy = Readonly<v.InferOutput<typeof PolicySchema>>;

/** The reference with the weights and tolerances of a policy; in a group without weights, all checks weigh the same. */
export function withPolicy(reference: Reference, { toleranceFactor = 1, shares }: ScoringPolicy): Reference {
  if (toleranceFactor === 1 && shares === undefined) return reference;
  const total = new Map<CheckGroup, number>(
    CHECK_GROUPS.map((group) => [
      group,
      sum(reference.targets.filter((one) => one.group === group).map(({ weight }) => weight)),
    ]),
  );
  const count = (group: CheckGroup): number => reference.targets.filter((one) => one.group === group).length;
  const weightOf = ({ group, weight }: Target): number => {
    if (shares === undefined) return weight;
    const all = total.get(group) ?? 0;
    return shares[group] * (all === 0 ? 1 / count(group) : weight / all);
  };
  return {
    ...reference,
    targets: reference.targets.map((target): Target => {
      const weighed = { ...target, weight: weightOf(target) };
      if (!('tolerance' in weighed)) return weighed;
      const limits =
        'limits' in weighed && weighed.limits !== undefined
          ? { limits: { lower: weighed.limits.lower * toleranceFactor, upper: weighed.limits.upper * toleranceFactor } }
          : {};
      return { ...weighed, ...limits, tolerance: weighed.tolerance * toleranceFactor };
    }),
  };
}

const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);
