import { beforeAll, describe, expect, it } from 'vitest';

import type { Check } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { evaluateStages, suggestStages, type PlanBasis } from '#core/plan';
import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import { RECIPE_SOURCE } from '#core/solid';
import { loadKernel } from '#runtime';

import { blockStep, exerciseOf, holesStep, sizeCheck } from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

function basisOf(exercise: Exercise): PlanBasis {
  const { shape, surfaces, scope } = unwrap(buildRecipe(kernel, exercise.recipe));
  const solid = unwrap(kernel.analyze(shape, RECIPE_SOURCE));
  shape.free();
  return { exercise, solid, surfaces, scope };
}

const BORE = holesStep('bore', [[15, 12]], 8);

/** A block of A x 40 x 20, A 60 and in the second stage 80, where a bore of 8 is added. */
const staged = (checks: readonly object[], adds: readonly string[] = ['bore']): Exercise =>
  exerciseOf(
    {
      parameters: [{ name: 'A', value: '60' }],
      steps: [blockStep(['A', 40, 20]), { ...BORE, off: true }],
      checks,
    },
    { stages: [{ title: 'Longer and bored', brief: '', values: { A: '80' }, adds }] },
  );

const length = (nominal: string): object => sizeCheck('length', 'overall-size', nominal, { axis: 'x' });
const bore = (change: object = {}): object => sizeCheck('bore', 'diameter', 8, { of: ['bore.wall'], ...change });
const stateOf = (...checks: readonly object[]) => evaluateStages(staged(checks), basisOf)[0];

describe('a check in all its stages', () => {
  it('that follows the letter is as in the first one', () => {
    expect(stateOf(length('A'))).toMatchObject({ kind: 'measured', passes: true, nominal: 60, measured: 60 });
    expect(stateOf(length('A'))).not.toHaveProperty('inStage');
  });

  it('that holds only in the first is as where it fails, with the name of that stage', () => {
    expect(stateOf(length('60'))).toMatchObject({
      kind: 'measured',
      passes: false,
      nominal: 60,
      measured: 80,
      inStage: 'Longer and bored',
    });
  });

  it('that fails in the first is as there, though it holds later', () => {
    const state = stateOf(length('80'));
    expect(state).toMatchObject({ kind: 'measured', passes: false, nominal: 80, measured: 60 });
    expect(state).not.toHaveProperty('inStage');
  });

  it('that begins with the second is not looked for in the first', () => {
    expect(stateOf(bore({ fromStage: 2 }))).toMatchObject({ kind: 'measured', passes: true, measured: 8 });
    expect(stateOf(bore())).toMatchObject({ kind: 'broken' });
  });

  it('that cannot be measured in a later one says in which', () => {
    const state = stateOf(bore({ fromStage: 2, of: ['bore.rim'] }));
    expect(state).toMatchObject({ kind: 'broken' });
    expect(state?.kind === 'broken' && state.message).toMatch(/^In stage "Longer and bored": .*bore\.rim/);
  });

  it('that is switched off stays off in all of them', () => {
    expect(stateOf({ ...length('60'), off: true })).toMatchObject({ kind: 'off' });
  });

  it('comes in the order of the plan', () => {
    const states = evaluateStages(staged([bore({ fromStage: 2 }), length('A')]), basisOf);
    expect(states.map(({ checkId }) => checkId)).toEqual(['bore', 'length']);
  });
});

describe('a plan for all stages', () => {
  const planOf = (adds?: readonly string[]): readonly Check[] => suggestStages(staged([], adds), basisOf, () => []);

  it('has what the first stage shows, and from the second on what only that one shows', () => {
    const plan = planOf();
    const later = plan.filter(({ fromStage }) => fromStage !== undefined);
    expect(later.every(({ fromStage }) => fromStage === 2)).toBe(true);
    expect(later.map(({ kind }) => kind).sort()).toEqual(['diameter', 'hole-position', 'hole-position']);
    expect(plan.filter(({ kind }) => kind === 'overall-size')).toHaveLength(3);
    expect(new Set(plan.map(({ id }) => id)).size).toBe(plan.length);
  });

  it('is that of the first stage where the others add nothing', () => {
    const plan = planOf([]);
    expect(plan.some(({ fromStage }) => fromStage !== undefined)).toBe(false);
    expect(plan.map(({ kind }) => kind)).not.toContain('diameter');
  });
});
