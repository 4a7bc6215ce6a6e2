/** Measured values in the units of an exercise. */
import { formatFixed, LENGTH_UNITS, propertyUnits, unitFactor, type DrawingUnit } from '#core/quantity';
import type { Reading } from '#core/measure';

const DECIMALS: Readonly<Record<DrawingUnit, number>> = { mm: 3, in: 4 };
const DEGREES = 180 / Math.PI;

/** A length in the unit of the drawing. */
export const lengthText = (lengthMm: number, unit: DrawingUnit): string =>
  formatFixed(lengthMm / LENGTH_UNITS[unit], DECIMALS[unit]);

/** A volume, area or mass in the unit that goes with the drawing; small ones with more decimals. */
export function propertyText(amount: number, kind: 'volume' | 'area' | 'mass', unit: DrawingUnit): string {
  const own = propertyUnits(unit)[kind];
  const value = amount / unitFactor(own, kind);
  return `${formatFixed(value, value > 1000 ? 2 : value > 10 ? 3 : 4)} ${own}`;
}

/** What was read, with its unit, and what facets leave open where that can be seen. */
export function readingText(reading: Reading, unit: DrawingUnit): string {
  switch (reading.kind) {
    case 'length': {
      const doubt = lengthText(reading.uncertaintyMm, unit);
      const open = Number(doubt) > 0 ? ` ± ${doubt}` : '';
      return `${lengthText(reading.lengthMm, unit)}${open} ${unit}`;
    }
    case 'angle':
      return `${formatFixed(reading.angleRad * DEGREES, 3)}°`;
    case 'area':
      return propertyText(reading.areaMm2, 'area', unit);
    case 'words':
      return '';
  }
}
