/** Small dense linear algebra on plain arrays: what a table of derivatives leaves undetermined. */

/** Below this share of the largest entry a derivative is noise of finite differences. */
const NOISE = 0.02;

/**
 * A basis of the combinations of columns that change no row: one for each column that elimination finds no pivot for, as
 * shares of the columns, 1 for its own. Columns that are later in the list are left over sooner. `rows` are derivatives,
 * each scaled so that what matters is about 1.
 */
export function nullCombinations(
  rows: readonly (readonly number[])[],
  columns: number,
): readonly (readonly number[])[] {
  const work = rows.map((row) => [...row]);
  const pivotOf = new Map<number, readonly number[]>();
  const left: number[] = [];
  const used = new Set<number[]>();
  for (let column = 0; column < columns; column++) {
    const size = (row: readonly number[]): number => Math.abs(row[column] ?? 0);
    const best = work.reduce<number[] | null>(
      (found, row) => (!used.has(row) && size(row) > (found === null ? NOISE : size(found)) ? row : found),
      null,
    );
    if (best === null) {
      left.push(column);
      continue;
    }
    used.add(best);
    const pivot = best[column] ?? 1;
    for (let k = 0; k < columns; k++) best[k] = (best[k] ?? 0) / pivot;
    for (const row of work) {
      const factor = row[column] ?? 0;
      if (row === best || factor === 0) continue;
      for (let k = 0; k < columns; k++) row[k] = (row[k] ?? 0) - factor * (best[k] ?? 0);
    }
    pivotOf.set(column, best);
  }
  return left.map((column) =>
    Array.from({ length: columns }, (_, k) => {
      if (k === column) return 1;
      const share = -(pivotOf.get(k)?.[column] ?? 0);
      return Math.abs(share) < NOISE ? 0 : share;
    }),
  );
}
