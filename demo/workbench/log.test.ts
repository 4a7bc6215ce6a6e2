import { describe, expect, it } from 'vitest';

import { readBuildLog } from '#core/buildlog';
import { unwrap } from '#core/problem';
import { demoExercises } from '#demo/exercises';
import { LOG_STYLES, logLikeStudent } from '#demo/workbench';

const built = demoExercises.filter(({ recipe }) => recipe.steps.length > 0);

describe.each([...LOG_STYLES, 'recipe'] as const)('a list of build steps in the style "%s"', (style) => {
  it.each(built.map((exercise) => [exercise.title, exercise] as const))(
    'of the %s is understood step by step',
    (_, exercise) => {
      const { steps } = unwrap(readBuildLog(logLikeStudent(exercise, style)));
      const wanted = exercise.recipe.steps.filter(({ off }) => off !== true).map(({ op }) => op);
      expect(steps.map(({ operation }) => operation)).toEqual(wanted);
    },
  );
});

it('a student who makes the holes early writes them after the first step', () => {
  const [exercise] = built;
  if (exercise === undefined) throw new Error('no exercise');
  const { steps } = unwrap(readBuildLog(logLikeStudent(exercise, 'lines', true)));
  const holes = exercise.recipe.steps.filter(({ op }) => op === 'hole').length;
  expect(steps.slice(1, 1 + holes).map(({ operation }) => operation)).toEqual(
    Array.from({ length: holes }, () => 'hole'),
  );
});
