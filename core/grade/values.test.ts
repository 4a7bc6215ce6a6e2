import { describe, expect, it } from 'vitest';

import { quantityText, quantityUnit } from '#core/grade';

describe('quantities of a report', () => {
  it.each([
    [25.4, 'length', 'in', 3, '1.0000'],
    [25.4, 'length', 'mm', 1, '25.40'],
    [16387.064, 'volume', 'in', 3, '1.0000'],
    [67123.98, 'volume', 'mm', 1, '67124.0'],
    [453.59237, 'mass', 'in', 3, '1.0000'],
    [447.27, 'mass', 'mm', 1, '447.27'],
    [3, 'count', 'mm', 1, '3'],
  ] as const)('%d as %s in %s', (value, quantity, unit, decimals, text) => {
    expect(quantityText(value, quantity, { unit, decimals })).toBe(text);
  });

  it('a small deviation is written as finely as the large value it belongs to', () => {
    expect(quantityText(-58.32, 'volume', { unit: 'mm', decimals: 1, like: 45_524 })).toBe('-58.3');
  });

  it('have the unit of the sheet; counts have none', () => {
    expect(quantityUnit('area', 'in')).toBe('in²');
    expect(quantityUnit('point', 'mm')).toBe('mm');
    expect(quantityUnit('count', 'mm')).toBe('');
  });
});
