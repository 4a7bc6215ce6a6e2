import { refuse, succeed, type Result } from '#core/problem';
import { evaluateExpression, LENGTH_UNITS, parseTyped, type DrawingUnit, type Scope } from '#core/quantity';

import type { PrintedDimension } from './printed.ts';

/** What a reading of the own model is beside the sheet. */
export type ReadingVerdict =
  | { readonly kind: 'agrees' }
  | {
      readonly kind: 'differs';
      /** What such a difference often comes of: half or twice of it was read, in the other unit, or the other side of an angle. */
      readonly likely: 'half' | 'twice' | 'other-unit' | 'supplement' | null;
    }
  | { readonly kind: 'unreadable'; readonly message: string };

/** What a number may be off by the rounding of a measuring tool, as a share of what the sheet allows. */
const ROUNDING_SHARE = 1e-6;

/** Reads degrees or a count, with point or comma. Refuses with `not-a-number`. */
function plainNumber(text: string): Result<number> {
  const number = Number(
    text
      .trim()
      .replace(/\s*(°|deg(rees)?)$/i, '')
      .replace(',', '.'),
  );
  return text.trim() === '' || !Number.isFinite(number)
    ? refuse('not-a-number', `"${text.trim().slice(0, 40)}" is not a number.`)
    : succeed(number);
}

/** mm of a length that was typed, with a unit or in that of the drawing: "12,5", "1 3/4", "A - 15", "0.5 in". */
export function lengthTyped(text: string, unit: DrawingUnit, letters: Scope = {}): Result<number> {
  const sum = evaluateExpression(text, letters, unit);
  if (sum.ok) return succeed(sum.value * LENGTH_UNITS[unit]);
  const typed = parseTyped(text, 'length', unit);
  return typed.ok ? succeed(typed.value.value) : typed;
}

const near = (value: number, to: number, tolerance: number): boolean =>
  Math.abs(value - to) <= tolerance * (1 + ROUNDING_SHARE) + 1e-9;

/**
 * Holds what was read off a model beside a dimension of its sheet. `text` is what was typed, in the unit of the drawing
 * where it has none of its own; angles in degrees.
 */
export function judgeReading(dimension: PrintedDimension, text: string, unit: DrawingUnit): ReadingVerdict {
  const { nominal, tolerance, quantity } = dimension;
  const read = quantity === 'length' ? lengthTyped(text, unit) : plainNumber(text);
  if (!read.ok) return { kind: 'unreadable', message: read.problem.message };
  const value = Math.abs(read.value);
  const is = (wanted: number): boolean => near(value, Math.abs(wanted), tolerance);
  if (is(nominal)) return { kind: 'agrees' };
  return { kind: 'differs', likely: likelyOf(is, dimension, unit) };
}

function likelyOf(
  is: (wanted: number) => boolean,
  { nominal, quantity }: PrintedDimension,
  unit: DrawingUnit,
): Extract<ReadingVerdict, { kind: 'differs' }>['likely'] {
  if (quantity === 'count') return null;
  if (is(nominal / 2)) return 'half';
  if (is(nominal * 2)) return 'twice';
  if (quantity === 'angle') return is(180 - nominal) ? 'supplement' : null;
  const ratio = LENGTH_UNITS.in / LENGTH_UNITS.mm;
  return is(unit === 'in' ? nominal / ratio : nominal * ratio) ? 'other-unit' : null;
}
