import { expect, it } from 'vitest';

import { cleatPlateExercise } from '#demo/exercises';

import { beginning } from './beginning.ts';

const ASKED = {
  exerciseNumber: 'SB-301',
  exerciseTitle: 'Mast step',
  unit: 'mm' as const,
  letters: [
    { name: 'A', value: '140', label: 'Length' },
    { name: 'C', value: '9', label: '' },
  ],
};

it('a part begins with the letters of the sheet and no steps', () => {
  expect(beginning(ASKED, null)).toMatchObject({
    name: 'SB-301 Mast step',
    unit: 'mm',
    steps: [],
    parameters: [
      { name: 'A', value: '140', label: 'Length' },
      { name: 'C', value: '9' },
    ],
  });
});

it('a further stage begins with the steps of the one before, the new values, and letters that the student added', () => {
  const earlier = {
    ...cleatPlateExercise.recipe,
    parameters: [
      { name: 'A', value: '120' },
      { name: 'edge', value: '7' },
    ],
  };
  const begun = beginning(ASKED, earlier);
  expect(begun.steps).toEqual(earlier.steps);
  expect(begun.parameters.map(({ name, value }) => [name, value])).toEqual([
    ['A', '140'],
    ['C', '9'],
    ['edge', '7'],
  ]);
});
