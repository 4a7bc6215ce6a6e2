import { useMemo } from 'react';

import type { WorkDetail } from '#api';
import { blankExercise, type Exercise } from '#core/exercise';
import type { Recipe } from '#core/recipe';

/** What a part in the page begins with: what was left, nothing, or what was built for the stage before. */
export type Begins = 'as-left' | 'new' | 'with-stage-before';

const NAME_LENGTH = 80;

type Asked = Pick<WorkDetail, 'exerciseNumber' | 'exerciseTitle' | 'unit' | 'letters'>;

/** A part with the letters of the sheet and the student's own values: without steps, or with those of the stage before. */
export function beginning(asked: Asked, earlier: Recipe | null): Recipe {
  const { exerciseNumber, exerciseTitle, unit, letters } = asked;
  const { recipe } = blankExercise(exerciseNumber, exerciseTitle, unit);
  const own = letters.map(({ name, value, label }) => ({ name, value, ...(label === '' ? {} : { label }) }));
  // Letters that the student added for own steps stay, or these steps would have no size.
  const added = (earlier?.parameters ?? []).filter(({ name }) => own.every((letter) => letter.name !== name));
  return {
    ...recipe,
    name: `${exerciseNumber} ${exerciseTitle}`.slice(0, NAME_LENGTH),
    parameters: [...own, ...added],
    steps: earlier?.steps ?? [],
  };
}

/** What the editor of parts asks of an exercise: everything but its recipe is of the student's sheet. */
export function useExerciseOf(
  { exerciseNumber, exerciseTitle, unit, material, densityGPerCm3 }: WorkDetail,
  recipe: Recipe,
) {
  return useMemo((): Exercise => {
    const blank = blankExercise(exerciseNumber, exerciseTitle, unit);
    return { ...blank, material: { ...blank.material, name: material, densityGPerCm3 }, recipe };
  }, [exerciseNumber, exerciseTitle, unit, material, densityGPerCm3, recipe]);
}
