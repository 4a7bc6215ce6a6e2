import type { Exercise } from './schema.ts';

/** How many times the part is asked for: once, and once for each further stage. */
export const stageCount = ({ stages }: Pick<Exercise, 'stages'>): number => stages.length + 1;

/** What the letters are that stages up to one, from 1, have changed; expressions. */
export const parametersChangedBy = (
  { stages }: Pick<Exercise, 'stages'>,
  stage: number,
): Readonly<Record<string, string>> =>
  Object.fromEntries(stages.slice(0, stage - 1).flatMap(({ values }) => Object.entries(values)));

/**
 * The exercise as one stage of it asks for it, from 1: with the letters and steps of that stage and those before it,
 * and the checks that hold there. Values of variants are those of the stage where it names the letter.
 */
export function exerciseOfStage(exercise: Exercise, stage: number): Exercise {
  const passed = exercise.stages.slice(0, stage - 1);
  const added = new Set(passed.flatMap(({ adds }) => adds ?? []));
  const values = parametersChangedBy(exercise, stage);
  const { recipe } = exercise;
  return {
    ...exercise,
    recipe: {
      ...recipe,
      parameters: recipe.parameters.map((parameter) => {
        const value = values[parameter.name];
        return value === undefined ? parameter : { ...parameter, value };
      }),
      steps: recipe.steps.map((step) => (added.has(step.id) ? { ...step, off: false } : step)),
    },
    checks: exercise.checks.filter(({ fromStage = 1 }) => fromStage <= stage),
    variants: exercise.variants.map((variant) => ({ ...variant, values: { ...variant.values, ...values } })),
  };
}
