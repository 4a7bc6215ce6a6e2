import { describe, expect, it } from 'vitest';

import { describeFace, measureBetween, type Reading } from '#core/measure';
import type { Edge, Face, Surface } from '#core/solid';
import { normalize, type Vec3 } from '#core/vector';

const face = (surface: Surface, centroid: Vec3 = [0, 0, 0], more: Partial<Face> = {}): Face => ({
  id: 0,
  surface,
  areaMm2: 10,
  centroid,
  bounds: { min: centroid, max: centroid },
  edgeIds: [],
  bodyId: 0,
  uncertaintyMm: 0,
  ...more,
});
const flat = (at: Vec3, normal: Vec3): Face => face({ kind: 'plane', origin: at, normal: normalize(normal) }, at);
const hole = (origin: Vec3, direction: Vec3, radiusMm: number, more: Partial<Face> = {}): Face =>
  face({ kind: 'cylinder', origin, direction: normalize(direction), radiusMm, side: 'concave' }, origin, more);
const ball = (center: Vec3, radiusMm: number): Face =>
  face({ kind: 'sphere', center, radiusMm, side: 'convex' }, center);
const circle = (id: number, at: Vec3): Edge => ({
  id,
  curve: 'circle',
  lengthMm: 1,
  start: at,
  end: at,
  faceIds: [0],
  convexity: 'convex',
});

const said = (readings: readonly Reading[]) =>
  readings.map((reading) => {
    if (reading.kind === 'length') return [reading.label, Number(reading.lengthMm.toFixed(6))];
    if (reading.kind === 'angle') return [reading.label, Number(((reading.angleRad * 180) / Math.PI).toFixed(6))];
    return reading.kind === 'area' ? [reading.label, reading.areaMm2] : [reading.label];
  });
const between = (a: Face, b: Face) => said(measureBetween(a, b));

describe('two flat faces', () => {
  it('that are parallel have a distance square to both, wherever they lie', () => {
    expect(between(flat([0, 0, 0], [0, 0, -1]), flat([30, 40, 12], [0, 0, 1]))).toEqual([
      ['Face to face, square to both', 12],
    ]);
  });

  it('of one plane are told so', () => {
    expect(between(flat([0, 0, 5], [0, 0, 1]), flat([30, 0, 5], [0, 0, 1]))).toEqual([['Both lie in one plane']]);
  });

  it('that lean have an angle, told both ways', () => {
    // The normals (0,0,1) and (sin 60°, 0, cos 60°) are 60° apart.
    const leaning: Vec3 = [Math.sqrt(3) / 2, 0, 0.5];
    expect(between(flat([0, 0, 0], [0, 0, 1]), flat([9, 0, 0], leaning))).toEqual([
      ['Angle between the faces', 60],
      ['the other way round', 120],
    ]);
    expect(between(flat([0, 0, 0], [0, 0, 1]), flat([9, 0, 0], [1, 0, 0]))).toEqual([['Angle between the faces', 90]]);
  });
});

describe('holes', () => {
  it('are measured from axis to axis, and along X and Y', () => {
    // 30, 40, 50 is a right triangle; the origins lie at different heights.
    expect(between(hole([0, 0, 0], [0, 0, 1], 4), hole([30, 40, 7], [0, 0, -1], 6))).toEqual([
      ['Axis to axis', 50],
      ['of that along X', 30],
      ['of that along Y', 40],
    ]);
  });

  it('that lie along one axis of the model have no parts', () => {
    expect(between(hole([0, 0, 0], [0, 0, 1], 4), hole([0, 40, 7], [0, 0, 1], 6))).toEqual([['Axis to axis', 40]]);
  });

  it('with one axis are told so', () => {
    expect(between(hole([0, 0, 0], [0, 0, 1], 4), hole([0, 0, 9], [0, 0, 1], 6))).toEqual([['Both are on one axis']]);
  });

  it('that cross have an angle, and how far their axes pass each other', () => {
    expect(between(hole([0, 0, 0], [1, 0, 0], 4), hole([5, 5, 8], [0, 1, 0], 6))).toEqual([
      ['Angle between the axes', 90],
      ['Axes at their nearest', 8],
    ]);
  });

  it('are measured to a face from their axis, and from both sides of their wall', () => {
    expect(between(hole([20, 0, 0], [0, 0, 1], 4.5), flat([0, 0, 0], [-1, 0, 0]))).toEqual([
      ['Axis to face', 20],
      ['wall to face, on the near side', 15.5],
      ['wall to face, on the far side', 24.5],
    ]);
    expect(between(flat([0, 0, 0], [0, 0, 1]), hole([20, 0, 0], [0, 0, 1], 4))).toEqual([
      ['The axis stands square on the face'],
    ]);
    expect(between(flat([0, 0, 0], [0, 0, 1]), hole([20, 0, 0], [1, 0, 1], 4))).toEqual([
      ['Angle between axis and face', 45],
    ]);
  });

  it('of a model of triangles are read with what the facets leave open', () => {
    const [first] = measureBetween(
      hole([0, 0, 0], [0, 0, 1], 4, { uncertaintyMm: 0.02 }),
      hole([10, 0, 0], [0, 0, 1], 4, { uncertaintyMm: 0.03 }),
    );
    expect(first?.kind === 'length' && first.uncertaintyMm).toBeCloseTo(0.05, 12);
  });
});

describe('balls', () => {
  it('are measured from their centers', () => {
    expect(between(ball([0, 0, 0], 5), ball([2, 3, 6], 5))).toEqual([
      // 2, 3, 6, 7 is a right box.
      ['Center to center', 7],
      ['of that along X', 2],
      ['of that along Y', 3],
      ['of that along Z', 6],
    ]);
    expect(between(ball([0, 0, 9], 5), flat([4, 4, 0], [0, 0, 1]))).toEqual([['Center to face', 9]]);
    expect(between(hole([0, 0, 0], [0, 0, 1], 2), ball([3, 4, 9], 5))).toEqual([['Center to axis', 5]]);
  });
});

it('a free-form face has nothing to measure from', () => {
  expect(measureBetween(face({ kind: 'freeform' }), flat([0, 0, 0], [0, 0, 1]))).toEqual([]);
});

describe('one face', () => {
  const read = (one: Face, edges: readonly Edge[] = []) => said(describeFace(one, edges).readings);

  it('of a hole has a diameter, its half, and how long it is', () => {
    const wall = hole([0, 0, 3], [0, 0, 1], 4.5, { edgeIds: [0, 1] });
    expect(describeFace(wall, []).what).toBe('hollow round wall, as of a hole or an inner corner');
    expect(read(wall, [circle(0, [4.5, 0, 0]), circle(1, [4.5, 0, 10])])).toEqual([
      ['Diameter', 9],
      ['Radius, half of it', 4.5],
      ['Length along the axis', 10],
      ['Area', 10],
    ]);
  });

  it('that ends in a bent edge is not said to have a length', () => {
    const wall = hole([0, 0, 0], [0, 0, 1], 4, { edgeIds: [0] });
    expect(read(wall, [{ ...circle(0, [4, 0, 0]), curve: 'other' }]).map(([label]) => label)).toEqual([
      'Diameter',
      'Radius, half of it',
      'Area',
    ]);
  });

  it('of a cone has both diameters, whichever way its own axis runs', () => {
    // Tip at z = 0, half angle 45°: the radius at z is z.
    for (const direction of [1, -1] as const) {
      const cone = face(
        {
          kind: 'cone',
          origin: [0, 0, 4],
          direction: [0, 0, direction],
          radiusMm: 4,
          halfAngleRad: Math.PI / 4,
          apex: [0, 0, 0],
          side: 'concave',
        },
        [0, 0, 4],
        { edgeIds: [0, 1] },
      );
      expect(read(cone, [circle(0, [2, 0, 2]), circle(1, [7, 0, 7])])).toEqual([
        ['Diameter at the wide end', 14],
        ['Diameter at the narrow end', 4],
        ['Length along the axis', 5],
        ['Angle of the cone, from side to side', 90],
        ['Area', 10],
      ]);
    }
  });
});
