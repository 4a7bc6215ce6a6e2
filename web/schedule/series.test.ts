import { expect, it } from 'vitest';

import { USUAL_AIDS } from '#api';

import { emptyPlan, issuesOf, movedBy } from './series.ts';

const DATES = [1, 2, 3].map((day) => ({
  opensAt: `2027-03-0${String(day)}T08:00:00.000Z`,
  dueAt: `2027-03-0${String(day + 3)}T17:00:00.000Z`,
}));

it('responsibility passes from what is worked together to what is done alone, exercise by exercise', () => {
  const help = new Map([
    [11, 'together'],
    [13, 'alone'],
  ] as const);
  const issues = issuesOf({ ...emptyPlan(), sectionIds: [4, 5], series: [11, 12, 13], help }, DATES);
  expect(issues.map(({ exerciseId, aids }) => [exerciseId, aids?.worked, aids?.sizes, aids?.round])).toEqual([
    [11, 'shown', USUAL_AIDS.sizes, USUAL_AIDS.round],
    [12, 'none', USUAL_AIDS.sizes, USUAL_AIDS.round],
    [13, 'none', 'none', 'none'],
  ]);
  expect(issues.every(({ sectionId, alsoTo }) => sectionId === 4 && alsoTo?.[0]?.sectionId === 5)).toBe(true);
});

it('an exercise moves by one place, and stays at either end', () => {
  expect(movedBy([1, 2, 3], 2, -1)).toEqual([2, 1, 3]);
  expect(movedBy([1, 2, 3], 3, 1)).toEqual([1, 2, 3]);
  expect(movedBy([1, 2, 3], 1, -1)).toEqual([1, 2, 3]);
});
