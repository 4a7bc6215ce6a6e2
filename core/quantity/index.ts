/** Units, typed numbers and expressions with parameters. */
export {
  AREA_UNITS,
  DrawingUnitSchema,
  LENGTH_UNITS,
  LengthUnitSchema,
  MASS_UNITS,
  VOLUME_UNITS,
  propertyUnits,
  recognizeUnit,
  unitFactor,
  unitsOf,
  type DrawingUnit,
  type LengthUnit,
  type MassUnit,
  type QuantityKind,
} from './units.ts';
export {
  decimalsFor,
  drawnDecimals,
  formatFixed,
  lengthText,
  normalizeNumber,
  parseTyped,
  type TypedQuantity,
} from './number.ts';
export { ExpressionSchema, evaluateExpression, evaluateParameters, namesIn, type Scope } from './expression.ts';
