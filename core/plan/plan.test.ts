import { beforeAll, describe, expect, it } from 'vitest';

import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { evaluatePlan, suggestPlan, type PlanBasis } from '#core/plan';
import { unwrap } from '#core/problem';
import { buildRecipe, type ParameterValues } from '#core/recipe';
import { cleatPlateExercise, demoExercises } from '#demo/exercises';
import { loadKernel } from '#runtime';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

function basisOf(exercise: Exercise, values: ParameterValues = {}): PlanBasis {
  const { shape, surfaces, scope } = unwrap(buildRecipe(kernel, exercise.recipe, values));
  const source = { format: 'recipe', declaredUnit: 'mm', productName: null, originatingSystem: null } as const;
  const solid = unwrap(kernel.analyze(shape, source));
  shape.free();
  return { exercise, solid, surfaces, scope };
}

describe('a suggested plan', () => {
  it.each(demoExercises.map((exercise) => [exercise.title, exercise] as const))(
    'for the %s holds on the reference, adds up to 100, and says nothing twice',
    (_title, exercise) => {
      const basis = basisOf(exercise);
      const checks = suggestPlan(basis);
      const states = evaluatePlan({ ...basis, exercise: { ...exercise, checks } });
      expect(states.filter((state) => state.kind !== 'measured' || !state.passes)).toEqual([]);
      expect(checks.reduce((sum, { weight }) => sum + weight, 0)).toBeCloseTo(100, 1);
      const said = checks.map(({ id: _id, weight: _weight, label: _label, ...rest }) => JSON.stringify(rest));
      expect(new Set(said).size).toBe(said.length);
      expect(checks.filter(({ kind }) => kind === 'overall-size')).toHaveLength(3);
    },
  );

  it('follows the letters: with other values the same plan still holds', () => {
    const checks = suggestPlan(basisOf(cleatPlateExercise));
    expect(checks.flatMap((check) => ('nominal' in check ? [check.nominal] : []))).toEqual(
      expect.arrayContaining(['A', 'B', 'C']),
    );
    const other = basisOf(cleatPlateExercise, { A: '132', C: '12' });
    const states = evaluatePlan({ ...other, exercise: { ...cleatPlateExercise, checks } });
    const lengths = states.filter(({ checkId }) => ['length', 'width', 'height'].includes(checkId));
    expect(lengths.every((state) => state.kind === 'measured' && state.passes)).toBe(true);
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
