import { format, formatDistanceToNowStrict, isPast, isToday } from 'date-fns';

import { formatFixed, LENGTH_UNITS, propertyUnits, unitFactor, type DrawingUnit } from '#core/quantity';
import type { ReportLine } from '#core/grade';

export const dateTime = (iso: string): string => {
  const date = new Date(iso);
  return isToday(date) ? `today ${format(date, 'HH:mm')}` : format(date, 'd MMM HH:mm');
};

/** Whether a moment is over. */
export const hasPassed = (iso: string): boolean => isPast(new Date(iso));

export const fromNow = (iso: string): string => formatDistanceToNowStrict(new Date(iso), { addSuffix: true });

/**
 * A quantity of the base unit as the report of a part in `unit` writes it, without the unit. `like` is the value whose
 * decimals are used, so that a deviation is written as finely as what it deviates from.
 */
export function quantityText(
  value: number,
  quantity: ReportLine['quantity'],
  unit: DrawingUnit,
  decimals: number,
  like = value,
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

export function quantityUnit(quantity: ReportLine['quantity'], unit: DrawingUnit): string {
  const plain = PLAIN_UNITS[quantity];
  if (plain !== undefined) return plain;
  const units: Readonly<Partial<Record<ReportLine['quantity'], string>>> = propertyUnits(unit);
  return units[quantity] ?? propertyUnits(unit).length;
}

export const fileSize = (bytes: number): string =>
  bytes < 1024 * 1024 ? `${formatFixed(bytes / 1024, 0)} KB` : `${formatFixed(bytes / 1024 / 1024, 1)} MB`;

export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${String(count)} ${count === 1 ? one : many}`;
