import { describe, expect, it } from 'vitest';

import type { Vec2 } from '#core/vector';

import { bisect } from './bisect.ts';
import { clippedToCircle } from './clip.ts';
import { hatchLines } from './hatch.ts';
import { boxesOverlap, boxOf, grown, joined, sharedLength, strokeInBox, strokesCross, type Stroke } from './overlap.ts';

const stroke = (...[x0, y0, x1, y1]: readonly [number, number, number, number]): Stroke => ({
  from: [x0, y0],
  to: [x1, y1],
});
const lengthOf = ({ from, to }: Stroke): number => Math.hypot(to[0] - from[0], to[1] - from[1]);
const UNIT = { min: [0, 0], max: [10, 10] } as const;

describe('pieces of paper', () => {
  it('reach around points, and around each other', () => {
    const box = boxOf([
      [3, -2],
      [-1, 7],
      [2, 2],
    ]);
    expect(box).toEqual({ min: [-1, -2], max: [3, 7] });
    expect(joined(box, UNIT)).toEqual({ min: [-1, -2], max: [10, 10] });
    expect(grown(UNIT, 2)).toEqual({ min: [-2, -2], max: [12, 12] });
  });

  it.each([
    ['in a corner', { min: [9, 9], max: [12, 12] }, true],
    ['wholly', { min: [2, 2], max: [3, 3] }, true],
    ['only an edge', { min: [10, 2], max: [12, 4] }, false],
    ['only a corner', { min: [10, 10], max: [12, 12] }, false],
    ['beside each other', { min: [2, 11], max: [4, 12] }, false],
    ['below each other', { min: [2, -5], max: [4, -1] }, false],
  ] as const)('overlap where they share room: %s', (_what, other, expected) => {
    expect(boxesOverlap(UNIT, other)).toBe(expected);
    expect(boxesOverlap(other, UNIT)).toBe(expected);
  });
});

describe('a stroke', () => {
  it.each([
    ['across', stroke(-5, 5, 15, 5), true],
    ['upwards through', stroke(5, -5, 5, 15), true],
    ['with one end inside', stroke(5, 5, 30, 30), true],
    ['wholly inside', stroke(2, 2, 3, 4), true],
    ['over a corner', stroke(-2, 5, 5, 12), true],
    ['past a corner, though its box meets', stroke(-2, 8, 2, 13), false],
    ['along an edge', stroke(-5, 10, 15, 10), false],
    ['along the left edge', stroke(0, -5, 0, 15), false],
    ['ending at an edge', stroke(-5, 5, 0, 5), false],
    ['that would reach it if it were longer', stroke(-9, 5, -2, 5), false],
    ['beyond it', stroke(12, 0, 14, 9), false],
  ] as const)('runs through a box: %s', (_what, one, expected) => {
    expect(strokeInBox(one, UNIT)).toBe(expected);
    expect(strokeInBox({ from: one.to, to: one.from }, UNIT)).toBe(expected);
  });

  it.each([
    ['in the middle', stroke(0, 0, 10, 10), stroke(0, 10, 10, 0), true],
    ['near an end', stroke(0, 0, 10, 0), stroke(9.9, -1, 9.9, 1), true],
    ['not where they only touch', stroke(0, 0, 10, 0), stroke(5, 0, 5, 8), false],
    ['not where they share an end', stroke(0, 0, 10, 0), stroke(10, 0, 10, 8), false],
    ['not where one ends before the other', stroke(0, 0, 10, 0), stroke(12, -1, 12, 1), false],
    ['not where they are parallel', stroke(0, 0, 10, 0), stroke(0, 1, 10, 1), false],
  ] as const)('crosses another: %s', (_what, a, b, expected) => {
    expect(strokesCross(a, b)).toBe(expected);
    expect(strokesCross(b, a)).toBe(expected);
  });

  it.each([
    ['a part of both', stroke(0, 0, 10, 0), stroke(6, 0, 20, 0), 4],
    ['the other way round', stroke(0, 0, 10, 0), stroke(20, 0, 6, 0), 4],
    ['the whole of the shorter one', stroke(0, 0, 10, 0), stroke(3, 0.2, 5, 0.2), 2],
    ['nothing one behind the other', stroke(0, 0, 10, 0), stroke(11, 0, 20, 0), 0],
    ['nothing at a distance', stroke(0, 0, 10, 0), stroke(0, 0.5, 10, 0.5), 0],
    ['nothing where one leaves the other', stroke(0, 0, 10, 0), stroke(0, 0, 10, 3), 0],
    ['nothing with a stroke of no length', stroke(4, 0, 4, 0), stroke(0, 0, 10, 0), 0],
  ] as const)('lies on another over %s', (_what, a, b, expected) => {
    expect(sharedLength(a, b)).toBeCloseTo(expected, 9);
  });
});

describe('halving', () => {
  it('finds where an answer changes, from either side', () => {
    // 30 halvings of an interval of 4 leave 4e-9.
    expect(bisect((u) => u * u < 2, 0, 4, 30)).toBeCloseTo(Math.SQRT2, 8);
    expect(bisect((u) => u * u > 2, 4, 0, 30)).toBeCloseTo(Math.SQRT2, 8);
  });
});

describe('what a detail view shows', () => {
  const RADIUS = 5;
  const clip = (curve: Parameters<typeof clippedToCircle>[0]) => clippedToCircle(curve, [0, 0], RADIUS);

  it('of a line through its circle is the chord', () => {
    // At height 3 the half chord of a circle of radius 5 is 4.
    const [piece, ...more] = clip({ kind: 'line', from: [-20, 3], to: [20, 3] });
    expect(more).toEqual([]);
    expect(piece).toMatchObject({ kind: 'line' });
    if (piece?.kind !== 'line') throw new Error('no line');
    expect(piece.from[0]).toBeCloseTo(-4, 6);
    expect(piece.to[0]).toBeCloseTo(4, 6);
    expect([piece.from[1], piece.to[1]]).toEqual([3, 3]);
  });

  it('of a line that begins inside runs from its beginning to the circle', () => {
    const [piece] = clip({ kind: 'line', from: [0, 0], to: [0, 20] });
    expect(piece).toEqual({ kind: 'line', from: [0, 0], to: [0, expect.closeTo(RADIUS, 6)] });
  });

  it('of what lies outside is nothing, and of what lies inside all', () => {
    expect(clip({ kind: 'line', from: [6, -9], to: [6, 9] })).toEqual([]);
    const inside = { kind: 'line', from: [1, 1], to: [2, -3] } as const;
    expect(clip(inside)).toEqual([inside]);
  });

  it('of an arc that leaves and comes back are two pieces of it', () => {
    // A circle of radius 4 about (3, 0) meets that of radius 5 at x = (25 - 16 + 9) / 6 = 3: straight above and below
    // its center, so that the half turn towards the left is inside.
    const curve = { kind: 'arc', center: [3, 0], radius: 4, start: 0, sweep: 2 * Math.PI } as const;
    const pieces = clip(curve);
    const turn = pieces.reduce((sum, piece) => sum + ('sweep' in piece ? piece.sweep : 0), 0);
    expect(turn).toBeCloseTo(Math.PI, 5);
  });

  it('of a polyline are the runs of its points that lie inside', () => {
    const points: Vec2[] = [
      [-9, 0],
      [-4, 0],
      [-1, 0],
      [9, 0],
      [1, 1],
      [2, 2],
      [9, 9],
    ];
    expect(clip({ kind: 'polyline', points })).toEqual([
      { kind: 'polyline', points: [points[1], points[2]] },
      { kind: 'polyline', points: [points[4], points[5]] },
    ]);
  });
});

describe('hatching', () => {
  /** A square of 20 in two triangles. */
  const square: readonly (readonly [Vec2, Vec2, Vec2])[] = [
    [
      [0, 0],
      [20, 0],
      [20, 20],
    ],
    [
      [0, 0],
      [20, 20],
      [0, 20],
    ],
  ];

  it('lies at 45 degrees, within what is cut', () => {
    const lines = hatchLines(square);
    expect(lines.length).toBeGreaterThan(5);
    for (const { from, to } of lines) {
      expect((to[1] - from[1]) / (to[0] - from[0])).toBeCloseTo(1, 6);
      for (const value of [...from, ...to]) {
        expect(value).toBeGreaterThanOrEqual(-1e-9);
        expect(value).toBeLessThanOrEqual(20 + 1e-9);
      }
    }
  });

  it('covers the area at one spacing: its length times the spacing is the area', () => {
    // Rows 2.6 apart, each as long as the cut at its place: the sum of the rows is area / spacing, within a row.
    const total = hatchLines(square).reduce((sum, line) => sum + lengthOf(line), 0);
    expect(Math.abs(total * 2.6 - 400)).toBeLessThan(0.03 * 400);
    const offsets = hatchLines(square).map(({ from }) => (from[1] - from[0]) * Math.SQRT1_2);
    const gaps = [...offsets].sort((a, b) => a - b).map((at, i, all) => at - (all[i - 1] ?? at));
    for (const gap of gaps.slice(1)) expect(gap).toBeCloseTo(2.6, 9);
  });

  it('goes on over the seam between two triangles', () => {
    // The longest row runs beside the seam, nearly from corner to corner; no row is cut in two.
    const offsets = hatchLines(square).map(({ from }) => ((from[1] - from[0]) * Math.SQRT1_2).toFixed(6));
    expect(new Set(offsets).size).toBe(offsets.length);
  });

  it('leaves a gap where there is no material', () => {
    const apart = [
      ...square,
      ...square.map((triangle) => triangle.map(([x, y]) => [x + 40, y + 40]) as unknown as readonly [Vec2, Vec2, Vec2]),
    ];
    // Moved along the hatching, each row of the second square lies behind one of the first.
    expect(hatchLines(apart)).toHaveLength(2 * hatchLines(square).length);
  });
});
