import { beforeAll, describe, expect, it } from 'vitest';

import { measureInPlace, measureSubmission, prepareReference, type Reference } from '#core/check';
import type { Kernel } from '#core/kernel';
import { withPart } from '#core/model';
import { unwrap, type Result } from '#core/problem';
import type { Solid } from '#core/solid';
import { loadKernel } from '#runtime';

import { blockStep, circleOutline, exerciseOf, holesStep, raisedStep, sizeCheck } from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const BLOCK = blockStep([60, 40, 20]);
/** Takes `size` off the upper side and `other` off the right one. */
const chamfer = (size: number, other: number): object => ({
  id: 'slope',
  op: 'chamfer',
  size: String(size),
  other: String(other),
  edges: [{ between: ['block.end', 'block.right'] }],
});

function partOf(steps: readonly object[], checks: readonly object[]): { solid: Solid; reference: Result<Reference> } {
  const exercise = exerciseOf({ steps, checks });
  return withPart(kernel, exercise, {}, ({ solid, surfaces, scope }) => ({
    solid,
    reference: prepareReference(exercise, solid, surfaces, scope),
  }));
}

const edge = (nominal: number, from: string, of: string, on: string): object => ({
  ...sizeCheck('foot', 'edge-distance', nominal, { from, of, on }),
  kind: 'edge-distance',
});

/** What the check measures on a block with other legs of its slope; null with the reason where it cannot. */
function measured(check: object, steps: readonly object[]) {
  const reference = unwrap(partOf([BLOCK, chamfer(3, 5)], [check]).reference);
  const [found] = measureSubmission(reference, partOf(steps, []).solid).checks;
  return found?.measured ?? found?.reason;
}

describe('the foot of a slope on the side of a block', () => {
  // The slope takes 5 of the 20 of the side: its foot is 15 above the underside; 3 of the 60 of the upper side.
  const low = edge(15, 'block.start', 'slope.chamfer', 'block.right');
  const high = edge(57, 'block.left', 'slope.chamfer', 'block.end');

  it('is measured from a face that it runs along', () => {
    expect(measured(low, [BLOCK, chamfer(3, 5)])).toBeCloseTo(15, 6);
    expect(measured(high, [BLOCK, chamfer(3, 5)])).toBeCloseTo(57, 6);
  });

  it('tells each leg of the slope from the other', () => {
    expect(measured(low, [BLOCK, chamfer(3, 4)])).toBeCloseTo(16, 6);
    expect(measured(high, [BLOCK, chamfer(3, 4)])).toBeCloseTo(57, 6);
    expect(measured(low, [BLOCK, chamfer(2, 5)])).toBeCloseTo(15, 6);
    expect(measured(high, [BLOCK, chamfer(2, 5)])).toBeCloseTo(58, 6);
  });

  it('is not on a model without the slope, and the report says so', () => {
    expect(measured(low, [BLOCK])).toBe('The two surfaces do not meet in an edge on the model.');
  });

  it('is measured in place as the submission is, without looking for where it lies', () => {
    const reference = unwrap(partOf([BLOCK, chamfer(3, 5)], [low]).reference);
    const [found] = measureInPlace(reference, partOf([BLOCK, chamfer(3, 4.5)], []).solid);
    expect(found?.measured).toBeCloseTo(15.5, 6);
    expect(found?.faceIds.length).toBe(3);
  });
});

describe('a check of an edge is refused', () => {
  it.each([
    ['where the surfaces do not meet', edge(15, 'block.start', 'block.left', 'block.right'), 'do not meet'],
    [
      'where the edge does not run along the face',
      edge(15, 'block.left', 'block.end', 'block.lower'),
      'does not run along',
    ],
  ])('%s', (_, check, words) => {
    const { reference } = partOf([BLOCK, chamfer(3, 5)], [check]);
    expect(reference).toMatchObject({ ok: false, problem: { code: 'check-anchor' } });
    expect(reference.ok ? '' : reference.problem.message).toContain(words);
  });

  it('where it is the rim of a hole in a slope: its one end would not tell where it is', () => {
    const hole = holesStep('bore', [[57, 20]], 2);
    const { reference } = partOf([BLOCK, chamfer(6, 6), hole], [edge(15, 'block.start', 'bore.wall', 'slope.chamfer')]);
    expect(reference.ok ? '' : reference.problem.message).toContain('runs along');
  });

  it('and not where a rim lies in a face that is parallel', () => {
    // The upper rim of a hole is as high as the block.
    const steps = [BLOCK, chamfer(3, 5), holesStep('bore', [[20, 20]], 8)];
    const { solid, reference } = partOf(steps, [edge(20, 'block.start', 'bore.wall', 'block.end')]);
    expect(measureInPlace(unwrap(reference), solid)[0]?.measured).toBeCloseTo(20, 6);
  });

  it('where it is measured from what is neither flat nor round', () => {
    const cone = { ...holesStep('bore', [[20, 20]], 8, { countersink: { diameter: '12' } }) };
    const { reference } = partOf([BLOCK, cone], [edge(15, 'bore.sink', 'block.end', 'block.right')]);
    expect(reference.ok ? '' : reference.problem.message).toContain('neither flat nor round');
  });
});

describe('an edge measured from the axis of a round', () => {
  const POST = raisedStep('post', circleOutline([22, 20], 12), 8);

  it('that stands square to it is as far as the axis is from the face below', () => {
    // The right end of the block is 60 - 22 = 38 from the axis, along the edge of the upper side too.
    expect(measuredOn([BLOCK, POST], edge(38, 'post.wall', 'block.end', 'block.right'))).toBeCloseTo(38, 6);
  });

  it('that runs along it is as far as the corner is from the axis', () => {
    // The upright corner at (60, 40) from the axis at (22, 20): sqrt(38 x 38 + 20 x 20).
    const corner = edge(43, 'post.wall', 'block.upper', 'block.right');
    expect(measuredOn([BLOCK, POST], corner)).toBeCloseTo(Math.hypot(38, 20), 6);
  });

  it('has no distance from an axis that leans to it', () => {
    const tilt = {
      id: 'tilt',
      op: 'plane',
      by: { kind: 'angled', from: 'block.end', about: 'block.left', angle: '20' },
    };
    // From the leaning plane the boss goes down into the block.
    const leaning = { ...raisedStep('boss', circleOutline([30, 20], 10), 20, { plane: 'tilt' }), reversed: true };
    const { reference } = partOf([BLOCK, tilt, leaning], [edge(15, 'boss.wall', 'block.end', 'block.lower')]);
    expect(reference.ok ? '' : reference.problem.message).toContain('do not meet');
  });

  function measuredOn(steps: readonly object[], check: object) {
    const { solid, reference } = partOf(steps, [check]);
    return measureInPlace(unwrap(reference), solid)[0]?.measured;
  }
});
