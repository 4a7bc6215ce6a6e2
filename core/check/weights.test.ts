import { describe, expect, it } from 'vitest';

import type { Check } from './kinds/index.ts';
import { scaledWeights } from './weights.ts';

describe('the weight of a group', () => {
  const check = (id: string, weight: number, off?: true) => ({ id, weight, off }) as unknown as Check;
  it('is shared out as before, and adds up whatever rounding does', () => {
    const weights = scaledWeights([check('a', 1), check('b', 1), check('c', 1), check('d', 7, true)], 10);
    expect([...(weights ?? [])]).toEqual([
      ['a', 3.33],
      ['b', 3.33],
      ['c', 3.34],
    ]);
  });
  it('is shared out evenly where there was none', () => {
    expect(scaledWeights([check('a', 0), check('b', 0)], 8)?.get('a')).toBe(4);
  });
  it('is refused when it makes no sense', () => {
    expect(scaledWeights([check('a', 1)], Number.NaN)).toBeNull();
    expect(scaledWeights([check('a', 1, true)], 10)).toBeNull();
  });
});
