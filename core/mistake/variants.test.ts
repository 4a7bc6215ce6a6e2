import { describe, expect, it } from 'vitest';

import { blurOf, type Coverage, type CoverageRow } from '#core/mistake';

const row = (id: string): CoverageRow => ({
  mistake: {
    id,
    kind: 'digits-swapped',
    prior: 1,
    edits: [{ kind: 'parameter', name: 'A', value: '1' }],
    expression: null,
    stepIds: [id.slice(0, 1)],
    message: '',
    summary: `says ${id}`,
  },
  caughtBy: [],
  change: 1,
});

const coverage = (ids: readonly string[], rest: Partial<Coverage> = {}): Coverage => ({
  score: 1,
  located: 1,
  rows: ids.map(row),
  blind: [],
  idle: [],
  alike: [],
  keepVolume: [],
  counts: { entries: ids.length, unchanged: 0, unbuilt: 0 },
  ...rest,
});

describe('the values of a variant', () => {
  const drawn = coverage(['a:x=10', 'b:y=4', 'c:z=7/one'], { keepVolume: ['b:y=4'] });

  it('are compared mistake by mistake, whatever value each has', () => {
    const own = coverage(['a:x=12', 'b:y=5', 'c:z=8/one'], { keepVolume: ['a:x=12', 'b:y=5'] });
    expect(blurOf('V1', own, drawn)).toEqual({ name: 'V1', keepVolume: ['says a:x=12'], alike: [] });
  });

  it('make mistakes look the same that the part as drawn tells apart', () => {
    const own = coverage(['a:x=12', 'b:y=5', 'c:z=8/one'], { alike: [['a:x=12', 'b:y=5', 'c:z=8/one']] });
    const alikeAsDrawn = { ...drawn, alike: [['b:y=4', 'a:x=10']] };
    expect(blurOf('V1', own, alikeAsDrawn).alike).toEqual([
      ['says a:x=12', 'says c:z=8/one'],
      ['says b:y=5', 'says c:z=8/one'],
    ]);
  });

  it('are not asked which of two numbers of one step was misread', () => {
    const twice = coverage(['a:x=10', 'a:w=3']);
    const own = coverage(['a:x=12', 'a:w=4'], { alike: [['a:x=12', 'a:w=4']] });
    expect(blurOf('V1', own, twice).alike).toEqual([]);
  });

  it('are not blamed for mistakes that the part as drawn was never tested with', () => {
    const own = coverage(['d:w=3', 'a:x=12'], { keepVolume: ['d:w=3'], alike: [['d:w=3', 'a:x=12']] });
    expect(blurOf('V1', own, drawn)).toEqual({ name: 'V1', keepVolume: [], alike: [] });
  });
});
