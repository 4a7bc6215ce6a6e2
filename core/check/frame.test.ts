/** How a submission is laid onto the reference, and how far a part reaches: by closed figures. */
import { beforeAll, describe, expect, it } from 'vitest';

import { alignFrames } from '#core/check';
import type { Kernel, Shape } from '#core/kernel';
import { readStl, solidOfMesh, trianglesOf, writeStl } from '#core/mesh';
import { unwrap } from '#core/problem';
import { RECIPE_SOURCE, type Solid, type Surface } from '#core/solid';
import { AS_MODELED, AXIS_ROTATIONS, IDENTITY, type Mat3, type Placement, type Vec3 } from '#core/vector';
import { loadKernel } from '#runtime';

import { directionInSubmission, extentAlong, originShift, placeBox, samePlace } from './frame.ts';
import { circle, rectangle, XY } from '../kernel/testing.ts';

const { SQRT1_2, cos, sin, PI } = Math;

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const block = (a: number, b: number, c: number): Shape => kernel.extrude(XY, rectangle(0, 0, a, b), 0, c);
const analyze = (shape: Shape): Solid => unwrap(kernel.analyze(shape, RECIPE_SOURCE));
const asStl = (shape: Shape): Solid =>
  solidOfMesh(readStl(writeStl(trianglesOf(kernel.displayMesh(shape, { toleranceMm: 0.05, angleRad: 0.3 })))), 'mm');
/** Unsymmetric: a plate of 80 x 50 x 12 with a hole in a corner and a pin in the next. */
const marked = (): Shape =>
  kernel.fuse(kernel.cut(block(80, 50, 12), [kernel.extrude(XY, circle(12, 14, 4), -1, 13)]), [
    kernel.extrude(XY, circle(60, 20, 6), 12, 20),
  ]);
const aboutZ = (angle: number): Mat3 => [
  [cos(angle), -sin(angle), 0],
  [sin(angle), cos(angle), 0],
  [0, 0, 1],
];
const close = (wanted: Vec3): unknown[] => wanted.map((x) => expect.closeTo(x, 6) as unknown);

describe('a placement', () => {
  /** A quarter turn about Z, twice the size, then 5 along X and 7 along Z. */
  const placement: Placement = { rotation: aboutZ(PI / 2), scale: 2, translation: [5, 0, 7] };

  it('carries a box to the box of its corners', () => {
    // x of 1 to 2 becomes y of 2 to 4; y of 10 to 20 becomes x of -20 to -40, plus 5; z of 3 to 4 becomes 6 to 8, plus 7.
    const { min, max } = placeBox(placement, { min: [1, 10, 3], max: [2, 20, 4] });
    expect([min, max]).toEqual([close([-35, 2, 13]), close([-15, 4, 15])]);
  });

  it('of a submission turns directions of the reference back', () => {
    expect(directionInSubmission(placement, [1, 0, 0])).toEqual(close([0, -1, 0]));
    expect(directionInSubmission(placement, [0, 0, 1])).toEqual(close([0, 0, 1]));
  });

  it('that moves a part by so much says that its origin lay the other way', () => {
    const frame = {
      kind: 'moved',
      placement: { ...AS_MODELED, translation: [5, -2, 0] },
      agreement: 1,
      certainty: 1,
    } as const;
    expect(originShift(frame)).toEqual(close([-5, 2, 0]));
  });
});

describe('how far a part reaches', () => {
  it('along an axis is the size of its box, along a slant that of its corners', () => {
    const solid = analyze(block(60, 40, 20));
    expect(extentAlong(solid, [0, 1, 0])).toBeCloseTo(40, 9);
    // The corners (0, 0) and (60, 40) are (60 + 40) / sqrt 2 apart along (1, 1), (0, 40) and (60, 0) as far along (1, -1).
    expect(extentAlong(solid, [SQRT1_2, SQRT1_2, 0])).toBeCloseTo(100 * SQRT1_2, 9);
    expect(extentAlong(solid, [SQRT1_2, -SQRT1_2, 0])).toBeCloseTo(100 * SQRT1_2, 9);
  });

  it.each([0, 0.4, 1.1])(
    'square to a round, turned by %d rad, is its diameter, which no corner of triangles shows',
    (angle) => {
      const solid = analyze(kernel.extrude(XY, circle(3, 5, 10), 0, 30));
      expect(extentAlong(solid, [cos(angle), sin(angle), 0])).toBeCloseTo(20, 6);
    },
  );

  it('aslant to a round is the diameter of its ends and its length as they are seen', () => {
    const solid = analyze(kernel.extrude(XY, circle(0, 0, 10), 0, 30));
    for (const angle of [0.3, PI / 4, 1.2])
      expect(extentAlong(solid, [cos(angle), 0, sin(angle)])).toBeCloseTo(20 * cos(angle) + 30 * sin(angle), 2);
  });

  it('does not take the whole round where only a part of it is there', () => {
    // A rod of 10 cut at 6 from its axis: from -10 to 6.
    const rod = kernel.cut(kernel.extrude(XY, circle(0, 0, 10), 0, 30), [
      kernel.moved(block(20, 40, 40), IDENTITY, [6, -20, -5]),
    ]);
    expect(extentAlong(analyze(rod), [1, 0, 0])).toBeCloseTo(16, 9);
    expect(extentAlong(asStl(rod), [1, 0, 0])).toBeCloseTo(16, 3);
    expect(extentAlong(asStl(rod), [0, 1, 0])).toBeCloseTo(20, 3);
  });
});

describe('two surfaces are in one place', () => {
  const plane = (origin: Vec3, normal: Vec3): Surface => ({ kind: 'plane', origin, normal });
  const round = (origin: Vec3, radiusMm: number, side: 'convex' | 'concave' = 'concave'): Surface => ({
    kind: 'cylinder',
    origin,
    direction: [0, 0, 1],
    radiusMm,
    side,
  });
  const ball = (center: Vec3, radiusMm: number): Surface => ({ kind: 'sphere', center, radiusMm, side: 'convex' });

  it('when they are flat, look the same way and lie at one height', () => {
    const top = plane([0, 0, 10], [0, 0, 1]);
    expect(samePlace(top, plane([50, -7, 10.009], [0, 0, 1]), 0.01)).toBe(true);
    expect(samePlace(top, plane([50, -7, 10.011], [0, 0, 1]), 0.01)).toBe(false);
    expect(samePlace(top, plane([0, 0, 10], [0, 0, -1]), 0.01)).toBe(false);
    expect(samePlace(top, plane([0, 0, 10], [0, 1, 0]), 0.01)).toBe(false);
  });

  it('when they are round, on one axis, of one radius and on one side', () => {
    const bore = round([5, 5, 0], 4);
    expect(samePlace(bore, round([5, 5, 33], 4), 0.01)).toBe(true);
    expect(samePlace(bore, round([5, 5.02, 0], 4), 0.01)).toBe(false);
    expect(samePlace(bore, round([5, 5, 0], 4.02), 0.01)).toBe(false);
    expect(samePlace(bore, round([5, 5, 0], 4, 'convex'), 0.01)).toBe(false);
  });

  it('when they are balls about one center, of one radius', () => {
    expect(samePlace(ball([1, 2, 3], 6), ball([1, 2, 3.005], 6.005), 0.01)).toBe(true);
    expect(samePlace(ball([1, 2, 3], 6), ball([1, 2, 3.02], 6), 0.01)).toBe(false);
    expect(samePlace(ball([1, 2, 3], 6), ball([1, 2, 3], 6.02), 0.01)).toBe(false);
  });

  it('never when they are of two kinds', () => {
    expect(samePlace(ball([0, 0, 0], 4), round([0, 0, 0], 4), 1)).toBe(false);
  });
});

describe('how much of two parts agrees', () => {
  /** The top of a plate of 600 x 800 x 20 is 480,000 of 2 (480,000 + 12,000 + 16,000) = 1,016,000 mm². */
  const TOP = 480_000 / 1_016_000;

  it('counts a face as the same up to a hundred-thousandth of the size of the part', () => {
    // The diagonal is a little over 1000: 0.01 mm.
    const plate = analyze(block(600, 800, 20));
    expect(alignFrames(plate, analyze(block(600, 800, 20.005))).agreement).toBeGreaterThan(0.9995);
    const thick = alignFrames(plate, analyze(block(600, 800, 20.05)));
    expect(thick).toMatchObject({ kind: 'as-modeled' });
    expect(thick.agreement).toBeCloseTo(1 - TOP, 2);
  });

  it('and on a small part up to a micrometer', () => {
    const small = analyze(block(6, 8, 2));
    expect(alignFrames(small, analyze(block(6, 8, 2.0009))).agreement).toBeGreaterThan(0.9995);
    expect(alignFrames(small, analyze(block(6, 8, 2.003))).agreement).toBeLessThan(0.8);
  });

  it('is as sure as it agrees where all of it does', () => {
    const frame = alignFrames(analyze(marked()), analyze(kernel.moved(marked(), IDENTITY, [5, 6, 7])));
    expect(frame.kind).toBe('moved');
    expect(frame.certainty).toBe(frame.agreement);
    expect(frame.placement.translation).toEqual(close([-5, -6, -7]));
  });

  it('where it does not, is less sure the nearer another way to lie comes', () => {
    // Of a plain block, one size too long, several ways to lie agree nearly as well.
    const wrong = alignFrames(analyze(block(60, 40, 20)), analyze(block(66, 40, 20)));
    expect(wrong.certainty).toBeGreaterThanOrEqual(0.6 * wrong.agreement - 1e-9);
    expect(wrong.certainty).toBeLessThanOrEqual(wrong.agreement);
  });
});

describe('a part that was turned', () => {
  it.each([0.2, 1, 2.5])('by %d rad about an axis is laid back, and onto itself', (angle) => {
    const turned = kernel.moved(marked(), aboutZ(angle), [3, 4, 5]);
    const frame = alignFrames(analyze(marked()), analyze(turned));
    expect(frame.kind).toBe('turned');
    expect(frame.agreement).toBeGreaterThan(0.999);
    // The inverse of a turn is its transpose: by the same angle, the other way.
    frame.placement.rotation.forEach((row, i) => {
      expect(row).toEqual(close(aboutZ(-angle)[i as 0 | 1 | 2]));
    });
  });

  it.each([3, 8, 17])('onto another side (%i) as triangles is found as well', (index) => {
    const rotation = AXIS_ROTATIONS[index]!;
    const frame = alignFrames(analyze(marked()), asStl(kernel.moved(marked(), rotation, [0, 0, 0])));
    expect(frame.kind).toBe('turned');
    expect(frame.agreement).toBeGreaterThan(0.99);
  });
});
