import { expect, it } from 'vitest';

import type { ExerciseSummary } from '#api';

import { filtered, NO_FILTER, sorted } from './filter.ts';

const exercise = (number: string, more: Partial<ExerciseSummary> = {}): ExerciseSummary => ({
  id: Number(number),
  number: `SB-${number}`,
  title: 'Part',
  level: 'introduction',
  unit: 'mm',
  material: 'Aluminum alloy',
  revision: 1,
  checks: 9,
  steps: 4,
  assignments: 0,
  courseId: 1,
  course: 'Fittings 1',
  archivedAt: null,
  tags: [],
  letters: ['A'],
  operations: ['Extrude'],
  words: ['plate', 'counterbore'],
  massG: 120.04,
  ...more,
});
const ALL = [
  exercise('9', { title: 'Winch drum', operations: ['Revolve'], assignments: 2 }),
  exercise('10', { title: 'Cleat plate', tags: ['first week'], unit: 'in', massG: null }),
  exercise('11', { title: 'Mast step', archivedAt: '2026-01-01', massG: 80 }),
];
const found = (change: Partial<typeof NO_FILTER>): readonly string[] =>
  filtered(ALL, { ...NO_FILTER, ...change }).map(({ number }) => number);

it('every word is looked for in number, title, operations, words and mass, whatever its case', () => {
  expect(found({ words: 'DRUM' })).toEqual(['SB-9']);
  expect(found({ words: 'revolve sb-9' })).toEqual(['SB-9']);
  expect(found({ words: 'first week' })).toEqual(['SB-10']);
  expect(found({ words: '120.0 g' })).toEqual(['SB-9']);
  expect(found({ words: 'drum missing' })).toEqual([]);
  expect(found({ words: 'drum counterbore' })).toEqual(['SB-9']);
});

it('what is put away is out of sight until it is asked for', () => {
  expect(found({})).toEqual(['SB-9', 'SB-10']);
  expect(found({ shown: 'put-away' })).toEqual(['SB-11']);
  expect(found({ shown: 'issued' })).toEqual(['SB-9']);
  expect(found({ shown: 'not-issued' })).toEqual(['SB-10']);
});

it('choices hold together', () => {
  expect(found({ unit: 'in' })).toEqual(['SB-10']);
  expect(found({ operation: 'Revolve', unit: 'in' })).toEqual([]);
  expect(found({ tag: 'first week' })).toEqual(['SB-10']);
  expect(found({ course: 'Fittings 2' })).toEqual([]);
});

it('numbers are sorted as numbers, and what has no mass comes last', () => {
  expect(sorted(ALL, 'number').map(({ number }) => number)).toEqual(['SB-9', 'SB-10', 'SB-11']);
  expect(sorted(ALL, 'mass').map(({ number }) => number)).toEqual(['SB-11', 'SB-9', 'SB-10']);
  expect(sorted(ALL, 'issued')[0]?.number).toBe('SB-9');
  const levels = ['advanced', 'introduction', 'intermediate', 'basic'].map((level) => exercise('12', { level }));
  expect(sorted(levels, 'level').map(({ level }) => level)).toEqual([
    'introduction',
    'basic',
    'intermediate',
    'advanced',
  ]);
});
