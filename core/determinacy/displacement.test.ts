import { describe, expect, it } from 'vitest';

import type { Surface } from '#core/solid';

import { displacementMm, shiftMm, type Sampled } from './displacement.ts';

const flat = (z: number, tilt = 0): Surface => ({
  kind: 'plane',
  origin: [0, 0, z],
  normal: [Math.sin(tilt), 0, Math.cos(tilt)],
});
const round = (x: number, radiusMm: number): Surface => ({
  kind: 'cylinder',
  origin: [x, 0, 0],
  direction: [0, 0, 1],
  radiusMm,
  side: 'convex',
});
const on = (surface: Surface, points: Sampled['points']): Sampled => ({
  name: 'base.end',
  surface,
  faceIds: [0],
  points,
});

describe('how far a surface moved', () => {
  const top = on(flat(10), [
    [0, 0, 10],
    [40, 0, 10],
  ]);

  it('is the way of a flat face along its normal', () => {
    expect(displacementMm(top, flat(10.25))).toBeCloseTo(0.25, 9);
    expect(displacementMm(top, flat(9.75))).toBeCloseTo(0.25, 9);
  });

  it('is the way of its farthest point where it turned', () => {
    // It turns about a line through its origin; the other point is 40 away from that.
    expect(displacementMm(top, flat(10, 0.01))).toBeCloseTo(40 * Math.sin(0.01), 9);
  });

  it('is what a radius grew by, or how far an axis moved, at the points that it has', () => {
    const post = on(round(0, 5), [
      [5, 0, 0],
      [0, 5, 3],
      [-5, 0, 7],
    ]);
    expect(displacementMm(post, round(0, 5.1))).toBeCloseTo(0.1, 9);
    expect(displacementMm(post, round(0.2, 5))).toBeCloseTo(0.2, 9);
  });

  it('has no end where the surface is gone, or another kind of surface', () => {
    expect(displacementMm(top, undefined)).toBe(Infinity);
    expect(displacementMm(top, round(0, 5))).toBe(Infinity);
  });
});

describe('where to a surface moved', () => {
  it('is along its normal for a flat face, whatever point of it is its origin', () => {
    const moved: Surface = { kind: 'plane', origin: [7, -3, 12], normal: [0, 0, 1] };
    expect(shiftMm(flat(10), moved)).toEqual([0, 0, 2]);
  });

  it('is across its axis for a cylinder, whatever point of the axis is its origin', () => {
    const moved: Surface = { kind: 'cylinder', origin: [3, 4, 99], direction: [0, 0, 1], radiusMm: 5, side: 'convex' };
    expect(shiftMm(round(0, 5), moved)).toEqual([3, 4, 0]);
  });

  it('is nowhere for what has no one place', () => {
    const ball: Surface = { kind: 'sphere', center: [0, 0, 0], radiusMm: 3, side: 'convex' };
    expect(shiftMm(ball, ball)).toBeNull();
    expect(shiftMm(flat(1), round(0, 5))).toBeNull();
  });
});
