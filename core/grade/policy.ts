import * as v from 'valibot';

import { type Reference, type Target, CHECK_GROUPS, type CheckGroup } from '#core/check';
import { ScoringSchema } from '#core/exercise';

import { LateRuleSchema } from './late.ts';

const ShareSchema = v.pipe(v.number(), v.minValue(0), v.maxValue(100));

/** How measurements become points. An exercise brings one; an assignment may have another. */
export const PolicySchema = v.strictObject({
  ...ScoringSchema.entries,
  /** All tolerances times this. */
  toleranceFactor: v.optional(v.pipe(v.number(), v.minValue(0.1), v.maxValue(20))),
  /** Share of each group of checks, of 100; the weights of the plan hold where nothing is said. */
  shares: v.optional(
    v.strictObject({
      dimensions: ShareSchema,
      features: ShareSchema,
      properties: ShareSchema,
      'model-quality': ShareSchema,
    }),
  ),
  /** What coming late costs; nothing where nothing is said. */
  late: v.optional(LateRuleSchema),
  /** Points taken at most where dimensions were not measured before a hand-in, if the course counts that; 10 where nothing is said. */
  roundPoints: v.optional(ShareSchema),
  /** Which attempt of a student counts: the best where nothing is said. */
  counts: v.optional(v.picklist(['best', 'last'])),
});
export type ScoringPolicy = Readonly<v.InferOutput<typeof PolicySchema>>;

/** The policy of an assignment, as JSON, or that of its exercise where it has none of its own. */
export const policyIn = (json: string | null, ofExercise: ScoringPolicy): ScoringPolicy =>
  json === null ? ofExercise : v.parse(PolicySchema, JSON.parse(json));

/** Ways of scoring that schools use: which group of checks has which share, and how far near values still earn points. */
export const SCORING_PRESETS = [
  {
    name: 'Key number',
    words: 'Mass or volume decides, all or nothing',
    shares: { dimensions: 0, features: 0, properties: 100, 'model-quality': 0 },
    partialReach: 1,
  },
  {
    name: 'Points per dimension',
    words: 'Every size earns its points, near ones part of them',
    shares: { dimensions: 80, features: 10, properties: 0, 'model-quality': 10 },
    partialReach: 5,
  },
  {
    name: 'Mixed',
    words: 'Sizes, features, and mass properties together',
    shares: { dimensions: 60, features: 10, properties: 20, 'model-quality': 10 },
    partialReach: 5,
  },
] as const;

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
