import { refuse, succeed, type Result } from '#core/problem';

import { LENGTH_UNITS, recognizeUnit, unitFactor, unitsOf, type DrawingUnit, type QuantityKind } from './units.ts';

/** A number as a person typed it: its value in the base unit and how finely it was stated. */
export interface TypedQuantity {
  /** Value in mm, g, mm3 or mm2. */
  readonly value: number;
  readonly unit: string;
  /** Half of the last place that was typed, in the base unit: the number says no more than this. */
  readonly resolution: number;
}

const KIND_EXAMPLES: Readonly<Record<QuantityKind, string>> = {
  length: '12.5 mm',
  mass: '412.6 g',
  volume: '152800 mm³',
  area: '8200 mm²',
};

/**
 * Removes grouping from a typed number and returns it with a decimal point. The later of "," and "." is the decimal
 * mark when both occur; a mark that occurs more than once groups thousands; a single mark is the decimal mark.
 * Returns null when it is not a number.
 */
export function normalizeNumber(text: string): string | null {
  const plain = text
    .trim()
    .replace(/[\s\u00a0\u202f']/g, '')
    .replace(/\u2212/g, '-');
  const commas = plain.split(',').length - 1;
  const points = plain.split('.').length - 1;
  let number: string;
  if (commas > 0 && points > 0) {
    const decimal = plain.lastIndexOf(',') > plain.lastIndexOf('.') ? ',' : '.';
    const group = decimal === ',' ? '.' : ',';
    const [head = '', ...rest] = plain.split(decimal);
    if (rest.length !== 1 || !isGrouped(head, group)) return null;
    number = `${head.replaceAll(group, '')}.${rest[0] ?? ''}`;
  } else if (commas > 1 || points > 1) {
    const group = commas > 1 ? ',' : '.';
    if (!isGrouped(plain, group)) return null;
    number = plain.replaceAll(group, '');
  } else {
    number = plain.replace(',', '.');
  }
  return /^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d{1,2})?$/i.test(number) ? number : null;
}

const isGrouped = (text: string, group: string): boolean => {
  const [first = '', ...rest] = text.replace(/^[-+]/, '').split(group);
  return first.length >= 1 && first.length <= 3 && rest.every((part) => /^\d{3}/.test(part) && part.length === 3);
};

/** No number that is written with a power of ten is taken for coarser than this share of itself. */
const COARSEST_SHARE = 0.1;

/**
 * Reads a number typed by a person, with decimal comma or point, and an optional unit that overrides `defaultUnit`.
 * Refuses with `not-a-number`, `unknown-unit`.
 */
export function parseTyped(text: string, kind: QuantityKind, defaultUnit: string): Result<TypedQuantity> {
  const match = /^([-+\u2212]?[\d.,\s\u00a0\u202f']*(?:\d(?:e[-+]?\d+)?|\d\.))\s*([^\d\s].*)?$/i.exec(text.trim());
  const number = match?.[1] === undefined ? null : normalizeNumber(match[1]);
  if (number === null)
    return refuse(
      'not-a-number',
      `"${text.trim().slice(0, 40)}" is not a number. Type one like ${KIND_EXAMPLES[kind]}, with a point or a comma.`,
    );
  const unitText = match?.[2]?.trim();
  const unit = unitText ? recognizeUnit(unitText, kind) : defaultUnit;
  if (unit === null)
    return refuse(
      'unknown-unit',
      `"${unitText?.slice(0, 20) ?? ''}" is not a unit of ${kind}. Use one of ${unitsOf(kind).join(', ')}.`,
    );
  const factor = unitFactor(unit, kind);
  const [mantissa = '', exponent = '0'] = number.toLowerCase().split('e');
  const decimals = mantissa.includes('.') ? mantissa.length - mantissa.indexOf('.') - 1 : 0;
  const value = Number(number);
  const lastDigit = 10 ** -decimals;
  // "1e5" and "0e9" do not stand for every number near them: powers of ten widen it to a share of the number only.
  const asWritten = lastDigit * 10 ** Number(exponent);
  const step = Math.min(asWritten, Math.max(lastDigit, Math.abs(value) * COARSEST_SHARE));
  return succeed({ value: value * factor, unit, resolution: 0.5 * step * factor });
}

/** `value` with a fixed number of decimals and no negative zero. */
export function formatFixed(value: number, decimals: number): string {
  const text = value.toFixed(decimals);
  return Number(text) === 0 ? text.replace('-', '') : text;
}

const SIXTY_FOURTHS = 64;

/**
 * Decimals that a drawing writes a length with, in its unit: the usual ones; of inches that are a whole number of
 * sixty-fourths as many as these need, so that what is printed is what is graded: .1875.
 */
export const drawnDecimals = (value: number, unit: DrawingUnit, usual: number): number =>
  unit === 'in' && Math.abs(value * SIXTY_FOURTHS - Math.round(value * SIXTY_FOURTHS)) < 1e-6
    ? Math.max(usual, String(Number(value.toFixed(6))).split('.')[1]?.length ?? 0)
    : usual;

/** A length as reports write it, with its unit and as many decimals as the drawing has. */
export function lengthText(lengthMm: number, unit: DrawingUnit, usual: number): string {
  const value = lengthMm / LENGTH_UNITS[unit];
  return `${formatFixed(value, drawnDecimals(value, unit, usual))} ${unit}`;
}

/** Decimals that show `value` with about `digits` significant digits, between 0 and 6. */
export const decimalsFor = (value: number, digits: number): number =>
  Math.max(0, Math.min(6, digits - 1 - Math.floor(Math.log10(Math.max(Math.abs(value), 1e-9)))));
