import { describe, expect, it } from 'vitest';

import {
  evaluateExpression,
  evaluateParameters,
  formatFixed,
  namesIn,
  parseTyped,
  recognizeUnit,
} from '#core/quantity';

const valueOf = (text: string, scope: Record<string, number> = {}, unit: 'mm' | 'in' = 'mm') => {
  const result = evaluateExpression(text, scope, unit);
  return result.ok ? result.value : result.problem.code;
};

describe('sizes typed as expressions', () => {
  it.each([
    ['84 - 2*7.5', 69],
    ['1 3/4', 1.75],
    ['5/16', 0.3125],
    ['1.375/2', 0.6875],
    ['0,5', 0.5],
    ['-(3 + 4)*2', -14],
    ['2^3', 8],
    ['sqrt(16) + abs(-2)', 6],
    ['max(1, 5; 3)', 5],
    ['10*sin(30)', 5],
    ['2*pi', 2 * Math.PI],
  ])('%s is %d', (text, value) => {
    expect(valueOf(text)).toBeCloseTo(value, 12);
  });

  it('uses the letters of the sheet', () => {
    expect(valueOf('A/2 - 14', { A: 120 })).toBe(46);
  });

  it('converts a unit to that of the drawing', () => {
    expect(valueOf('1 in')).toBeCloseTo(25.4, 12);
    expect(valueOf('25.4 mm', {}, 'in')).toBeCloseTo(1, 12);
    expect(valueOf('1 1/2"')).toBeCloseTo(38.1, 12);
  });

  it.each([
    ['', 'expression-empty'],
    ['3 +', 'expression-syntax'],
    ['(3', 'expression-syntax'],
    ['3 4', 'expression-syntax'],
    ['3 & 4', 'expression-syntax'],
    ['D/2', 'unknown-name'],
    ['constructor', 'unknown-name'],
    ['1/(2-2)', 'division-by-zero'],
    ['sqrt(-1)', 'not-finite'],
    ['('.repeat(500) + '1' + ')'.repeat(500), 'expression-syntax'],
  ])('refuses "%s" with %s', (text, code) => {
    expect(valueOf(text)).toBe(code);
  });

  it('names what an expression depends on, but not functions and units', () => {
    expect(namesIn('max(A, 2 in) + B*pi')).toEqual(['A', 'B']);
  });
});

describe('parameters that refer to each other', () => {
  it('are evaluated in any order', () => {
    const scope = evaluateParameters(
      [
        { name: 'C', value: 'A + B' },
        { name: 'B', value: 'A/2' },
        { name: 'A', value: '10' },
      ],
      'mm',
    );
    expect(scope).toEqual({ ok: true, value: { A: 10, B: 5, C: 15 } });
  });

  it('are refused when they go round in a circle, and the circle is named', () => {
    const scope = evaluateParameters(
      [
        { name: 'A', value: 'B + 1' },
        { name: 'B', value: 'A + 1' },
      ],
      'mm',
    );
    expect(scope.ok ? '' : scope.problem.message).toContain('A → B → A');
  });
});

describe('numbers that a student types', () => {
  it.each([
    ['412.6', 'mass', 'g', 412.6],
    ['412,6', 'mass', 'g', 412.6],
    ['1.234,5', 'volume', 'mm³', 1234.5],
    ['1,234.5', 'volume', 'mm³', 1234.5],
    ['1,234,567', 'volume', 'mm³', 1234567],
    ['152 800', 'volume', 'mm³', 152800],
    ['0.9 lb', 'mass', 'g', 0.9 * 453.59237],
    ['14,69 in3', 'volume', 'mm³', 14.69 * 25.4 ** 3],
    ['-3.25"', 'length', 'mm', -82.55],
    ['1.5e3', 'volume', 'mm³', 1500],
  ] as const)('"%s" is read', (text, kind, unit, value) => {
    const typed = parseTyped(text, kind, unit);
    expect(typed.ok && typed.value.value).toBeCloseTo(value, 6);
  });

  it('keep how finely they were stated', () => {
    const typed = parseTyped('412.60', 'mass', 'g');
    expect(typed.ok && typed.value.resolution).toBeCloseTo(0.005, 12);
  });

  it.each([
    ['1.25e3', 5],
    ['1e99', 0.05e99],
    ['0e9', 0.5],
  ])('"%s" does not stand for every number near it', (text, coarsest) => {
    const typed = parseTyped(text, 'length', 'mm');
    expect(typed.ok && typed.value.resolution).toBeCloseTo(coarsest, -Math.log10(coarsest) + 3);
  });

  it.each([
    ['heavy', 'not-a-number'],
    ['12..5', 'not-a-number'],
    ['1,23,4', 'not-a-number'],
    ['', 'not-a-number'],
    ['12 mm', 'unknown-unit'],
    ['12 parrots', 'unknown-unit'],
  ])('"%s" as a mass is refused with %s and an example', (text, code) => {
    const typed = parseTyped(text, 'mass', 'g');
    expect(typed.ok ? '' : typed.problem.code).toBe(code);
  });
});

it('recognizes the spellings of a unit', () => {
  expect(recognizeUnit('lbs', 'mass')).toBe('lb');
  expect(recognizeUnit('in^3', 'volume')).toBe('in³');
  expect(recognizeUnit('mm', 'mass')).toBeNull();
});

it('never writes a negative zero', () => {
  expect(formatFixed(-0.0001, 2)).toBe('0.00');
});
