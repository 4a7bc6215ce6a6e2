/** A feature is missing, or too many, only where its faces are: what has moved is there. */
import { beforeAll, describe, expect, it } from 'vitest';

import { measureSubmission, prepareReference, type Measurement } from '#core/check';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import { RECIPE_SOURCE } from '#core/solid';
import { loadKernel } from '#runtime';

import { blockStep, exerciseOf, holesStep, pocketStep } from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

function builtOf(steps: readonly object[]) {
  const exercise = exerciseOf({ steps, checks: [] });
  const { shape, surfaces, scope } = unwrap(buildRecipe(kernel, exercise.recipe));
  const solid = unwrap(kernel.analyze(shape, RECIPE_SOURCE));
  shape.free();
  return { solid, reference: () => unwrap(prepareReference(exercise, solid, surfaces, scope)) };
}

/** Kinds and sizes of what is told as missing and as too much. */
function oddOnes(right: readonly object[], handedIn: readonly object[]): Record<'missing' | 'extra', string[]> {
  const { missing, extra } = measureSubmission(builtOf(right).reference(), builtOf(handedIn).solid);
  const words = (list: Measurement['missing']): string[] =>
    list.map(({ kind, sizeMm }) => `${kind} ${sizeMm.toFixed(1)}`);
  return { missing: words(missing), extra: words(extra) };
}

const FOOT = blockStep([60, 33, 8]);
/** A cheek on the foot, rounded all round its top by a radius of 14, with a hole that stays where it is. */
const cheek = (height: number): readonly object[] => [
  FOOT,
  {
    id: 'cheek',
    op: 'extrude',
    mode: 'add',
    plane: { base: 'XZ', offset: '-9' },
    outlines: [
      {
        shape: 'union',
        parts: [
          { shape: 'circle', center: ['30', String(height - 14)], diameter: '28' },
          { shape: 'corner-rectangle', corner: ['16', '8'], width: '28', height: String(height - 22) },
        ],
      },
    ],
    extent: { kind: 'depth', depth: '9' },
  },
];

describe('a round end', () => {
  it('that lies lower, by far or by little, is not missing', () => {
    expect(oddOnes(cheek(60), cheek(58.7))).toEqual({ missing: [], extra: [] });
    expect(oddOnes(cheek(60), cheek(45))).toEqual({ missing: [], extra: [] });
  });
});

describe('a pocket with round corners', () => {
  const pocket = pocketStep('pocket', [10, 8], [24, 16, 5]);
  const corners = { id: 'corners', op: 'fillet', radius: '3', edges: [{ between: ['pocket.left', 'pocket.lower'] }] };

  it('that is not there is missing, and a second one is too many', () => {
    expect(oddOnes([FOOT, pocket, corners], [FOOT]).missing).toContain('fillet 3.0');
    expect(oddOnes([FOOT], [FOOT, pocket, corners]).extra).toContain('fillet 3.0');
  });

  it('that has moved is neither', () => {
    const moved = pocketStep('pocket', [20, 10], [24, 16, 5]);
    expect(oddOnes([FOOT, pocket, corners], [FOOT, moved, corners])).toEqual({ missing: [], extra: [] });
  });

  it('and holes are told by their checks alone', () => {
    const hole = holesStep('hole', [[50, 10]], 6);
    expect(oddOnes([FOOT, hole], [FOOT]).missing.filter((words) => !words.startsWith('hole'))).toEqual([]);
  });
});
