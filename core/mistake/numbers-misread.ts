import type { MistakeKind } from '#core/cause';
import type { Exercise } from '#core/exercise';
import { LENGTH_UNITS } from '#core/quantity';
import type { NumberRole, Step } from '#core/recipe';

import type { Edit, Path } from './edit.ts';
import type { Mistake } from './mistake.ts';
import type { NumericArgument } from './numeric-arguments.ts';
import { nameOf, rounded, swapDigits, written, type Subject } from './subject.ts';
import { sameCoordinates, wallOf, type Wall } from './walls.ts';

/** Sizes that dialogs open with, in the drawing unit. */
const DEFAULTS: Readonly<Record<Exercise['recipe']['unit'], Readonly<Partial<Record<NumberRole, readonly number[]>>>>> =
  {
    mm: { radius: [1, 2, 5], chamfer: [1, 2], depth: [10], 'hole-depth': [10], width: [5] },
    in: { radius: [0.0625, 0.125, 0.25], chamfer: [0.0625, 0.125], depth: [1], 'hole-depth': [0.5], width: [0.25] },
  };
const MOST_EDGES = 2;

const KEY: Readonly<Record<NumberRole, string>> = {
  diameter: 'diameter',
  radius: 'radius',
  chamfer: 'chamfer',
  width: 'size',
  depth: 'depth',
  'hole-depth': 'depth',
  offset: 'distance',
  spacing: 'spacing',
  position: 'place',
  angle: 'angle',
  count: 'number',
};
const LENGTHS = new Set<NumberRole>([
  'diameter',
  'radius',
  'chamfer',
  'width',
  'depth',
  'hole-depth',
  'offset',
  'spacing',
]);

/** One number of a step that is another than the sheet gives. */
export function misreadNumbers(subject: Subject): void {
  for (const argument of subject.numericArguments) atArgument(subject, argument);
}

/** A number of a step, and how a mistake puts another in its place; `factor` says how likely it is beside others. */
interface Misread {
  readonly subject: Subject;
  readonly argument: NumericArgument;
  readonly wall: Wall | null;
  /** The number as an expression that can stand in another. */
  readonly own: string;
  readonly change: (kind: MistakeKind, next: string, why: string, more?: { readonly factor: number }) => void;
}

function atArgument(subject: Subject, argument: NumericArgument): void {
  const step = subject.stepOf(argument.stepId);
  const wall = step === undefined ? null : wallOf(step, argument, subject.numericArguments);
  // A wall is told once, at its first corner.
  if (step === undefined || (wall !== null && wall.corners[0] !== argument)) return;
  const own = `(${argument.expression})`;
  const change = changing(subject, step, { argument, wall });
  const misread: Misread = { subject, argument, wall, own, change };
  radiusOrDiameter(misread);
  halfOrWhole(misread);
  if (LENGTHS.has(argument.role)) mistypedLength(misread);
  fromAnotherFace(misread);
  if (wall?.isRadius === true) turnedDiameter(misread);
  if (step.op === 'revolve' && wall !== null && !wall.isRadius) chained(subject, step, { argument, wall });
  if (argument.role === 'position' && wall?.isRadius !== true) misplaced(misread);
  if (argument.role === 'angle') fromOtherSide(misread);
  if (argument.role === 'count') miscounted(misread);
}

/** Puts a mistake that gives one number, and the corners of its wall with it, another value. */
function changing(
  subject: Subject,
  step: Step,
  { argument, wall }: { readonly argument: NumericArgument; readonly wall: Wall | null },
): Misread['change'] {
  const { role, value } = argument;
  return (kind, next, why, { factor } = { factor: 1 }) => {
    const said = subject.valueOf(next) ?? Number.NaN;
    if (!Number.isFinite(said) || Math.abs(said - value) < 1e-9) return;
    if (role !== 'position' && role !== 'angle' && role !== 'offset' && said <= 0) return;
    const name = nameOf(step);
    const told = toldOf(step, argument, wall);
    const what = `${told.key} ${subject.words(said * told.times, told.role)} for ${subject.words(value * told.times, told.role)}`;
    const [first = argument, ...others] = wall?.corners ?? [];
    const set = ({ stepId, path }: NumericArgument, to: string): Edit => ({ kind: 'set', stepId, path, value: to });
    subject.put({
      kind,
      key: `${argument.stepId}/${argument.path.join('/')}=${written(said)}`,
      edits: [set(first, next), ...others.map((other) => set(other, next))],
      summary: `${name}, ${what}`,
      message: `${name}: ${saidOf(subject, argument, { ...told, said })}. ${why}`,
      why,
      becomes: becomesOf(subject, told, { from: value, to: said }),
      factor,
      expression: argument.expression,
    });
  };
}

function radiusOrDiameter({ argument: { role }, own, change }: Misread): void {
  if (role === 'diameter') {
    change('radius-for-diameter', `${own}/2`, 'Was the radius typed where the diameter is asked?');
    change('diameter-for-radius', `${own}*2`, 'Was the diameter taken for a radius?', { factor: 0.5 });
  }
  if (role === 'radius') {
    change('diameter-for-radius', `${own}*2`, 'Was the diameter typed where the radius is asked?');
    change('radius-for-diameter', `${own}/2`, 'Was the radius taken for a diameter?', { factor: 0.4 });
  }
}

function halfOrWhole({ argument: { role }, own, change }: Misread): void {
  if (!['width', 'depth', 'hole-depth', 'offset', 'spacing'].includes(role)) return;
  const factor = role === 'width' ? 1 : 0.5;
  change('half-for-whole', `${own}/2`, 'Was half of the size used for all of it?', { factor });
  change('whole-for-half', `${own}*2`, 'Was all of the size used where half is asked?', { factor });
}

function mistypedLength({ subject, argument: { role, value }, own, change }: Misread): void {
  const size = Math.abs(value);
  const swapped = swapDigits(written(value));
  if (swapped !== null) change('digits-swapped', swapped, 'Were two digits swapped?');
  change('decimal-point', `${own}/10`, 'Did the decimal point slip?', { factor: size > 1 ? 1 : 0.4 });
  change('decimal-point', `${own}*10`, 'Did the decimal point slip?', { factor: size < 5 ? 1 : 0.3 });
  if (subject.recipe.unit === 'mm')
    change('unit-of-one-value', `${own}*25.4`, 'Was this one value taken for inches?', {
      factor: size < 10 ? 0.6 : 0.2,
    });
  else change('unit-of-one-value', `${own}/25.4`, 'Was this one value taken for millimeters?', { factor: 0.5 });
  for (const [i, other] of subject.neighborsOf(size).entries())
    change('neighboring-dimension', written(other), 'That is another number on the sheet.', { factor: 1 / (i + 1) });
  for (const other of DEFAULTS[subject.recipe.unit][role] ?? [])
    change('default-size', written(other), 'Was the size left as the dialog offered it?');
}

function fromAnotherFace({ subject, argument: { role, stepId }, own, change }: Misread): void {
  if (role !== 'depth' && role !== 'hole-depth' && role !== 'offset') return;
  const words = 'Was it measured from another face than the sheet shows?';
  for (const other of heightsBelow(subject, stepId)) {
    change('wrong-edge', `${own} - ${written(other)}`, words);
    change('wrong-edge', `${own} + ${written(other)}`, words);
  }
}

/** A wall of a turned outline is written as a radius there, and as a diameter on the sheet. */
function turnedDiameter({ subject, argument, own, change }: Misread): void {
  const size = Math.abs(argument.value);
  change('diameter-for-radius', `${own}*2`, 'Was the diameter typed where the radius is asked?');
  change('radius-for-diameter', `${own}/2`, 'Was the radius taken for a diameter?', { factor: 0.4 });
  for (const [i, other] of subject.neighborsOf(2 * size).entries())
    change('neighboring-dimension', written(other / 2), 'That is another number on the sheet.', {
      factor: 1 / (i + 1),
    });
  const swapped = swapDigits(written(2 * size));
  if (swapped !== null) change('digits-swapped', written(Number(swapped) / 2), 'Were two digits swapped?');
}

function misplaced({ subject, argument, own, change }: Misread): void {
  const { value } = argument;
  const size = Math.abs(value);
  const words = 'Was the place measured from another edge than the sheet shows?';
  for (const [i, other] of edgesNear(subject, argument).entries()) {
    change('wrong-edge', `${own} - ${written(other)}`, words, { factor: 1 / (1 + i) });
    change('wrong-edge', `${own} + ${written(other)}`, words, { factor: 1 / (1 + i) });
  }
  change('feature-mirrored', `-${own}`, 'Is it on the other side of the middle?');
  const swapped = swapDigits(written(size));
  if (swapped !== null && size >= 10)
    change('digits-swapped', `${value < 0 ? '-' : ''}${swapped}`, 'Were two digits swapped?', { factor: 0.5 });
}

function fromOtherSide({ own, change }: Misread): void {
  const words = 'Was the angle measured from the other side?';
  change('angle-from-other-side', `180 - ${own}`, words);
  change('angle-from-other-side', `90 - ${own}`, words);
  change('angle-from-other-side', `-${own}`, words);
}

function miscounted({ own, change }: Misread): void {
  change('wrong-count', `${own} - 1`, 'Count them on the sheet once more.');
  change('wrong-count', `${own} + 1`, 'Count them on the sheet once more.', { factor: 0.6 });
}

/** A place on a turned part that the sheet gives from the end, measured from the shoulder before it: all after it moves along. */
function chained(
  subject: Subject,
  step: Step,
  { argument, wall }: { readonly argument: NumericArgument; readonly wall: Wall },
): void {
  const along = sameCoordinates(argument, subject.numericArguments);
  const before = Math.max(0, ...along.map(({ value }) => value).filter((value) => value < argument.value - 1e-9));
  const moved = along.filter(({ value }) => value > argument.value - 1e-9);
  const [first, ...others] = moved.map(({ stepId, path, expression }): Edit => ({
    kind: 'set',
    stepId,
    path,
    value: `(${expression}) + ${written(before)}`,
  }));
  if (before === 0 || first === undefined) return;
  const line = wall.name === null ? 'a shoulder' : `"${wall.name}"`;
  subject.put({
    kind: 'wrong-edge',
    key: `${argument.stepId}/${argument.path.join('/')}/chained`,
    edits: [first, ...others],
    summary: `${nameOf(step)}, ${line} from the shoulder before`,
    message: `${nameOf(step)}: ${line} and all after it lie ${subject.words(before, 'position')} too far on. Was it measured from the shoulder before it instead of from the end?`,
    expression: argument.expression,
  });
}

interface Told {
  /** What the number is called. */
  readonly key: string;
  /** How it is read on the sheet: a radius of a turned part as a diameter. */
  readonly role: NumberRole;
  readonly times: number;
}

/** What a number becomes, as a check measures it. */
function becomesOf(
  subject: Subject,
  { role, times }: Told,
  { from, to }: { readonly from: number; readonly to: number },
): Mistake['becomes'] {
  const unit = role === 'angle' || role === 'count' ? 1 : LENGTH_UNITS[subject.recipe.unit];
  return role === 'position'
    ? { kind: 'place', byMm: Math.abs(to - from) * unit }
    : { kind: 'size', from: from * times * unit, to: to * times * unit };
}

function toldOf(step: Step, { role, path }: NumericArgument, wall: Wall | null): Told {
  if (role !== 'position') return { key: KEY[role], role, times: 1 };
  const line = wall?.name === null || wall?.name === undefined ? '' : ` of "${wall.name}"`;
  if (wall?.isRadius === true) return { key: `diameter${line}`, role: 'diameter', times: 2 };
  const isOnly = step.op === 'hole' && step.at.kind === 'points' && step.at.points.length === 1;
  return { key: line === '' ? placeName(path, isOnly) : `place${line}`, role, times: 1 };
}

/**
 * What a number is instead of what it should be: as the sheet prints it; of a place that it prints nowhere, how far off it
 * is; of another number, that it follows.
 */
function saidOf(
  subject: Subject,
  { value }: NumericArgument,
  { key, role, times, said }: Told & { readonly said: number },
): string {
  const [is, wanted] = [subject.words(said * times, role), subject.words(value * times, role)];
  if (subject.prints(value * times, role)) return `the ${key} is ${is} where the sheet gives ${wanted}`;
  if (role === 'position') return `the ${key} is off by ${subject.words(Math.abs(said - value), role)}`;
  return `the ${key} is ${is} where ${wanted} follows from the sheet`;
}

/** Heights of the steps whose faces a step stands on. */
function heightsBelow(subject: Subject, stepId: string): readonly number[] {
  const step = subject.stepOf(stepId);
  if (step === undefined || !('plane' in step) || !('surface' in step.plane)) return [];
  const [below = ''] = step.plane.surface.split('.');
  return subject.numericArguments
    .filter((argument) => argument.stepId === below && argument.role === 'depth')
    .map(({ value }) => Math.abs(value));
}

/** How far another edge than the right one may lie from the place of a feature: sizes of the feature, then of the sheet. */
function edgesNear(subject: Subject, argument: NumericArgument): readonly number[] {
  const own = subject.numericArguments
    .filter((other) => other.stepId === argument.stepId && (other.role === 'diameter' || other.role === 'width'))
    .map(({ value }) => Math.abs(value) / 2);
  const small = [...subject.onSheet].sort((a, b) => a - b);
  return [...new Set([...own, ...small].map(rounded))].filter((size) => size > 0).slice(0, MOST_EDGES);
}
/** "place across", "place up", with its number where there are several. */
function placeName(path: Path, isOnly: boolean): string {
  const numbers = path.filter((part) => typeof part === 'number');
  const direction = numbers.at(-1) === 0 ? 'across' : 'up';
  const number = path.includes('points') || path.includes('segments') ? numbers.at(-2) : undefined;
  const which =
    number === undefined || isOnly ? '' : path.includes('points') ? ` of number ${String(number + 1)}` : ' of a corner';
  return `place ${direction}${which}`;
}
