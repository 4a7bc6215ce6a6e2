import { groupOf, type Check } from '#core/check';
import type { Exercise } from '#core/exercise';
import { SCORING_PRESETS } from '#core/grade';

/** A way of scoring that schools use, as a change of an exercise. */
export interface Preset {
  readonly name: string;
  readonly words: string;
  readonly apply: (exercise: Exercise) => Exercise;
}

/** Weights of the checks so that the groups get their shares of 100; a group without checks gives its share away. */
function weighed(checks: readonly Check[], shares: Readonly<Record<string, number>>): Check[] {
  const active = checks.filter(({ off }) => off !== true);
  const counts = new Map<string, number>();
  for (const check of active) counts.set(groupOf(check), (counts.get(groupOf(check)) ?? 0) + 1);
  const given = Object.entries(shares).reduce((sum, [group, share]) => sum + (counts.has(group) ? share : 0), 0);
  return checks.map((check) => {
    const group = groupOf(check);
    const share = given === 0 ? 0 : ((shares[group] ?? 0) * 100) / given;
    const weight = check.off === true ? check.weight : Math.round((100 * share) / (counts.get(group) ?? 1)) / 100;
    return { ...check, weight };
  });
}

export const PRESETS: readonly Preset[] = SCORING_PRESETS.map(({ name, words, shares, partialReach }) => ({
  name,
  words,
  apply: (exercise) => ({
    ...exercise,
    checks: weighed(exercise.checks, shares),
    scoring: { ...exercise.scoring, partialReach },
  }),
}));
