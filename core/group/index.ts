/**
 * Things by what they have in common, each group and the things in it in the order in which they come; as `Map.groupBy` of
 * later versions of the runtime. No group is empty.
 */
export function groupBy<T, K>(items: Iterable<T>, keyOf: (item: T) => K): ReadonlyMap<K, readonly [T, ...T[]]> {
  const groups = new Map<K, [T, ...T[]]>();
  for (const item of items) {
    const key = keyOf(item);
    const group = groups.get(key);
    if (group === undefined) groups.set(key, [item]);
    else group.push(item);
  }
  return groups;
}

/** The groups alone, where nobody asks for their keys. */
export const grouped = <T>(items: Iterable<T>, keyOf: (item: T) => unknown): readonly (readonly [T, ...T[]])[] => [
  ...groupBy(items, keyOf).values(),
];
