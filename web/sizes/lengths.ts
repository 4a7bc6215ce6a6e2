/** Lengths as a shop writes them: in both units, and inches as the nearest fraction. */
import { formatFixed, LENGTH_UNITS } from '#core/quantity';
import { fractionText } from '#core/sheet';
import type { SumQuantity } from '#core/shopsum';

const SIXTY_FOURTHS = 64;
const DEGREES = 180 / Math.PI;

/** "1 3/4" of inches to the nearest sixty-fourth, with what is left over: "+ .0030". */
export function nearestFraction(lengthMm: number): string {
  const inches = Math.abs(lengthMm) / LENGTH_UNITS.in;
  const nearest = Math.round(inches * SIXTY_FOURTHS) / SIXTY_FOURTHS;
  const words = fractionText(nearest * LENGTH_UNITS.in, { unit: 'in', decimals: 4 });
  const left = inches - nearest;
  const rest =
    Math.abs(left) < 5e-5 ? '' : ` ${left < 0 ? '-' : '+'} ${formatFixed(Math.abs(left), 4).replace(/^0/, '')}`;
  return `${lengthMm < 0 ? '-' : ''}${words}${rest}`;
}

export const inMm = (lengthMm: number): string => `${String(Number(formatFixed(lengthMm, 4)))} mm`;
export const inInches = (lengthMm: number): string => `${formatFixed(lengthMm / LENGTH_UNITS.in, 4)} in`;

/** A result of a sum with its units. */
export function resultText(value: number, quantity: SumQuantity): string {
  switch (quantity) {
    case 'length':
      return `${inMm(value)} = ${inInches(value)}`;
    case 'angle':
      return `${String(Number(formatFixed(value * DEGREES, 4)))}°`;
    case 'mass':
      return `${String(Number(formatFixed(value, 3)))} g`;
    case 'volume':
      return `${String(Number(formatFixed(value, 2)))} mm³`;
    case 'density':
      return `${String(value)} g/cm³`;
    case 'count':
      return String(Number(formatFixed(value, 4)));
  }
}
