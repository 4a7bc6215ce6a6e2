import type { Replay } from '#core/check';
import { exerciseOfStage, type Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { slightChanges } from '#core/plan';
import { attempt, unwrap } from '#core/problem';
import { evaluateParameters } from '#core/quantity';
import { buildRecipe, withValues, type ParameterValues, type Recipe } from '#core/recipe';
import type { MassProperties } from '#core/solid';

/** What a recipe is replayed against. */
export interface ReplayPart {
  readonly exercise: Exercise;
  /** Values of letters in place of those of the exercise's recipe. */
  readonly values?: ParameterValues | undefined;
  /** From 1. */
  readonly stage: number;
}

const MOST_TRIALS = 3;
/** Volume and area of the same part agree to this share, however its recipe builds it. */
const SAME_SHARE = 1e-5;

type Size = Pick<MassProperties, 'volumeMm3' | 'areaMm2'>;

/**
 * Builds a recipe that was handed in with other values of the letters, and the exercise's own with the same: a model of
 * sound intent follows, one with fixed numbers does not. `file` is what the model that came with it measures.
 */
export function replayRecipe(
  kernel: Kernel,
  recipe: Recipe,
  { exercise, values = {}, stage }: ReplayPart,
  file: Size,
): Replay {
  const staged = exerciseOfStage(exercise, stage);
  const right = unwrap(withValues(staged.recipe, values));
  const own = sizeOf(kernel, recipe, {});
  const trials = valuesToTry(exercise, right, stage).map((trial): Replay['trials'][number] => {
    const wanted = sizeOf(kernel, right, trial);
    const said = Object.entries(trial)
      .map(([name, value]) => `${name} = ${value}`)
      .join(', ');
    const lacking = Object.keys(trial).filter((name) =>
      recipe.parameters.every((parameter) => parameter.name !== name),
    );
    if (lacking.length > 0)
      return {
        values: trial,
        outcome: 'differs',
        message: `The recipe has no letter ${lacking.join(' and no ')}: what it stands for is a fixed number, so that it cannot follow ${said}.`,
      };
    const made = sizeOf(kernel, recipe, trial);
    if (typeof made === 'string')
      return { values: trial, outcome: 'fails', message: `With ${said} the recipe cannot be built. ${made}` };
    if (typeof wanted !== 'string' && !same(made, wanted))
      return {
        values: trial,
        outcome: 'differs',
        message: `With ${said} the recipe gives another part: its volume is ${percent(made.volumeMm3 / wanted.volumeMm3 - 1)} off.`,
      };
    return { values: trial, outcome: 'holds', message: `With ${said} the recipe gives the right part.` };
  });
  return { sameAsFile: typeof own !== 'string' && same(own, file, 1e-3), trials };
}

/** Values of further stages and of other variants; where there are none, letters that are changed a little. */
function valuesToTry(exercise: Exercise, right: Recipe, stage: number): readonly ParameterValues[] {
  const stages = exercise.stages
    .slice(stage - 1)
    .filter(({ adds }) => (adds ?? []).length === 0)
    .map(({ values }) => values);
  const variants = exercise.variants.map(({ values }) => values);
  const current = new Map(right.parameters.map(({ name, value }) => [name, value]));
  const others = [...stages, ...variants].filter((values) =>
    Object.entries(values).some(([name, value]) => current.get(name) !== value),
  );
  if (others.length > 0) return others.slice(0, MOST_TRIALS);
  const scope = evaluateParameters(right.parameters, right.unit);
  return scope.ok
    ? slightChanges(right, scope.value)
        .flatMap(([first]) => (first === undefined ? [] : [first]))
        .slice(0, MOST_TRIALS)
    : [];
}

/** Volume and area of a recipe with some values, or why it cannot be built. */
function sizeOf(kernel: Kernel, recipe: Recipe, values: ParameterValues): Size | string {
  const built = attempt(() => unwrap(buildRecipe(kernel, recipe, values)));
  if (!built.ok) return built.problem.message;
  const { shape } = built.value;
  try {
    const { volumeMm3, areaMm2 } = kernel.massProperties(shape);
    return { volumeMm3, areaMm2 };
  } finally {
    shape.free();
  }
}

const same = (a: Size, b: Size, share = SAME_SHARE): boolean =>
  Math.abs(a.volumeMm3 - b.volumeMm3) <= share * b.volumeMm3 && Math.abs(a.areaMm2 - b.areaMm2) <= share * b.areaMm2;

const percent = (share: number): string => `${(100 * share).toFixed(Math.abs(share) < 0.01 ? 2 : 1)} %`;
