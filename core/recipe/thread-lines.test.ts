import { beforeAll, describe, expect, it } from 'vitest';

import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import { buildRecipe, pitchOf, threadLines } from '#core/recipe';
import { tillerPinExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

describe('the pitch of a thread', () => {
  it('is read from metric and inch designations', () => {
    expect(pitchOf('M12x1.75')).toBe(1.75);
    expect(pitchOf('M8 x 1,25')).toBe(1.25);
    expect(pitchOf('3/8-16 UNC')).toBeCloseTo(25.4 / 16, 9);
    expect(pitchOf('G 1/2')).toBeNull();
  });
});

describe('a thread in the picture', () => {
  it('runs around its wall from the free end, as long as it is', () => {
    const { shape, threads } = unwrap(buildRecipe(kernel, tillerPinExercise.recipe));
    const { faces, edges } = kernel.tables(shape);
    const { centroidMm } = kernel.massProperties(shape);
    shape.free();
    const [line, ...more] = threadLines(threads, faces, edges, centroidMm);
    expect(more).toEqual([]);
    const points = line?.points ?? [];
    const heights = points.filter((_, i) => i % 3 === 2);
    // The shank of 12 begins behind the lead-in of 1 and carries 18 of thread.
    expect(Math.min(...heights)).toBeCloseTo(1, 6);
    expect(Math.max(...heights)).toBeCloseTo(19, 6);
    for (let i = 0; i < points.length; i += 3) expect(Math.hypot(points[i]!, points[i + 1]!)).toBeCloseTo(6, 6);
    // 18 / 1.75 turns of 20 points.
    expect(heights.length).toBe(Math.round((18 / 1.75) * 20) + 1);
  });
});
