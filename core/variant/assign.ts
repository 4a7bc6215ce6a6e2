import { randomFrom, shuffled } from './random.ts';

/**
 * Which variant each student gets, as an index: the same for the same seed, no variant more than once more often than
 * another, and another one for each retake while there are several. `students` are ids; their order does not matter.
 */
export function assignVariants(
  students: readonly number[],
  variantCount: number,
  seed: number,
  retake = 0,
): ReadonlyMap<number, number> {
  if (variantCount < 1) return new Map();
  const random = randomFrom(seed);
  const order = shuffled(
    [...students].sort((a, b) => a - b),
    random,
  );
  return new Map(order.map((student, i) => [student, (i + retake) % variantCount]));
}
