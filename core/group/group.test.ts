import { expect, it } from 'vitest';

import { groupBy, grouped } from '#core/group';

it('things are grouped by what they have in common, in the order in which they come', () => {
  const words = ['keel', 'oar', 'kite', 'anchor', 'ore'];
  const first = (word: string) => word[0];
  expect([...groupBy(words, first)]).toEqual([
    ['k', ['keel', 'kite']],
    ['o', ['oar', 'ore']],
    ['a', ['anchor']],
  ]);
  expect(grouped(words, first)).toEqual([['keel', 'kite'], ['oar', 'ore'], ['anchor']]);
  expect(grouped([], first)).toEqual([]);
});
