/** Set, tests go over all parts and variants and not only over a sample: `npm run corpus` does. */
const IS_WHOLE = process.env['ZORVET_WHOLE'] !== undefined;

/**
 * Members of a list for a test to go over: `most` of them, evenly spread from the first on, or all of them in
 * `npm run corpus`. The kernel takes seconds for a part, and every check of the code need not see them all.
 */
export function sampleOf<T>(list: readonly T[], most: number): readonly T[] {
  if (IS_WHOLE || list.length <= most) return list;
  const kept = new Set(Array.from({ length: most }, (_, i) => Math.floor((i * list.length) / most)));
  return list.filter((_, i) => kept.has(i));
}
