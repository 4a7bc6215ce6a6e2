import type { Exercise, Variant } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { attempt, ProblemError, type Result } from '#core/problem';
import type { RecipeBuilder } from '#core/recipe';

import { lossOf, tooAlike, tryValues, volumeTolerance } from './judge.ts';
import { randomFrom } from './random.ts';

/** Values that a letter may take: from, from + step ... up to `to`, in the drawing unit. */
export interface ParameterRange {
  readonly name: string;
  readonly from: number;
  readonly to: number;
  readonly step: number;
}

export interface Generated {
  readonly variants: readonly Variant[];
  /** Sets of values that were tried and left out, counted by the code of the reason. */
  readonly left: Readonly<Record<string, number>>;
}

/** Sets of values that are tried for each variant that is wanted. */
const TRIES_EACH = 12;

export interface GenerateOptions {
  readonly ranges: readonly ParameterRange[];
  /** How many variants. */
  readonly wanted: number;
  readonly seed: number;
  readonly onProgress?: (found: number, tried: number) => void;
}

/**
 * Variants from ranges, the same for the same seed. Each rebuilds, keeps all surfaces of the part, and differs from all
 * others in volume by more than three tolerances. Fewer than wanted come back when the ranges give no more. Refuses
 * with `bad-range`, and with the problem of the recipe itself.
 */
export function generateVariants(
  kernel: Kernel,
  builder: RecipeBuilder,
  exercise: Exercise,
  { ranges, wanted, seed, onProgress }: GenerateOptions,
): Result<Generated> {
  return attempt(() => {
    const choices = ranges.map((range) => ({ name: range.name, values: valuesOf(range, exercise) }));
    const base = tryValues(kernel, builder, exercise, {});
    if ('code' in base) throw new ProblemError(base.code, base.message);
    const tolerance = volumeTolerance(exercise);
    const random = randomFrom(seed);
    const seen = new Set<string>();
    const found: (Variant & { readonly volumeMm3: number })[] = [];
    const left: Record<string, number> = {};
    const combinations = choices.reduce((product, { values }) => product * values.length, 1);
    for (let tries = 0; found.length < wanted && tries < wanted * TRIES_EACH && seen.size < combinations; tries++) {
      const values = Object.fromEntries(
        choices.map(({ name, values: all }) => [name, all[Math.floor(random() * all.length)] ?? '']),
      );
      const key = JSON.stringify(values);
      if (seen.has(key)) continue;
      seen.add(key);
      const tried = tryValues(kernel, builder, exercise, values);
      const { volumeMm3 = 0 } = 'code' in tried ? {} : tried.properties;
      const reason =
        'code' in tried
          ? tried.code
          : (lossOf(base, tried)?.code ??
            (found.some((other) => tooAlike(other.volumeMm3, volumeMm3, tolerance)) ? 'too-alike' : null));
      if (reason === null) found.push({ name: String(found.length + 1), values, volumeMm3 });
      else left[reason] = (left[reason] ?? 0) + 1;
      onProgress?.(found.length, tries + 1);
    }
    return { variants: found.map(({ name, values }) => ({ name, values })), left };
  });
}

function valuesOf({ name, from, to, step }: ParameterRange, { recipe }: Exercise): readonly string[] {
  const bad = (why: string) => new ProblemError('bad-range', `The range of ${name} is not sound: ${why}.`);
  if (!recipe.parameters.some((parameter) => parameter.name === name)) throw bad('the part has no such letter');
  if (![from, to, step].every(Number.isFinite)) throw bad('it needs three numbers');
  if (!(step > 0)) throw bad('the step must be greater than zero');
  if (to < from) throw bad('it ends before it begins');
  const count = Math.floor((to - from) / step + 1e-9) + 1;
  if (count > 10_000) throw bad('the step is too small');
  return Array.from({ length: count }, (_, i) => String(Number((from + i * step).toFixed(6))));
}
