import type { FieldPath } from './form.ts';

/** The value at a path of keys and indices; undefined where the path leads nowhere. */
export const getIn = (value: unknown, path: FieldPath): unknown =>
  path.reduce<unknown>(
    (inner, key) =>
      typeof inner === 'object' && inner !== null ? (inner as Record<string | number, unknown>)[key] : undefined,
    value,
  );

/** A copy with another value at a path; `undefined` takes a key, or an item of a list, away. */
export function setIn<T>(value: T, path: FieldPath, replacement: unknown): T {
  const [key, ...rest] = path;
  if (key === undefined) return replacement as T;
  if (Array.isArray(value)) {
    const items: readonly unknown[] = value;
    return (
      rest.length === 0 && replacement === undefined
        ? items.filter((_, i) => i !== key)
        : items.map((item, i) => (i === key ? setIn(item, rest, replacement) : item))
    ) as T;
  }
  const object = (typeof value === 'object' && value !== null ? value : {}) as Record<string, unknown>;
  const inner = setIn(object[key], rest, replacement);
  if (inner === undefined) {
    const { [key]: _, ...others } = object;
    return others as T;
  }
  return { ...object, [key]: inner } as T;
}
