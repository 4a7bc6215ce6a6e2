import { beforeAll, describe, expect, it } from 'vitest';

import { arcThrough, circleCenter, contourArea, type Contour, type Kernel, type Profile } from '#core/kernel';
import type { Vec2 } from '#core/vector';
import { loadKernel } from '#runtime';

const { PI, SQRT2, abs, sqrt } = Math;

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const disc = (u: number, v: number, radiusMm: number): Contour => ({ kind: 'circle', center: [u, v], radiusMm });
const polygon = (...corners: readonly Vec2[]): Contour => ({
  kind: 'path',
  start: corners[0] ?? [0, 0],
  segments: [...corners.slice(1), corners[0] ?? [0, 0]].map((to) => ({ kind: 'line', to })),
});
const square = (size: number, u = 0, v = 0): Contour =>
  polygon([u, v], [u + size, v], [u + size, v + size], [u, v + size]);
const bare = (outer: Contour): Profile => ({ outer, holes: [] });
const areaOf = (profiles: readonly Profile[]): number =>
  profiles.reduce(
    (sum, { outer, holes }) =>
      sum + abs(contourArea(outer)) - holes.reduce((inner, hole) => inner + abs(contourArea(hole)), 0),
    0,
  );

describe('the area inside a contour', () => {
  it('is positive when it runs counterclockwise', () => {
    expect(contourArea(square(10))).toBeCloseTo(100, 12);
    expect(contourArea(polygon([0, 0], [0, 10], [10, 10], [10, 0]))).toBeCloseTo(-100, 12);
    expect(contourArea(disc(50, 50, 3))).toBeCloseTo(9 * PI, 12);
  });

  it('counts what arcs bulge over their chords, and takes off what they are hollow by', () => {
    // A chord of 10 with a half circle of 5 over it.
    const half = (through: Vec2): Contour => ({
      kind: 'path',
      start: [0, 0],
      segments: [
        { kind: 'line', to: [10, 0] },
        { kind: 'line', to: [10, 20] },
        { kind: 'arc', through, to: [0, 20] },
        { kind: 'line', to: [0, 0] },
      ],
    });
    expect(contourArea(half([5, 25]))).toBeCloseTo(200 + 12.5 * PI, 9);
    expect(contourArea(half([5, 15]))).toBeCloseTo(200 - 12.5 * PI, 9);
  });
});

describe('the circle through three points', () => {
  it('has its center where all are as far', () => {
    // 3, 4, 5 triangle: the center is the middle of its longest side.
    expect(circleCenter([0, 0], [4, 0], [0, 3])).toEqual([2, 1.5]);
    expect(circleCenter([0, 0], [1, 1], [2, 2])).toBeNull();
  });

  it.each([
    ['a quarter turn to the left', [1, 0], [SQRT2 / 2, SQRT2 / 2], [0, 1], PI / 2],
    ['a quarter turn to the right', [0, 1], [SQRT2 / 2, SQRT2 / 2], [1, 0], -PI / 2],
    ['three quarters to the right', [1, 0], [-1, 0], [0, 1], (-3 * PI) / 2],
    ['three quarters to the left', [0, 1], [-1, 0], [1, 0], (3 * PI) / 2],
    ['over the seam at half a turn', [-SQRT2 / 2, SQRT2 / 2], [-1, 0], [-SQRT2 / 2, -SQRT2 / 2], PI / 2],
  ] as const)('is gone along by %s', (_how, from, through, to, sweep) => {
    const arc = arcThrough(from, through, to);
    expect(arc?.radiusMm).toBeCloseTo(1, 12);
    expect(arc?.sweepRad).toBeCloseTo(sweep, 12);
  });
});

describe('outlines put together', () => {
  it('add, subtract and share their areas, whichever way they are drawn', () => {
    const clockwise = polygon([5, 5], [5, 15], [15, 15], [15, 5]);
    for (const second of [square(10, 5, 5), clockwise]) {
      const both = [[bare(square(10))], [bare(second)]] as const;
      expect(areaOf(kernel.combineProfiles('add', ...both))).toBeCloseTo(175, 6);
      expect(areaOf(kernel.combineProfiles('subtract', ...both))).toBeCloseTo(75, 6);
      expect(areaOf(kernel.combineProfiles('intersect', ...both))).toBeCloseTo(25, 6);
    }
  });

  it('keep holes, fall into pieces, or leave nothing', () => {
    const [holed, ...more] = kernel.combineProfiles('subtract', [bare(square(20))], [bare(disc(10, 10, 4))]);
    expect(more).toEqual([]);
    expect(holed?.holes).toHaveLength(1);
    expect(areaOf([holed!])).toBeCloseTo(400 - 16 * PI, 6);
    const cut = kernel.combineProfiles(
      'subtract',
      [bare(square(20))],
      [bare(polygon([-1, 8], [21, 8], [21, 12], [-1, 12]))],
    );
    expect(cut).toHaveLength(2);
    expect(areaOf(cut)).toBeCloseTo(320, 6);
    expect(kernel.combineProfiles('intersect', [bare(square(5))], [bare(square(5, 50, 50))])).toEqual([]);
  });

  it('join where they only share a side, without a seam', () => {
    const [joined, ...more] = kernel.combineProfiles('add', [bare(square(10))], [bare(square(10, 10, 0))]);
    expect(more).toEqual([]);
    expect(joined?.outer.kind === 'path' ? joined.outer.segments : []).toHaveLength(4);
  });
});

describe('an outline moved', () => {
  it('outward grows with sharp corners, inward shrinks until nothing is left', () => {
    expect(areaOf(kernel.offsetProfile(bare(square(10)), 2))).toBeCloseTo(14 * 14, 6);
    expect(areaOf(kernel.offsetProfile(bare(square(10)), -3))).toBeCloseTo(16, 6);
    expect(areaOf(kernel.offsetProfile(bare(disc(3, 4, 5)), 1))).toBeCloseTo(36 * PI, 6);
    // A triangle of sides 30 has an inscribed circle of 30 / (2 sqrt 3): moved in by half of it, half its size is left.
    const side = 30;
    const triangle = polygon([0, 0], [side, 0], [side / 2, (side * sqrt(3)) / 2]);
    const inscribed = side / (2 * sqrt(3));
    expect(areaOf(kernel.offsetProfile(bare(triangle), -inscribed / 2))).toBeCloseTo(
      ((sqrt(3) / 4) * side ** 2) / 4,
      6,
    );
  });
});
