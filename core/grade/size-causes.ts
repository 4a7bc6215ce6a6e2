/** Sizes that are not what the sheet says: what happened to each, and which of them are one mistake. */
import {
  checkValueText,
  facesOfTarget,
  kindOf,
  spanOf,
  type CheckMeasurement,
  type Reference,
  type Target,
} from '#core/check';
import { evaluateExpression, formatFixed, LENGTH_UNITS, lengthText, namesIn } from '#core/quantity';
import { directionOf } from '#core/solid';

import type { Evidence } from './evidence.ts';
import type { Cause } from './report.ts';

export type Observed = Omit<Cause, 'explains' | 'instead'>;

type Sized = Extract<Target, { expression: string }>;

export const isSized = (target: Target): target is Sized => 'expression' in target;

export const near = (a: number, b: number): boolean => Math.abs(a - b) <= Math.max(1e-3, Math.abs(b) * 1e-4);

/** Whether two written sizes differ only by two neighboring digits that changed places. */
function digitsSwapped(a: string, b: string): boolean {
  const [x, y] = [a, b].map((text) => text.replace(/[^\d.]/g, '')) as [string, string];
  if (x === y || x.length !== y.length) return false;
  const at = Array.from(x).findIndex((digit, i) => digit !== y[i]);
  return y === x.slice(0, at) + (x[at + 1] ?? '') + (x[at] ?? '') + x.slice(at + 2);
}

/** " (number 3 of 4)" where some but not all of the rounds that share a dimension are off. */
function whichMembers(target: Sized, check: CheckMeasurement): string {
  const members = check.members ?? [];
  const wrong = members.flatMap((measured, i) =>
    measured === null || Math.abs(measured - target.nominal) > target.tolerance ? [i + 1] : [],
  );
  return wrong.length > 0 && wrong.length < members.length
    ? ` (number ${wrong.join(', ')} of ${String(members.length)})`
    : '';
}

export interface WrongSize {
  readonly target: Sized;
  readonly check: CheckMeasurement;
  readonly measured: number;
}

/** A value with the same number of decimals as all others of its quantity, whose digits can be compared. */
const plain = (value: number, { kind }: Target, { unit, decimals }: Reference): string =>
  kindOf(kind).quantity === 'angle' ? formatFixed(value, 2) : formatFixed(value / LENGTH_UNITS[unit], decimals);

const MOST_DECIMALS = 4;

/** What a size is and what it should be, in so many decimals that they differ. */
function toldApart(
  target: Sized,
  measured: number,
  { unit, decimals }: Reference,
): readonly [is: string, wanted: string] {
  const written = (value: number, places: number): string =>
    checkValueText(target.kind, value, { recipe: { unit }, decimals: places });
  const wanted = written(target.nominal, decimals);
  for (let places = decimals; places < MOST_DECIMALS; places++) {
    const is = written(measured, places);
    if (is !== written(target.nominal, places)) return [is, wanted];
  }
  return [written(measured, MOST_DECIMALS), wanted];
}

/** What a check off the sheet asks for is printed nowhere. */
const whereItSays = ({ offSheet }: Sized, wanted: string): string =>
  offSheet === true ? `where ${wanted} follows from the sheet` : `where the sheet says ${wanted}`;

/** What happened to one size, judged by the ratio of measured to nominal and by the other numbers of the sheet. */
function explainSize({ target, check, measured }: WrongSize, reference: Reference): Omit<Observed, 'checkIds'> {
  const [is, wanted] = toldApart(target, measured, reference);
  const said = target.offSheet === true ? 'what follows from the sheet' : 'what the sheet says';
  const where = whereItSays(target, wanted);
  const { tellsOf } = kindOf(target.kind);
  const size = tellsOf === 'diameter' || tellsOf === 'radius' ? tellsOf : null;
  const name = `${target.label}${whichMembers(target, check)}`;
  if (size !== null && near(measured, target.nominal * 2))
    return {
      id: 'diameter-for-radius',
      certainty: 0.95,
      message: `${name}: the ${size} is twice ${said} (${is} for ${wanted}). The diameter was typed where a radius was asked.`,
    };
  if (size !== null && near(measured, target.nominal / 2))
    return {
      id: 'radius-for-diameter',
      certainty: 0.95,
      message: `${name}: the ${size} is half of ${said} (${is} for ${wanted}). The radius was typed where a diameter was asked.`,
    };
  if (near(measured, target.nominal * 2) || near(measured, target.nominal / 2))
    return {
      id: measured > target.nominal ? 'whole-for-half' : 'half-for-whole',
      certainty: 0.8,
      message: `${name} is ${measured > target.nominal ? 'twice' : 'half of'} ${said} (${is} for ${wanted}). Check whether a size that is given over the whole width was used as half, or the reverse.`,
    };
  if (near(measured, target.nominal * 10) || near(measured, target.nominal / 10))
    return {
      id: 'decimal-point',
      certainty: 0.85,
      message: `${name}: the decimal point has slipped (${is} for ${wanted}).`,
    };
  if (near(measured, target.nominal * 25.4) || near(measured, target.nominal / 25.4))
    return {
      id: 'unit-of-one-value',
      certainty: 0.9,
      message: `${name} was entered in the wrong unit (${is} for ${wanted}).`,
    };
  if (
    digitsSwapped(...([measured, target.nominal].map((value) => plain(value, target, reference)) as [string, string]))
  )
    return {
      id: 'digits-swapped',
      certainty: 0.85,
      message: `${name} is ${is} ${where}: two digits were swapped.`,
    };
  const other = reference.targets.find(
    (candidate): candidate is Sized =>
      isSized(candidate) &&
      candidate.checkId !== target.checkId &&
      candidate.offSheet !== true &&
      kindOf(candidate.kind).quantity === kindOf(target.kind).quantity &&
      near(measured, candidate.nominal),
  );
  if (other)
    return {
      id: 'neighboring-dimension',
      certainty: 0.7,
      message: `${name} is ${is}, which is the value of "${other.label}" on the sheet; it should be ${wanted}.`,
    };
  return {
    id: 'wrong-size',
    certainty: 0.6,
    message: `${name} is ${is} ${where}.`,
  };
}

/**
 * Whether the wrong size `effect` follows from the wrong size `source`: the sheet gives the source as a letter, and with
 * the measured value for that letter the effect has just the size it was measured with.
 */
function followsFrom(effect: WrongSize, source: WrongSize, reference: Reference): boolean {
  const letter = source.target.expression.trim();
  if (effect === source || !(letter in reference.scope) || !namesIn(effect.target.expression).includes(letter))
    return false;
  const factorOf = ({ kind }: Target): number =>
    kindOf(kind).quantity === 'length' ? LENGTH_UNITS[reference.unit] : 1;
  const scope = { ...reference.scope, [letter]: source.measured / factorOf(source.target) };
  const value = evaluateExpression(effect.target.expression, scope, reference.unit);
  return value.ok && near(effect.measured, value.value * factorOf(effect.target));
}

/** Whether a size is printed on the sheet and hangs on a face of another one that is not. */
const isPrintedBeside = (printed: WrongSize, other: WrongSize): boolean =>
  printed.target.offSheet !== true &&
  facesOfTarget(printed.target).some((id) => facesOfTarget(other.target).includes(id));

/** Sizes whose lines are not right; a size within its limits, or in doubt, is not among them. */
export function wrongSizes({ reference, measurement, lines }: Evidence): readonly WrongSize[] {
  const wrongIds = new Set(lines.filter(({ verdict }) => verdict !== 'right').map(({ checkId }) => checkId));
  return reference.targets.flatMap((target): WrongSize[] => {
    const check = measurement.checks.find((candidate) => candidate.checkId === target.checkId);
    const measured = check?.measured ?? null;
    if (!isSized(target) || !check || measured === null) return [];
    return wrongIds.has(target.checkId) ? [{ target, check, measured }] : [];
  });
}

/** "Pins from Foot is 12.0 mm where the sheet says 14.0 mm."; of a round, which of its sizes where its name does not say. */
export function sizeInWords({ target, check, measured }: WrongSize, reference: Reference): string {
  const [is, wanted] = toldApart(target, measured, reference);
  const { tellsOf } = kindOf(target.kind);
  const size = tellsOf === 'diameter' || tellsOf === 'radius' ? tellsOf : null;
  const which = whichMembers(target, check);
  const named = size === null || target.label.toLowerCase().includes(size) ? '' : `: the ${size}`;
  return `${target.label}${which}${named} is ${is} ${whereItSays(target, wanted)}.`;
}

/** Deviations that differ by less are one: what is left of a sum of sizes, mm. */
export const SAME_DEVIATION_MM = 2e-3;
const PARALLEL = 0.999;

/** The axis of the part that a length is measured along; null for diameters, and for what lies askew. */
function axisOf(target: Sized, { solid }: Reference): number | null {
  const span = spanOf(target);
  if (span === null) return null;
  if (span.kind === 'extent') return span.axis;
  if (span.along !== undefined) return span.along;
  const face = [span.from, span.to].find(({ on }) => on === 'face')?.at[0];
  const direction = face === undefined ? null : directionOf(solid.faces[face]?.surface ?? { kind: 'freeform' });
  const axis = direction?.findIndex((x) => Math.abs(x) > PARALLEL) ?? -1;
  return axis < 0 ? null : axis;
}

const isExtent = ({ target }: WrongSize): boolean => spanOf(target)?.kind === 'extent';

/** Whether two sizes are off for one reason: by the same length along the same axis, or as the extent of the same round. */
function isSameChange(a: WrongSize, b: WrongSize, reference: Reference): boolean {
  if (kindOf(a.target.kind).quantity !== 'length' || kindOf(b.target.kind).quantity !== 'length') return false;
  const [da, db] = [a, b].map(({ target, measured }) => measured - target.nominal) as [number, number];
  const room = SAME_DEVIATION_MM + (a.check.uncertainty ?? 0) + (b.check.uncertainty ?? 0);
  if (Math.abs(Math.abs(da) - Math.abs(db)) > room) return false;
  const across = ({ target }: WrongSize): boolean => kindOf(target.kind).tellsOf === 'diameter';
  const isSameRound = near(a.target.nominal, b.target.nominal) && near(a.measured, b.measured);
  if ((isExtent(a) || across(a)) && (isExtent(b) || across(b))) return isSameRound;
  const axis = axisOf(a.target, reference);
  return axis !== null && axis === axisOf(b.target, reference);
}

/** The size of several that is told: one that is printed, not the sum of others, the smallest. */
const firstToTell = (sizes: readonly WrongSize[]): readonly WrongSize[] =>
  [...sizes].sort(
    (a, b) =>
      Number(a.target.offSheet === true) - Number(b.target.offSheet === true) ||
      Number(isExtent(a)) - Number(isExtent(b)) ||
      a.target.nominal - b.target.nominal,
  );

const list = (sizes: readonly WrongSize[]): string => sizes.map(({ target }) => target.label).join(', ');

/**
 * Causes of sizes that are not right, one for each mistake: sizes that follow from a letter are told with it, and sizes that
 * are off by the same length along one axis are told together.
 */
export function sizeCauses(evidence: Evidence): Observed[] {
  const { reference } = evidence;
  const wrong = wrongSizes(evidence);
  const byMessage = new Map<string, Observed>();
  const told = new Set<WrongSize>();
  for (const size of firstToTell(wrong)) {
    if (told.has(size)) continue;
    const isRoot = !wrong.some((other) => followsFrom(size, other, reference) && !followsFrom(other, size, reference));
    // What the sheet does not print is not told beside what it prints of the same faces.
    if (!isRoot || (size.target.offSheet === true && wrong.some((other) => isPrintedBeside(other, size)))) continue;
    const cause = explainSize(size, reference);
    const effects = wrong.filter((other) => followsFrom(other, size, reference));
    const alike = wrong.filter(
      (other) => other !== size && !effects.includes(other) && !told.has(other) && isSameChange(size, other, reference),
    );
    for (const one of [size, ...effects, ...alike]) told.add(one);
    const parts = [
      cause.message,
      ...(effects.length === 0 ? [] : [`${list(effects)} ${effects.length === 1 ? 'follows' : 'follow'} from it.`]),
      ...(alike.length === 0
        ? []
        : [
            `${list(alike)} ${alike.length === 1 ? 'is' : 'are'} off by the same ${deviationText(size, reference)}, which may be one mistake.`,
          ]),
    ];
    byMessage.set(cause.message, {
      ...cause,
      certainty: effects.length + alike.length > 0 ? Math.max(cause.certainty, 0.85) : cause.certainty,
      message: parts.join(' '),
      checkIds: [size, ...effects, ...alike].map(({ target }) => target.checkId),
    });
  }
  return [...byMessage.values()];
}

function deviationText({ target, measured }: WrongSize, { unit, decimals }: Reference): string {
  const offMm = Math.abs(measured - target.nominal);
  const rounded = lengthText(offMm, unit, decimals);
  return Number.parseFloat(rounded) === 0 ? lengthText(offMm, unit, MOST_DECIMALS) : rounded;
}
