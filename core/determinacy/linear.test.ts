import { describe, expect, it } from 'vitest';

import { nullCombinations } from './linear.ts';

describe('combinations that no row sees', () => {
  it('are all columns of a table without rows', () => {
    expect(nullCombinations([], 2)).toEqual([
      [1, 0],
      [0, 1],
    ]);
  });

  it('are none where every column has a row of its own', () => {
    expect(
      nullCombinations(
        [
          [1, 0],
          [0.5, 1],
        ],
        2,
      ),
    ).toEqual([]);
  });

  it('hold columns that make up for each other: a + b is seen, so that a and -b together are not', () => {
    expect(nullCombinations([[1, 1, 0]], 3)).toEqual([
      [-1, 1, 0],
      [0, 0, 1],
    ]);
  });

  it('keep the shares: with 2a + b seen, b grows by 2 where a shrinks by 1', () => {
    expect(nullCombinations([[2, 1]], 2)).toEqual([[-0.5, 1]]);
  });

  it('are not made by what finite differences leave', () => {
    expect(nullCombinations([[0.01, 1]], 2)).toEqual([[1, 0]]);
    expect(nullCombinations([[0.03, 0]], 2)).toEqual([[0, 1]]);
  });

  it('change no row, whatever the table is', () => {
    const rows = [
      [1, 2, -1, 0.5, 0],
      [0, 1, 1, -2, 1],
      [1, 3, 0, -1.5, 1],
    ];
    const found = nullCombinations(rows, 5);
    // The third row is the sum of the first two: rank 2 of 5 columns.
    expect(found).toHaveLength(3);
    for (const shares of found)
      for (const row of rows)
        expect(row.reduce((sum, value, i) => sum + value * (shares[i] ?? 0), 0)).toBeCloseTo(0, 9);
  });
});
