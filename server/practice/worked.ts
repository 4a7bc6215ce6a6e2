import type { Worked } from '#api';
import { checksByStep, surfacesByCheck, type Exercise, type Variant } from '#core/exercise';
import { unwrap } from '#core/problem';
import { describeStep, withValues } from '#core/recipe';

/** The steps of a reference with a student's own values, as they are shown one by one, and the dimensions that are drawn on the sheet. */
export function workedSteps(
  exercise: Exercise,
  values: Variant['values'],
  drawn: readonly { readonly checkId: string }[],
): Worked {
  const recipe = unwrap(withValues(exercise.recipe, values));
  const checks = checksByStep(exercise);
  const surfaces = surfacesByCheck(exercise);
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
    dimensions: exercise.checks
      .filter(({ id }) => drawn.some(({ checkId }) => checkId === id))
      .map(({ id, label }) => ({
        checkId: id,
        label,
        surfaces: [...(surfaces.get(id) ?? [])],
      })),
  };
}
