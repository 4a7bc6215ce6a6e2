import * as v from 'valibot';

import type { Coverage } from './coverage.ts';

/** What is hard to tell with the values of one variant, and would be told with those of the part as drawn. */
export const VariantBlurSchema = v.object({
  name: v.string(),
  /** Mistakes that leave the volume as it is, in a few words each. */
  keepVolume: v.array(v.string()),
  /** Pairs of mistakes in unlike steps, or of unlike kinds, with the same volume and center of mass. */
  alike: v.array(v.tuple([v.string(), v.string()])),
});
export type VariantBlur = v.InferOutput<typeof VariantBlurSchema>;

/** The same mistake has another value in every variant: what is before it says which it is. */
const withoutValue = (id: string): string => id.replace(/=[^=/]*/, '');

const pairKey = (a: string, b: string): string => [withoutValue(a), withoutValue(b)].sort().join(' ');

const pairsIn = (groups: readonly (readonly string[])[]): readonly (readonly [string, string])[] =>
  groups.flatMap((ids) => ids.flatMap((a, i) => ids.slice(i + 1).map((b) => [a, b] as const)));

/**
 * Which mistakes the values of a variant make hard to tell: those that hide in the volume, and those that look like
 * another, where neither is so in the part as drawn.
 */
export function blurOf(name: string, own: Coverage, drawn: Coverage): VariantBlur {
  const words = new Map(own.rows.map(({ mistake }) => [mistake.id, mistake.summary]));
  const say = (id: string): string => words.get(id) ?? id;
  const hidden = new Set(drawn.keepVolume.map(withoutValue));
  const blurred = new Set(pairsIn(drawn.alike).map(([a, b]) => pairKey(a, b)));
  const known = new Set(drawn.rows.map(({ mistake }) => withoutValue(mistake.id)));
  // What the part as drawn was not tested with says nothing about the values.
  const isComparable = (id: string): boolean => known.has(withoutValue(id));
  // Which of two numbers of one step was misread matters little to who misread it.
  const stepsOf = new Map(own.rows.map(({ mistake: { id, kind, stepIds } }) => [id, `${kind} ${stepIds.join(' ')}`]));
  return {
    name,
    keepVolume: own.keepVolume.filter((id) => isComparable(id) && !hidden.has(withoutValue(id))).map(say),
    alike: pairsIn(own.alike)
      .filter(([a, b]) => isComparable(a) && isComparable(b) && !blurred.has(pairKey(a, b)))
      .filter(([a, b]) => stepsOf.get(a) !== stepsOf.get(b))
      .map(([a, b]): [string, string] => [say(a), say(b)]),
  };
}
