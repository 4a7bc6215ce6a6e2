import { beforeAll, describe, expect, it } from 'vitest';

import { prepareExercise } from '#core/attempt';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import { demoExercises } from '#demo/exercises';
import { generatedPart } from '#demo/generator';
import { loadKernel } from '#runtime';

import { openPart } from '#core/model';

import { blockStep, exerciseOf } from '../exercise/testing.ts';
import { lookalikesOf, unlikeness, type Picture } from './index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const square = (x: number, y: number, side: number): Picture[number] => [
  x,
  y,
  x + side,
  y,
  x + side,
  y + side,
  x,
  y + side,
  x,
  y,
];

describe('two pictures', () => {
  it('are alike where their lines are, or nearly', () => {
    expect(unlikeness([square(100, 100, 400)], [square(100, 100, 400)])).toBe(0);
    expect(unlikeness([square(100, 100, 400)], [square(105, 104, 400)])).toBe(0);
  });

  it('differ by what one of them lacks, as a share of all lines', () => {
    // A square of half the side has half the lines: a third of all that both have.
    expect(unlikeness([square(100, 100, 400), square(200, 200, 200)], [square(100, 100, 400)])).toBeCloseTo(1 / 3, 1);
    expect(unlikeness([square(100, 100, 100)], [square(600, 600, 100)])).toBe(1);
  });
});

describe('a part and what it may be taken for', () => {
  it('are pictures at one scale, each different from the right one and from each other', () => {
    const exercise = demoExercises[0];
    if (exercise === undefined) throw new Error('no demo exercise');
    const { reference } = unwrap(prepareExercise(kernel, exercise));
    const { right, wrong } = lookalikesOf(kernel, exercise, reference.solid);
    expect(wrong.length).toBeGreaterThanOrEqual(3);
    const all = [right, ...wrong.map(({ picture }) => picture)];
    for (const [i, one] of all.entries()) {
      expect(one.flat().every((value) => value >= 0 && value <= 1000)).toBe(true);
      for (const other of all.slice(i + 1)) expect(unlikeness(one, other)).toBeGreaterThan(0.03);
    }
  });

  it('leave out a part that only lies elsewhere', () => {
    // The plate alone, built downward: the same plate.
    const block = exerciseOf({ steps: [blockStep([60, 40, 20])], checks: [] });
    const { solid } = openPart(kernel, block);
    expect(lookalikesOf(kernel, block, solid).wrong).toEqual([]);
  });

  it('are there for parts that nobody has seen', () => {
    const enough = [1, 2, 3, 4, 5, 6].filter((seed) => {
      const part = generatedPart(seed);
      const { solid } = openPart(kernel, part);
      return lookalikesOf(kernel, part, solid).wrong.length >= 3;
    });
    expect(enough.length).toBeGreaterThanOrEqual(4);
  });
});
