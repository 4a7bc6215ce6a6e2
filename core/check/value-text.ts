import { formatFixed, lengthText, propertyUnits, unitFactor, type DrawingUnit } from '#core/quantity';

import { kindOf, type CheckKind } from './kinds/index.ts';

/** How an exercise writes its values. */
interface Drawn {
  readonly recipe: { readonly unit: DrawingUnit };
  readonly decimals: number;
}

/** A value that a check of a kind measures on the reference, with its unit. */
export function checkValueText(kind: CheckKind, value: number, { recipe: { unit }, decimals }: Drawn): string {
  const quantity = kindOf(kind).quantity;
  switch (quantity) {
    case 'volume':
    case 'area':
    case 'mass': {
      const own = propertyUnits(unit)[quantity];
      const inUnit = value / unitFactor(own, quantity);
      return `${formatFixed(inUnit, inUnit > 1000 ? 1 : inUnit > 10 ? 2 : 4)} ${own}`;
    }
    case 'angle':
      return `${formatFixed(value, 2)}°`;
    case 'count':
      return String(value);
    case 'yes-no':
      return value === 1 ? 'yes' : 'no';
    case 'percent':
      return `${formatFixed(value, 2)} %`;
    case 'density':
      return `${formatFixed(value, 2)} g/cm³`;
    case 'length':
    case 'point':
      return lengthText(value, unit, decimals);
  }
}
