import { blankExercise, type Exercise } from '#core/exercise';
import { operationOf, OPERATIONS, type ParameterValues, type Step } from '#core/recipe';

import { mistakesOf } from './generate.ts';

/** Names of surfaces that the first steps of the sample have. */
const SAMPLE_SURFACES = ['base.end', 'base.right', 'base.wall'];

/** A part with one step of every operation; it is never built, only looked at for what can go wrong in it. */
function sampleExercise(): Exercise {
  const blank = blankExercise('0', 'Sample', 'mm');
  const steps = OPERATIONS.map((op, i): Step => {
    const start = operationOf(op).start({
      unit: 'mm',
      freeId: (base) => `${base}${String(i + 1)}`,
      surfaces: SAMPLE_SURFACES,
      lastStepId: 'base',
    });
    return { ...start, op } as Step;
  });
  return { ...blank, recipe: { ...blank.recipe, steps } };
}

/**
 * What the catalogue of mistakes says of a part: two atlases are made of the same mistakes when this is the same. Of a part
 * that was read from a file, whose steps are recognized only when its atlas is made, what it says of a sample of every
 * operation.
 */
export const catalogueContent = (exercise: Exercise, values: ParameterValues, stage: number): unknown =>
  exercise.model === undefined ? mistakesOf(exercise, values, stage) : mistakesOf(sampleExercise());
