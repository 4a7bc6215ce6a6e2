import { isOnSheet, quantityOfKind, type Reference, type Target, type Tolerance } from '#core/check';
import type { Exercise } from '#core/exercise';
import { decimalsFor, drawnDecimals, formatFixed, LENGTH_UNITS, namesIn } from '#core/quantity';

type Format = Pick<Reference, 'unit' | 'decimals'>;

/** A length as the practice writes it: inches without leading zero, millimeters without trailing zeros. */
export function dimensionText(valueMm: number, { unit, decimals }: Format): string {
  const value = valueMm / LENGTH_UNITS[unit];
  if (unit === 'in') return formatFixed(value, drawnDecimals(value, unit, decimals)).replace(/^(-?)0\./, '$1.');
  return String(Number(formatFixed(value, Math.max(decimals, Math.min(3, decimalsFor(value, 4))))));
}

const SIXTY_FOURTHS = 64;

/** Inches as a fraction of at most sixty-fourths, "1 3/4"; the decimal where it is none. */
export function fractionText(valueMm: number, format: Format): string {
  const inches = valueMm / LENGTH_UNITS.in;
  const parts = Math.round(inches * SIXTY_FOURTHS);
  if (Math.abs(inches * SIXTY_FOURTHS - parts) > 1e-3) return dimensionText(valueMm, format);
  const whole = Math.floor(parts / SIXTY_FOURTHS);
  let [over, under] = [parts % SIXTY_FOURTHS, SIXTY_FOURTHS];
  if (over === 0) return String(whole);
  while (over % 2 === 0) [over, under] = [over / 2, under / 2];
  return `${whole === 0 ? '' : `${String(whole)} `}${String(over)}/${String(under)}`;
}

/** Degrees without trailing zeros. */
export const degreesText = (degrees: number): string => `${String(Number(degrees.toFixed(2)))}°`;

/** The tolerance that holds where a dimension has none of its own, in the drawing unit: half of the last decimal. */
export const generalTolerance = ({ decimals }: Format): number => 0.5 * 10 ** -decimals;

/** Writes sizes for one sheet. */
export interface Writer {
  readonly exercise: Exercise;
  readonly reference: Reference;
}

const LONGEST_EXPRESSION = 14;

/** Whether an expression has a letter that stands at no dimension of the sheet by itself: it has its place here then. */
function isOnlyPlaceOf(nominal: string, { checks, recipe: { parameters } }: Exercise): boolean {
  if (nominal.length > LONGEST_EXPRESSION || /[a-z]{2}/.test(nominal)) return false;
  const alone = new Set(
    checks.flatMap((check) => ('nominal' in check && isOnSheet(check) ? [check.nominal.trim()] : [])),
  );
  return namesIn(nominal).some((name) => parameters.some((letter) => letter.name === name) && !alone.has(name));
}

/** An expression as a drawing writes it: "A - 28", "90° - C". */
export function expressionText(expression: string, angular: boolean): string {
  const spaced = expression
    .trim()
    .replace(/\s*([+-])\s*/g, ' $1 ')
    .replace(/\s*\*\s*/g, ' x ')
    .trim();
  return angular ? spaced.replace(/(?<![\w./]|x )(\d+(?:\.\d+)?)(?![\w.]|\s*[x/])/g, '$1°') : spaced;
}

/** A size with its letter or value, and its tolerance where it is not the general one. */
export function sizeText(
  check: { readonly nominal: string; readonly tolerance: Tolerance },
  target: Target,
  { exercise, reference }: Writer,
): string {
  const { sheet, recipe } = exercise;
  const [letter] = namesIn(check.nominal);
  const isLetter = letter === check.nominal.trim() && recipe.parameters.some(({ name }) => name === letter);
  const asExpression = !isLetter && isOnlyPlaceOf(check.nominal, exercise);
  const nominal = 'nominal' in target ? target.nominal : 0;
  const angular = quantityOfKind(target.kind) === 'angle';
  const fraction = sheet?.format === 'fraction' && reference.unit === 'in';
  const value =
    (isLetter || asExpression) && sheet?.letters !== 'values'
      ? expressionText(check.nominal, angular)
      : angular
        ? degreesText(nominal)
        : fraction
          ? fractionText(nominal, reference)
          : dimensionText(nominal, reference);
  return `${value}${toleranceText(target, angular, reference)}`;
}

function toleranceText(target: Target, angular: boolean, reference: Reference): string {
  if (angular || !('tolerance' in target)) return '';
  const unit = LENGTH_UNITS[reference.unit];
  const finer = { ...reference, decimals: reference.decimals + 1 };
  const limits = 'limits' in target ? target.limits : undefined;
  if (limits !== undefined) {
    const signed = (value: number): string => `${value < 0 ? '-' : '+'}${dimensionText(Math.abs(value), finer)}`;
    return ` ${signed(limits.upper)} / ${signed(limits.lower)}`;
  }
  return Math.abs(target.tolerance / unit - generalTolerance(reference)) < 1e-9
    ? ''
    : ` ±${dimensionText(target.tolerance, finer)}`;
}
