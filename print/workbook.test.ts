import { describe, expect, it } from 'vitest';

import { columnName, meanFormula } from './workbook.ts';

describe('the formulas of a workbook', () => {
  // With 3 scores and 1 left out: (sum - lowest) / 2; with 1 score, that score.
  it.each([
    [0, 'IF(COUNT(D3:F3)=0,"",AVERAGE(D3:F3))'],
    [
      2,
      'IF(COUNT(D3:F3)=0,"",IF(COUNT(D3:F3)<=2,MAX(D3:F3),(SUM(D3:F3)-SMALL(D3:F3,1)-SMALL(D3:F3,2))/(COUNT(D3:F3)-2)))',
    ],
  ])('leaves out the %i lowest', (dropLowest, words) => {
    expect(meanFormula('D3:F3', dropLowest)).toBe(words);
  });

  it.each([
    [0, 'A'],
    [25, 'Z'],
    [26, 'AA'],
    [701, 'ZZ'],
    [702, 'AAA'],
  ])('calls column %i %s', (place, name) => {
    expect(columnName(place)).toBe(name);
  });
});
