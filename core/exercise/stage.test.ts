import { describe, expect, it } from 'vitest';

import { exerciseOfStage, parseExercise, stageCount, type Exercise } from '#core/exercise';
import { unwrap } from '#core/problem';
import { mastStepExercise } from '#demo/exercises';

const lettersOf = ({ recipe }: Exercise) =>
  Object.fromEntries(recipe.parameters.map(({ name, value }) => [name, value]));
const wedgeOf = ({ recipe }: Exercise) => recipe.steps.find(({ id }) => id === 'wedge')?.off === true;
const planOf = ({ checks }: Exercise) => checks.map(({ id }) => id);

describe('an exercise of two stages', () => {
  it('asks first for the part as drawn, without the steps and checks of the later stage', () => {
    const first = exerciseOfStage(mastStepExercise, 1);
    expect(stageCount(mastStepExercise)).toBe(2);
    expect(lettersOf(first)).toMatchObject({ A: '6' });
    expect(wedgeOf(first)).toBe(true);
    expect(planOf(first)).not.toContain('wedge-hole-diameter');
  });

  it('asks then for the changed letters and the added step, and keeps the rest', () => {
    const second = exerciseOfStage(mastStepExercise, 2);
    expect(lettersOf(second)).toMatchObject({ A: '6 1/2', B: '3' });
    expect(wedgeOf(second)).toBe(false);
    expect(planOf(second)).toContain('wedge-hole-diameter');
    // A variant of its own length is changed to that of the stage; its width stays.
    expect(second.variants[0]?.values).toMatchObject({ A: '6 1/2' });
  });

  it('adds only steps that the part has', () => {
    const stages = [{ title: 'x', brief: '', values: {}, adds: ['nowhere'] }];
    const parsed = parseExercise({ ...mastStepExercise, stages });
    expect(parsed.ok ? '' : parsed.problem.message).toContain('a step that the part does not have');
  });

  it('is not built by steps and read from a file at once', () => {
    const model = { sha256: 'a'.repeat(64), fileName: 'a.step', unit: 'mm' };
    const parsed = parseExercise({ ...mastStepExercise, model });
    expect(parsed.ok ? '' : parsed.problem.message).toContain('either built by steps or read from a file');
    const bare = {
      ...mastStepExercise,
      checks: [],
      stages: [],
      variants: [],
      recipe: { ...mastStepExercise.recipe, steps: [] },
    };
    expect(unwrap(parseExercise({ ...bare, model })).model).toEqual(model);
  });
});
