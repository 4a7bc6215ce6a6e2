import type { FieldPath } from '#core/recipe';

/** The path of the first difference between two values; null when there is none. */
export function firstDifference(before: unknown, after: unknown): FieldPath | null {
  if (Object.is(before, after)) return null;
  if (typeof before !== 'object' || typeof after !== 'object' || before === null || after === null) return [];
  const [a, b] = [before as Record<string, unknown>, after as Record<string, unknown>];
  for (const key of new Set([...Object.keys(a), ...Object.keys(b)])) {
    const inner = firstDifference(a[key], b[key]);
    if (inner !== null) return [key, ...inner];
  }
  return null;
}
