import type { CheckGroup } from '#core/check';
import { formatFixed, LENGTH_UNITS, propertyUnits, unitFactor, type DrawingUnit } from '#core/quantity';

import type { Report, ReportLine } from './report.ts';

/** How a number is written. */
interface Written {
  /** Of the drawing. */
  readonly unit: DrawingUnit;
  readonly decimals: number;
  readonly like?: number;
}

/**
 * A quantity of the base unit as the report of a part in `unit` writes it, without the unit. `like` is the value whose
 * decimals are used, so that a deviation is written as finely as what it deviates from.
 */
export function quantityText(
  value: number,
  quantity: ReportLine['quantity'],
  { unit, decimals, like = value }: Written,
): string {
  if (quantity === 'count') return formatFixed(value, 0);
  if (quantity === 'yes-no') return value === 0 ? 'no' : 'yes';
  if (quantity === 'angle' || quantity === 'percent') return formatFixed(value, 2);
  if (quantity === 'density') return formatFixed(value, 3);
  if (quantity === 'length' || quantity === 'point') return formatFixed(value / LENGTH_UNITS[unit], decimals + 1);
  const factor = unitFactor(propertyUnits(unit)[quantity], quantity);
  const size = Math.abs(like / factor);
  return formatFixed(value / factor, size >= 1000 ? 1 : size >= 10 ? 2 : 4);
}

/** Units that do not depend on the drawing. */
const PLAIN_UNITS: Readonly<Partial<Record<ReportLine['quantity'], string>>> = {
  count: '',
  'yes-no': '',
  angle: '°',
  percent: '%',
  density: 'g/cm³',
};

/** The unit that goes with `quantityText`; empty for counts. */
export function quantityUnit(quantity: ReportLine['quantity'], unit: DrawingUnit): string {
  const plain = PLAIN_UNITS[quantity];
  if (plain !== undefined) return plain;
  const units: Readonly<Partial<Record<ReportLine['quantity'], string>>> = propertyUnits(unit);
  return units[quantity] ?? propertyUnits(unit).length;
}

/** A value of a line with its unit, as finely as what was measured; null where there is none, or it is a point. */
export function valueText(
  value: number | null,
  { quantity, measured }: ReportLine,
  { unit, decimals }: Pick<Report, 'unit' | 'decimals'>,
): string | null {
  if (value === null || quantity === 'point') return null;
  return `${quantityText(value, quantity, { unit, decimals, like: measured ?? value })} ${quantityUnit(quantity, unit)}`.trim();
}

/** Headings of the groups of checks in a report. */
export const GROUP_TITLES: Readonly<Record<CheckGroup, string>> = {
  dimensions: 'Dimensions',
  features: 'Features',
  properties: 'Volume and mass properties',
  'model-quality': 'The body',
};
