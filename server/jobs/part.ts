import { exerciseOfStage, type Exercise } from '#core/exercise';

import type { PartOfExercise } from './task.ts';

/** The part of an exercise that a student has: by the place of the variant in the list, -1 as drawn, and the stage. */
export function partOf(
  exercise: Exercise,
  { variant, stage }: { readonly variant: number; readonly stage: number },
): PartOfExercise {
  const values = exerciseOfStage(exercise, stage).variants[variant]?.values;
  return { exercise, stage, ...(values === undefined ? {} : { values }) };
}
