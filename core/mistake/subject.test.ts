import { describe, expect, it } from 'vitest';

import { rounded, swapDigits, written } from './subject.ts';

describe('a number of a mistake', () => {
  it.each([
    [0.1 + 0.2, '0.3'],
    [12.7 / 25.4, '0.5'],
    [1 / 3, '0.333333'],
    [9.000_000_4, '9'],
    [9.000_001, '9.000001'],
    [-4.5, '-4.5'],
    [120, '120'],
  ])('is written without the noise of its arithmetic: %d is %s', (value, text) => {
    expect(written(value)).toBe(text);
    expect(rounded(value)).toBe(Number(text));
  });
});

describe('two digits swapped', () => {
  it.each([
    ['64', '46'],
    ['120', '210'],
    ['6.4', null],
    ['12.75', '21.75'],
    ['11.75', '11.57'],
    ['77', null],
    ['50', null],
    ['502', '520'],
    ['-46', '-64'],
    ['7', null],
    ['1e5', null],
  ])('%s becomes %s: the first two unlike neighbors, and never a zero in front', (text, swapped) => {
    expect(swapDigits(text)).toBe(swapped);
  });
});
