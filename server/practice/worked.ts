import type { Worked } from '#api';
import { checksByStep, type Exercise, type Variant } from '#core/exercise';
import { unwrap } from '#core/problem';
import { describeStep, withValues } from '#core/recipe';

/** The steps of a reference with a student's own values, as they are shown one by one. */
export function workedSteps(exercise: Exercise, values: Variant['values']): Worked {
  const recipe = unwrap(withValues(exercise.recipe, values));
  const checks = checksByStep(exercise);
  return {
    recipe,
    steps: recipe.steps
      .filter(({ off }) => off !== true)
      .map((step) => ({
        id: step.id,
        name: step.label ?? step.id,
        sentence: describeStep(step),
        checkIds: [...(checks.get(step.id) ?? [])],
      })),
  };
}
