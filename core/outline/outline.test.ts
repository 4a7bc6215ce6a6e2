import * as v from 'valibot';
import { beforeAll, describe, expect, it } from 'vitest';

import { contourArea, type Kernel } from '#core/kernel';
import { evaluateOutline, OutlineSchema, profileOf, type Region, type Values } from '#core/outline';
import { ProblemError } from '#core/problem';
import { loadKernel } from '#runtime';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

/** Plain numbers, in mm and degrees. */
const plain: Values = {
  lengthMm: Number,
  sizeMm: (text, what) => {
    if (!(Number(text) > 0)) throw new ProblemError('size-not-positive', what);
    return Number(text);
  },
  angleRad: (text) => (Number(text) * Math.PI) / 180,
  count: Number,
};

const evaluated = (outline: unknown): readonly Region[] =>
  evaluateOutline(v.parse(OutlineSchema, outline), plain, kernel);

const areaOf = (outline: unknown): number =>
  evaluated(outline)
    .map(profileOf)
    .reduce(
      (sum, { outer, holes }) =>
        sum + Math.abs(contourArea(outer)) - holes.reduce((inner, hole) => inner + Math.abs(contourArea(hole)), 0),
      0,
    );
const rolesOf = (outline: unknown): string[] =>
  evaluated(outline).flatMap(({ outer, holes }) => [...outer, ...holes.flat()].map(({ role }) => role));

function problemOf(outline: unknown): string {
  try {
    evaluated(outline);
  } catch (error) {
    if (error instanceof ProblemError) return error.problem.code;
    throw error;
  }
  throw new Error('it was accepted');
}

const square = { shape: 'rectangle', center: ['0', '0'], width: '20', height: '20' };
const disc = (u: string, v: string, diameter: string) => ({ shape: 'circle', center: [u, v], diameter });

describe('basic shapes have the area of their formula', () => {
  it('polygons across flats and corners', () => {
    const hexagon = { shape: 'polygon', center: ['3', '4'], sides: '6', size: '10' };
    expect(areaOf({ ...hexagon, across: 'flats' })).toBeCloseTo((Math.sqrt(3) / 2) * 100, 9);
    expect(areaOf({ ...hexagon, across: 'corners' })).toBeCloseTo(((3 * Math.sqrt(3)) / 8) * 100, 9);
  });

  it('two circles with their outer tangents', () => {
    const hull = {
      shape: 'hull',
      first: { center: ['0', '0'], diameter: '20' },
      second: { center: ['30', '0'], diameter: '10' },
    };
    // Two trapezoids beside the center line, and the sectors beyond the points of contact.
    const beta = Math.acos(5 / 30);
    const tangent = Math.sqrt(30 * 30 - 25);
    const sectors = (Math.PI - beta) * 100 + beta * 25;
    expect(areaOf(hull)).toBeCloseTo(tangent * 15 + sectors, 9);
    expect(problemOf({ ...hull, second: { center: ['2', '0'], diameter: '10' } })).toBe('hull-inside');
  });

  it('a path of relative moves, directions and arcs of every sort', () => {
    const path = (...segments: unknown[]) => ({ shape: 'path', start: ['0', '0'], segments });
    const by = (u: string, w: string) => ({ move: 'line-by', by: [u, w] });
    // A bar of 20 x 10 with half a disc at its right end, four times by different arcs.
    const bar = 200 + (Math.PI * 25) / 2;
    const end = [{ move: 'line-by', by: ['-20', '0'] }, { move: 'close' }];
    for (const arc of [
      { move: 'tangent-arc-by', by: ['0', '10'] },
      { move: 'tangent-arc', to: ['20', '10'] },
      { move: 'arc-around', center: ['20', '5'], angle: '180' },
      { move: 'arc-by', through: ['5', '5'], by: ['0', '10'] },
    ])
      expect(areaOf(path(by('20', '0'), arc, ...end))).toBeCloseTo(bar, 9);
    const slanted = path(by('20', '0'), { move: 'line-at', length: '10', angle: '90' }, ...end);
    expect(areaOf(slanted)).toBeCloseTo(200, 9);
    expect(rolesOf(path({ ...by('20', '0'), name: 'foot' }, by('0', '10'), { move: 'close' }))).toEqual([
      'foot',
      'side2',
      'side3',
    ]);
  });

  it('a path that is open, crosses itself or has no area is refused', () => {
    const path = (...corners: [string, string][]) => ({
      shape: 'path',
      start: ['0', '0'],
      segments: corners.map((to) => ({ move: 'line', to })),
    });
    expect(problemOf(path(['10', '0'], ['10', '10']))).toBe('outline-open');
    expect(problemOf(path(['10', '10'], ['10', '0'], ['0', '10'], ['0', '0']))).toBe('outline-crosses');
    expect(problemOf(path(['10', '0'], ['0', '0']))).toBe('outline-empty');
    // An arc that bulges over a line beside it crosses it, though the chords do not.
    const bulging = {
      shape: 'path',
      start: ['0', '0'],
      segments: [
        { move: 'arc', through: ['10', '8'], to: ['20', '0'] },
        { move: 'line', to: ['20', '4'] },
        { move: 'line', to: ['0', '4'] },
        { move: 'close' },
      ],
    };
    expect(problemOf(bulging)).toBe('outline-crosses');
  });
});

describe('corners', () => {
  it('all or some of them are rounded or chamfered', () => {
    const nook = 9 * (1 - Math.PI / 4);
    expect(areaOf({ shape: 'filleted', of: square, size: '3' })).toBeCloseTo(400 - 4 * nook, 9);
    expect(areaOf({ shape: 'filleted', of: square, size: '3', corners: [2] })).toBeCloseTo(400 - nook, 9);
    expect(areaOf({ shape: 'chamfered', of: square, size: '3', corners: [1, 3] })).toBeCloseTo(400 - 2 * 4.5, 9);
    expect(rolesOf({ shape: 'filleted', of: square, size: '3', corners: [2] })).toEqual([
      'lower',
      'right',
      'corner2',
      'upper',
      'left',
    ]);
  });

  it('between a line and an arc the round touches both', () => {
    // Half a disc of radius 10 on a line; a round of radius r at both corners.
    const half = {
      shape: 'path',
      start: ['-10', '0'],
      segments: [
        { move: 'line', to: ['10', '0'] },
        { move: 'arc-around', center: ['0', '0'], angle: '180' },
      ],
    };
    const [region] = evaluated({ shape: 'filleted', of: half, size: '2' });
    const round = region?.outer.find(({ role }) => role === 'corner1');
    if (round?.kind !== 'arc') throw new Error('no round');
    // Its center is 2 above the line and 10 - 2 from the middle, so it touches the line at sqrt(64 - 4).
    expect(round.from[0]).toBeCloseTo(Math.sqrt(60), 9);
    expect(round.from[1]).toBeCloseTo(0, 9);
    expect(Math.hypot(...round.to)).toBeCloseTo(10, 9);
  });

  it('too large, not there, or beside an arc', () => {
    expect(problemOf({ shape: 'filleted', of: square, size: '11' })).toBe('corner-too-large');
    expect(problemOf({ shape: 'filleted', of: square, size: '2', corners: [5] })).toBe('no-such-corner');
    const slot = { shape: 'slot', center: ['0', '0'], length: '30', width: '10' };
    expect(problemOf({ shape: 'filleted', of: slot, size: '2', corners: [1] })).toBe('no-such-corner');
  });
});

describe('outlines put together', () => {
  it('union, difference and intersection, with the roles of their parts', () => {
    const right = { ...square, center: ['10', '0'] };
    expect(areaOf({ shape: 'union', parts: [square, right] })).toBeCloseTo(600, 6);
    expect(areaOf({ shape: 'intersection', parts: [square, right] })).toBeCloseTo(200, 6);
    const holed = { shape: 'difference', parts: [square, disc('0', '0', '8'), disc('10', '10', '6')] };
    expect(areaOf(holed)).toBeCloseTo(400 - Math.PI * 16 - (Math.PI * 9) / 4, 6);
    expect(rolesOf(holed).sort()).toEqual(['1.left', '1.lower', '1.right', '1.upper', '2.wall', '3.wall']);
    // Edges that touch from inside, where two-dimensional work goes wrong easily.
    expect(areaOf({ shape: 'difference', parts: [square, disc('5', '0', '10')] })).toBeCloseTo(400 - Math.PI * 25, 6);
    expect(problemOf({ shape: 'intersection', parts: [square, disc('50', '0', '8')] })).toBe('outline-empty');
  });

  it('a half is mirrored to a whole; copies go round or in rows', () => {
    const half = { shape: 'corner-rectangle', corner: ['0', '0'], width: '10', height: '6' };
    const whole = { shape: 'mirrored', of: half, about: 'v', keep: true };
    expect(areaOf(whole)).toBeCloseTo(120, 6);
    expect(evaluated(whole)).toHaveLength(1);
    expect(rolesOf(whole).sort()).toEqual(['lower', 'right', 'right-m', 'upper']);
    const tooth = { shape: 'corner-rectangle', corner: ['20', '-1'], width: '4', height: '2' };
    const teeth = { shape: 'polar', of: tooth, center: ['0', '0'], count: '6', skip: [4] };
    expect(areaOf(teeth)).toBeCloseTo(5 * 8, 6);
    expect(rolesOf(teeth)).not.toContain('4.left');
    expect(areaOf({ shape: 'row', of: tooth, by: ['0', '5'], count: '3' })).toBeCloseTo(24, 6);
    const slanted = { shape: 'mirrored', of: tooth, about: { through: ['0', '0'], angle: '90' }, keep: false };
    expect(evaluated(slanted)[0]?.outer.some((e) => e.kind === 'line' && Math.abs(e.to[0] + 24) < 1e-9)).toBe(true);
  });

  it('moved outward or inward, sides keep their roles', () => {
    expect(areaOf({ shape: 'offset', of: square, by: '2' })).toBeCloseTo(24 * 24, 6);
    expect(areaOf({ shape: 'offset', of: square, by: '-2' })).toBeCloseTo(16 * 16, 6);
    expect(rolesOf({ shape: 'offset', of: square, by: '-2' }).sort()).toEqual(['left', 'lower', 'right', 'upper']);
    expect(areaOf({ shape: 'offset', of: disc('1', '1', '10'), by: '1' })).toBeCloseTo(Math.PI * 36, 6);
    expect(rolesOf({ shape: 'offset', of: disc('1', '1', '10'), by: '1' })).toEqual(['wall']);
    expect(['outline-offset', 'outline-empty']).toContain(problemOf({ shape: 'offset', of: square, by: '-11' }));
  });
});
