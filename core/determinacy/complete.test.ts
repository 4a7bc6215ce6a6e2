import { beforeAll, describe, expect, it } from 'vitest';

import { groupOf, type Check } from '#core/check';
import { completedPlan, DeterminacyStudy } from '#core/determinacy';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { withPart } from '#core/model';
import { slightChanges, suggestPlan, type PlanBasis } from '#core/plan';
import { loadKernel } from '#runtime';

import {
  blockStep,
  circleOutline,
  exerciseOf,
  holesStep,
  pocketStep,
  raisedStep,
  sizeCheck,
} from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const basisOf = (exercise: Exercise, values: Record<string, string> = {}): PlanBasis =>
  withPart(kernel, exercise, { values }, ({ solid, surfaces, scope }) => ({ exercise, solid, surfaces, scope }));

interface Part {
  readonly steps: readonly object[];
  readonly parameters?: readonly object[];
}

/** The plan that is suggested for a part, or another, and what completing it adds and leaves. */
function completed(part: Part, checks?: readonly object[]) {
  const bare = exerciseOf({ ...part, checks: checks ?? [] });
  const basis = basisOf(bare);
  const others = slightChanges(bare.recipe, basis.scope).map(([values]) => basisOf(bare, { ...values }));
  const exercise = checks === undefined ? { ...bare, checks: suggestPlan(basis, others) } : bare;
  const study = new DeterminacyStudy(kernel, basis);
  try {
    const { checks: all, left } = completedPlan(study, { ...basis, exercise });
    const known = new Set(exercise.checks.map(({ id }) => id));
    return { before: exercise.checks, all, added: all.filter(({ id }) => !known.has(id)), left };
  } finally {
    study.free();
  }
}

const said = (checks: readonly Check[]): readonly string[] =>
  checks.map((check) =>
    [
      check.kind,
      'nominal' in check ? check.nominal : '',
      'onSheet' in check && check.onSheet === false ? 'off the sheet' : '',
    ]
      .filter((word) => word !== '')
      .join(' '),
  );

const BLOCK = blockStep([60, 40, 20]);
const SIZES = (['x', 'y', 'z'] as const).map((axis, i) =>
  sizeCheck(axis, 'overall-size', [60, 40, 20][i] ?? 0, { axis }),
);

describe('completing a plan', () => {
  it('checks off the sheet what a center line says: a hole in the middle of a symmetric part', () => {
    const { added, left } = completed({ steps: [BLOCK, holesStep('bore', [[30, 20]], 8)] }, [
      ...SIZES,
      sizeCheck('bore', 'diameter', 8, { of: ['bore.wall'] }),
    ]);
    expect(said(added)).toEqual(['hole-position 30 off the sheet', 'hole-position 20 off the sheet']);
    expect([left.undetermined, left.unchecked]).toEqual([[], []]);
  });

  it('notices where a cut across the part is too narrow, for it leaves a wall', () => {
    const { added, left } = completed({ steps: [BLOCK, pocketStep('step', [40, 0], [20, 40, 8])] }, [
      ...SIZES,
      sizeCheck('run', 'distance', 20, { from: 'block.right', to: 'step.left' }),
      sizeCheck('drop', 'distance', 8, { from: 'block.end', to: 'step.end' }),
    ]);
    expect(said(added)).toEqual(['nothing-else']);
    expect(left.unchecked).toEqual([]);
  });

  it('says where a leaning boss stands: its angle, its end and its axis from the edge that it leans about', () => {
    const tilt = {
      id: 'tilt',
      op: 'plane',
      by: { kind: 'angled', from: 'block.end', about: 'block.left', angle: '20' },
    };
    const boss = raisedStep('boss', circleOutline([36, 20], 14), 9, { plane: 'tilt' });
    const neck = {
      ...raisedStep('neck', circleOutline([36, 20], 14), 1, { plane: 'tilt' }),
      extent: { kind: 'to-next' },
      reversed: true,
    };
    const { all, left } = completed({ steps: [blockStep([80, 40, 12]), tilt, boss, neck] });
    expect([left.undetermined, left.unchecked]).toEqual([[], []]);
    expect(said(all)).toContain('angle 20');
    expect(said(all)).toContain('edge-distance 9');
  });

  it('gives the ends of a neck between two outlines by the diameter of its round edges', () => {
    const neck = {
      id: 'neck',
      op: 'loft',
      mode: 'add',
      plane: { surface: 'block.end' },
      outline: circleOutline([30, 20], 30),
      distance: '15',
      to: circleOutline([30, 20], 18),
    };
    const { all, left } = completed({ steps: [BLOCK, neck] });
    expect([left.undetermined, left.unchecked]).toEqual([[], []]);
    expect(said(all).filter((one) => one.startsWith('edge-diameter'))).not.toEqual([]);
  });

  it('gives numbers that hold for other values of the letters', () => {
    const places = [
      ['A/3', 12],
      ['A/3 + 17', 12],
    ] as const;
    const steps = [blockStep(['A', 40, 20]), holesStep('bores', places, 6)];
    const { all, left } = completed({ steps, parameters: [{ name: 'A', value: '60' }] });
    expect([left.undetermined, left.unchecked]).toEqual([[], []]);
    expect(said(all).some((one) => one.startsWith('hole-position A/3'))).toBe(true);
  });

  it('keeps the weight of a group, and weighs what is new as the others on average', () => {
    const { before, added, all } = completed({ steps: [BLOCK, holesStep('bore', [[30, 20]], 8)] }, [
      ...SIZES,
      { ...sizeCheck('bore', 'diameter', 8, { of: ['bore.wall'] }), weight: 3 },
    ]);
    const weightOf = (checks: readonly Check[]): number =>
      checks.filter((check) => groupOf(check) === 'dimensions').reduce((sum, { weight }) => sum + weight, 0);
    expect([weightOf(before), weightOf(all)]).toEqual([6, expect.closeTo(6, 6)]);
    // Four checks of 6 together and two of their average, 1.5: 9 shares are left of 6.
    expect(added.map(({ weight }) => weight)).toEqual([expect.closeTo(1, 1), expect.closeTo(1, 1)]);
  });
});
