import { describe, expect, it } from 'vitest';

import { toleranceOf, toleranceText } from './plan-edit.ts';

describe('a tolerance', () => {
  it.each([
    ['0.05', '0.05'],
    ['±0.05', '0.05'],
    ['-0.02 to +0.05', { lower: '-0.02', upper: '0.05' }],
    ['0 to C/100', { lower: '0', upper: 'C/100' }],
  ] as const)('typed as %s is understood', (text, tolerance) => {
    expect(toleranceOf(text)).toEqual(tolerance);
    expect(toleranceOf(toleranceText(tolerance))).toEqual(tolerance);
  });
});
