import type { Check, Exercise } from '#core/exercise';
import { describeStep } from '#core/recipe';

/** One difference between two states of an exercise, in words. */
export interface Difference {
  readonly what: string;
  readonly before: string;
  readonly after: string;
}

const NOTHING = '–';

function sized(check: Check): string {
  const nominal = 'nominal' in check ? check.nominal : '';
  const tolerance =
    'tolerancePercent' in check
      ? `± ${String(check.tolerancePercent)} %`
      : 'tolerance' in check
        ? typeof check.tolerance === 'string'
          ? `± ${check.tolerance}`
          : `${check.tolerance.lower} to ${check.tolerance.upper}`
        : '';
  return [check.kind, nominal, tolerance, `weight ${String(check.weight)}`, check.off === true ? 'off' : '']
    .filter((text) => text !== '')
    .join(', ');
}

/** Items of two lists with the same id side by side, as texts. */
function matched<T>(
  before: readonly T[],
  after: readonly T[],
  idOf: (item: T) => string,
  nameOf: (item: T) => string,
  textOf: (item: T) => string,
): Difference[] {
  const ids = [...new Set([...before.map(idOf), ...after.map(idOf)])];
  return ids.flatMap((id): Difference[] => {
    const [a, b] = [before, after].map((items) => items.find((item) => idOf(item) === id));
    const [textA, textB] = [a === undefined ? NOTHING : textOf(a), b === undefined ? NOTHING : textOf(b)];
    const named = b ?? a;
    const same = JSON.stringify(a) === JSON.stringify(b);
    if (same || named === undefined) return [];
    return [{ what: nameOf(named), before: textA, after: textA === textB ? `${textB} (changed inside)` : textB }];
  });
}

/** What changed from one state of an exercise to another: values, steps, checks, material, variants. */
export function differencesOf(before: Exercise, after: Exercise): readonly Difference[] {
  const plain = (what: string, a: string, b: string): Difference[] => (a === b ? [] : [{ what, before: a, after: b }]);
  const stepNumber = (exercise: Exercise, id: string) => exercise.recipe.steps.findIndex((step) => step.id === id);
  const order = (exercise: Exercise, other: Exercise) =>
    exercise.recipe.steps
      .map(({ id }) => id)
      .filter((id) => stepNumber(other, id) >= 0)
      .join(', ');
  return [
    ...plain('Title', before.title, after.title),
    ...plain('Description', before.brief, after.brief),
    ...plain(
      'Material',
      `${before.material.name}, ${String(before.material.densityGPerCm3)} g/cm³`,
      `${after.material.name}, ${String(after.material.densityGPerCm3)} g/cm³`,
    ),
    ...matched(
      before.recipe.parameters,
      after.recipe.parameters,
      ({ name }) => name,
      ({ name }) => `Letter ${name}`,
      ({ value, label }) => `${value}${label === undefined ? '' : ` (${label})`}`,
    ),
    ...matched(
      before.recipe.steps,
      after.recipe.steps,
      ({ id }) => id,
      (step) => `Step ${step.label ?? step.id}`,
      (step) => `${describeStep(step)}${step.off === true ? ' (off)' : ''}`,
    ),
    ...plain('Order of the steps', order(before, after), order(after, before)),
    ...matched(
      before.checks,
      after.checks,
      ({ id }) => id,
      ({ label }) => `Check ${label}`,
      sized,
    ),
    ...plain('Variants', String(before.variants.length), String(after.variants.length)),
    ...plain('Stages', String(before.stages.length + 1), String(after.stages.length + 1)),
  ];
}
