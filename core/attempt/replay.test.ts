import { beforeAll, describe, expect, it } from 'vitest';

import { gradeFile, prepareExercise, replayRecipe } from '#core/attempt';
import { readBuildLog } from '#core/buildlog';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import { buildRecipe, type Recipe } from '#core/recipe';
import { cleatPlateExercise } from '#demo/exercises';
import { modelLikeStudent } from '#demo/workbench';
import { loadKernel } from '#runtime';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const { recipe } = cleatPlateExercise;
const part = { exercise: cleatPlateExercise, stage: 1 };
const sizeOf = (made: Recipe) => {
  const { shape } = unwrap(buildRecipe(kernel, made));
  const { volumeMm3, areaMm2 } = kernel.massProperties(shape);
  shape.free();
  return { volumeMm3, areaMm2 };
};
/** The plate with its thickness as a number instead of the letter C. */
const fixed: Recipe = {
  ...recipe,
  steps: JSON.parse(JSON.stringify(recipe.steps).replaceAll('"C"', '"10"')) as Recipe['steps'],
};

describe('a recipe that is handed in', () => {
  it('of sound intent gives the right part with every other value', () => {
    const { sameAsFile, trials } = replayRecipe(kernel, recipe, part, sizeOf(recipe));
    expect(sameAsFile).toBe(true);
    expect(trials.length).toBeGreaterThan(0);
    expect(trials.map(({ outcome }) => outcome)).toEqual(trials.map(() => 'holds'));
  });

  it('with a fixed thickness gives another part as soon as the thickness is asked to change', () => {
    const { trials } = replayRecipe(kernel, fixed, part, sizeOf(recipe));
    const changed = trials.filter(({ values }) => 'C' in values && values['C'] !== '10');
    expect(changed.length).toBeGreaterThan(0);
    for (const { outcome, message } of changed)
      expect([outcome, message]).toEqual(['differs', expect.stringContaining('gives another part')]);
  });

  it('without the letter cannot follow it, and is told which', () => {
    const without = { ...fixed, parameters: recipe.parameters.filter(({ name }) => name !== 'C') };
    const { trials } = replayRecipe(kernel, without, part, sizeOf(recipe));
    expect(trials.find(({ values }) => 'C' in values)?.message).toContain('no letter C');
  });

  it('that breaks with other values says at which step', () => {
    const broken: Recipe = {
      ...recipe,
      steps: recipe.steps.map((step) => (step.op === 'fillet' ? { ...step, radius: '8 * (C - 9.99) * 100' } : step)),
    };
    const { trials } = replayRecipe(kernel, broken, part, sizeOf(recipe));
    expect(trials.some(({ outcome, message }) => outcome === 'fails' && message.includes('cannot be built'))).toBe(
      true,
    );
  });

  it('of another part than the file is noticed', () => {
    const { volumeMm3, areaMm2 } = sizeOf(recipe);
    expect(replayRecipe(kernel, recipe, part, { volumeMm3: 1.1 * volumeMm3, areaMm2 }).sameAsFile).toBe(false);
  });

  it('is tried with the values of the next stage where there is one', () => {
    const staged = { ...cleatPlateExercise, stages: [{ title: 'Thicker', brief: '', values: { C: '14' } }] };
    const { trials } = replayRecipe(kernel, recipe, { exercise: staged, stage: 1 }, sizeOf(recipe));
    expect(trials[0]).toMatchObject({ values: { C: '14' }, outcome: 'holds' });
  });

  it('is judged by the rule of the exercise in the report', () => {
    const exercise = { ...cleatPlateExercise, rules: [{ kind: 'holds' }] as const };
    const { reference } = unwrap(prepareExercise(kernel, exercise));
    const { step } = unwrap(modelLikeStudent(kernel, exercise, { kind: 'none' }));
    const ruling = (log: string) =>
      unwrap(
        gradeFile(
          kernel,
          reference,
          { bytes: step, policy: exercise.scoring },
          {
            circumstances: { log: unwrap(readBuildLog(log)) },
            replay: { exercise, stage: 1 },
          },
        ),
      ).report.rules[0]?.verdict;
    expect(ruling(JSON.stringify(recipe))).toBe('kept');
    expect(ruling(JSON.stringify(fixed))).toBe('broken');
    expect(ruling('Extrude plate\nHole 9 through')).toBe('open');
  });
});
