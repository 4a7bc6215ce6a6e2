/** Keys and indices that lead to a value within a document. */
export type Path = readonly (string | number)[];

/** The value at a path; undefined where the path leads nowhere. */
export const getIn = (value: unknown, path: Path): unknown =>
  path.reduce<unknown>(
    (inner, key) =>
      typeof inner === 'object' && inner !== null ? (inner as Record<string | number, unknown>)[key] : undefined,
    value,
  );

/** A copy with another value at a path; `undefined` takes the key away. */
export function setIn<T>(value: T, path: Path, replacement: unknown): T {
  const [key, ...rest] = path;
  if (key === undefined) return replacement as T;
  if (Array.isArray(value)) {
    const items: readonly unknown[] = value;
    return items.map((item, i) => (i === key ? setIn(item, rest, replacement) : item)) as T;
  }
  const object = (typeof value === 'object' && value !== null ? value : {}) as Record<string, unknown>;
  const inner = setIn(object[key], rest, replacement);
  if (inner === undefined) {
    const { [key]: _, ...others } = object;
    return others as T;
  }
  return { ...object, [key]: inner } as T;
}

/** The path of the first difference between two values; null when there is none. */
export function firstDifference(before: unknown, after: unknown): Path | null {
  if (Object.is(before, after)) return null;
  if (typeof before !== 'object' || typeof after !== 'object' || before === null || after === null) return [];
  const [a, b] = [before as Record<string, unknown>, after as Record<string, unknown>];
  for (const key of new Set([...Object.keys(a), ...Object.keys(b)])) {
    const inner = firstDifference(a[key], b[key]);
    if (inner !== null) return [key, ...inner];
  }
  return null;
}
