import { beforeAll, describe, expect, it } from 'vitest';

import { exerciseOfStage, type Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { evaluatePlan, slightChanges, suggestPlan, type PlanBasis } from '#core/plan';
import { unwrap } from '#core/problem';
import { buildRecipe, type ParameterValues } from '#core/recipe';
import { RECIPE_SOURCE } from '#core/solid';
import { cleatPlateExercise, demoExercises, tillerPinExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { sampleOf } from '../../demo/exercises/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

function basisOf(exercise: Exercise, values: ParameterValues = {}): PlanBasis {
  const { shape, surfaces, scope } = unwrap(buildRecipe(kernel, exercise.recipe, values));
  const solid = unwrap(kernel.analyze(shape, RECIPE_SOURCE));
  shape.free();
  return { exercise, solid, surfaces, scope };
}

/** The part with one letter changed in each. */
const changedLetters = (exercise: Exercise, scope: PlanBasis['scope']): readonly PlanBasis[] =>
  slightChanges(exercise.recipe, scope).flatMap((tries) => {
    for (const values of tries) if (buildable(exercise, values)) return [basisOf(exercise, values)];
    return [];
  });

function buildable(exercise: Exercise, values: ParameterValues): boolean {
  const built = buildRecipe(kernel, exercise.recipe, values);
  if (built.ok) built.value.shape.free();
  return built.ok;
}

describe('a suggested plan', () => {
  it.each(sampleOf(demoExercises, 6).map((exercise) => [exercise.title, exercise] as const))(
    'for the %s holds on the reference, adds up to 100, and says nothing twice',
    (_title, exercise) => {
      const basis = basisOf(exercise);
      const checks = suggestPlan(basis);
      const states = evaluatePlan({ ...basis, exercise: { ...exercise, checks } });
      expect(states.filter((state) => state.kind === 'broken' || (state.kind === 'measured' && !state.passes))).toEqual(
        [],
      );
      expect(checks.reduce((sum, { weight }) => sum + weight, 0)).toBeCloseTo(100, 1);
      const labels = checks.map(({ label }) => label);
      expect(new Set(labels).size).toBe(labels.length);
      const said = checks.map(({ id: _id, weight: _weight, label: _label, ...rest }) => JSON.stringify(rest));
      expect(new Set(said).size).toBe(said.length);
      expect(checks.filter(({ kind }) => kind === 'overall-size')).toHaveLength(3);
    },
  );

  it('follows the letters: with other values the same plan still holds', () => {
    const basis = basisOf(cleatPlateExercise);
    const checks = suggestPlan(basis, changedLetters(cleatPlateExercise, basis.scope));
    expect(checks.flatMap((check) => ('nominal' in check ? [check.nominal] : []))).toEqual(
      expect.arrayContaining(['A', 'B', 'C']),
    );
    const other = basisOf(cleatPlateExercise, { A: '132', C: '12' });
    const states = evaluatePlan({ ...other, exercise: { ...cleatPlateExercise, checks } });
    expect(states.filter((state) => state.kind === 'broken' || (state.kind === 'measured' && !state.passes))).toEqual(
      [],
    );
  });

  it('works out how letters give a size that the recipe does not write', () => {
    // The upper edge of a groove at B - 10, 2 high, is 8 under the head; from the tip it is B - 8.
    const basis = basisOf(tillerPinExercise);
    const checks = suggestPlan(basis, changedLetters(tillerPinExercise, basis.scope));
    const nominals = checks.flatMap((check) => ('nominal' in check ? [check.nominal] : []));
    expect(nominals).toContain('B - 8');
    // 3 is a quarter of A here, by chance; the split-pin hole stays 3.
    const hole = checks.find(({ label }) => label === 'Split-pin hole diameter');
    expect(hole && 'nominal' in hole ? hole.nominal : '').toBe('3');
  });

  it.each(
    demoExercises.filter(({ variants }) => variants.length > 0).map((exercise) => [exercise.title, exercise] as const),
  )('of the %s is the one the exercise ships with, and holds for all its variants', (_title, exercise) => {
    for (const { values } of sampleOf(exercise.variants, 2)) {
      const states = evaluatePlan(basisOf(exerciseOfStage(exercise, 1), values));
      expect(states.filter((state) => state.kind === 'broken' || (state.kind === 'measured' && !state.passes))).toEqual(
        [],
      );
    }
  });
});

describe('the live value of a check', () => {
  it('says what is measured, what fails, and what cannot be tied to the part, each for itself', () => {
    const basis = basisOf(cleatPlateExercise);
    const length = {
      id: 'length',
      label: 'Length',
      kind: 'overall-size',
      axis: 'x',
      tolerance: '0.1',
      weight: 1,
    } as const;
    const states = evaluatePlan({
      ...basis,
      exercise: {
        ...cleatPlateExercise,
        checks: [
          { ...length, nominal: 'A' },
          { ...length, id: 'wrong', nominal: 'A + 1' },
          { ...length, id: 'nameless', nominal: 'Q' },
          { id: 'gone', label: 'Gone', kind: 'presence', of: 'nowhere.wall', weight: 1 },
          { id: 'quiet', label: 'Quiet', kind: 'volume', tolerancePercent: 1, weight: 1, off: true },
        ],
      },
    });
    expect(states).toMatchObject([
      { checkId: 'length', kind: 'measured', nominal: 120, passes: true },
      { checkId: 'wrong', kind: 'measured', nominal: 121, passes: false },
      { checkId: 'nameless', kind: 'broken' },
      { checkId: 'gone', kind: 'broken', message: expect.stringContaining('nowhere.wall') as string },
      { checkId: 'quiet', kind: 'off' },
    ]);
  });
});

it('no two checks of a demo plan are called alike', () => {
  for (const { checks } of demoExercises) {
    const labels = checks.map(({ label }) => label);
    expect(labels.filter((label, i) => labels.indexOf(label) !== i)).toEqual([]);
  }
});
