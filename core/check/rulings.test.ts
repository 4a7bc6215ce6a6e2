import { describe, expect, it } from 'vitest';

import type { Face, Surface } from '#core/solid';
import type { Vec3 } from '#core/vector';

import { angleDegrees, axisDistance, planeDistance, planeToAxis, uncertain, wallThickness } from './rulings.ts';

const on = (surface: Surface): Face => ({ surface }) as Face;
const flat = (origin: Vec3, normal: Vec3): Face => on({ kind: 'plane', origin, normal });
const bore = (origin: Vec3, direction: Vec3): Face =>
  on({ kind: 'cylinder', origin, direction, radiusMm: 4, side: 'concave' });
/** A unit vector that leans from Z towards X. */
const leaning = (degrees: number): Vec3 => [
  Math.sin((degrees * Math.PI) / 180),
  0,
  Math.cos((degrees * Math.PI) / 180),
];
const FLOOR = flat([0, 0, 0], [0, 0, -1]);

describe('two faces', () => {
  it('that are parallel have a distance, wherever on them their origins are', () => {
    expect(planeDistance(FLOOR, flat([17, -5, 12], [0, 0, 1]))).toBe(12);
    expect(planeDistance(flat([17, -5, 12], [0, 0, 1]), FLOOR)).toBe(12);
  });
  it('count as parallel up to half a degree, and more is told with its size', () => {
    expect(typeof planeDistance(FLOOR, flat([0, 0, 12], leaning(0.49)))).toBe('number');
    expect(planeDistance(FLOOR, flat([0, 0, 12], leaning(0.51)))).toBe(
      'The two faces are not parallel on the model: 0.51 degrees apart.',
    );
  });
  it('have no distance where one is round', () => {
    expect(planeDistance(FLOOR, bore([0, 0, 0], [0, 0, 1]))).toBe('What it is measured on is not flat on the model.');
  });
  it('bound a wall only where they look away from each other with material between', () => {
    const roof = flat([0, 0, 12], [0, 0, 1]);
    const noWall = 'The two faces do not bound a wall on the model.';
    expect(wallThickness(FLOOR, roof)).toBe(12);
    // The walls of a slot look at each other; two steps look the same way.
    expect(wallThickness(flat([0, 0, 12], [0, 0, -1]), flat([0, 0, 0], [0, 0, 1]))).toBe(noWall);
    expect(wallThickness(roof, flat([0, 0, 5], [0, 0, 1]))).toBe(noWall);
  });
});

describe('axes', () => {
  const first = bore([10, 10, 0], [0, 0, 1]);
  const second = bore([45, 22, 30], [0, 0, -1]);
  it('that are parallel have a distance: of a right triangle with the legs 35 and 12 it is 37', () => {
    expect(axisDistance(null)(first, second)).toBeCloseTo(37, 12);
  });
  it('have one as it is seen along a direction, which may be any', () => {
    expect(axisDistance([1, 0, 0])(first, second)).toBe(35);
    expect(axisDistance([0, -1, 0])(second, first)).toBe(12);
    // Along (3, 4)/5: (35 x 3 + 12 x 4)/5.
    expect(axisDistance([0.6, 0.8, 0])(first, second)).toBeCloseTo(30.6, 12);
  });
  it('that are not parallel have none, and it is said by how much', () => {
    expect(axisDistance(null)(first, bore([0, 0, 0], leaning(178)))).toBe(
      'The two axes are not parallel on the model: 2.00 degrees apart.',
    );
  });
  it('lie off a face that runs along them', () => {
    expect(planeToAxis(flat([0, -3, 0], [0, -1, 0]), first)).toBe(13);
    expect(planeToAxis(FLOOR, first)).toBe('The axis is not parallel to the face on the model.');
    expect(planeToAxis(FLOOR, FLOOR)).toBe('What it is measured on is not round on the model.');
  });
});

describe('an angle', () => {
  it('of two faces is that of the material between them', () => {
    const ramp = flat([0, 0, 0], [0, 0.5, Math.sqrt(0.75)]);
    // The normals of floor and ramp are 150 degrees apart: a wedge of 30.
    expect(angleDegrees(30)(FLOOR, ramp)).toBeCloseTo(30, 9);
  });
  it('of a face and an axis is the complement of that of its normal', () => {
    expect(angleDegrees(70)(flat([0, 0, 0], [0, 0, 1]), bore([0, 0, 0], leaning(20)))).toBeCloseTo(70, 9);
  });
  it('of two axes is the one of the two that is nearer to the sheet', () => {
    const [up, slant] = [bore([0, 0, 0], [0, 0, 1]), bore([0, 0, 0], leaning(40))];
    expect(angleDegrees(41)(up, slant)).toBeCloseTo(40, 9);
    expect(angleDegrees(139)(up, slant)).toBeCloseTo(140, 9);
  });
});

it('what is exact carries no uncertainty', () => {
  expect([uncertain(0), uncertain(0.02)]).toEqual([{}, { uncertainty: 0.02 }]);
});
