import { describe, expect, it } from 'vitest';

import {
  AS_MODELED,
  AXIS_ROTATIONS,
  angleBetween,
  boxUnion,
  cross,
  distanceBetweenLines,
  distanceToLine,
  dot,
  IDENTITY,
  length,
  multiply,
  nearestOnLine,
  normalize,
  perpendicular,
  placeDirection,
  placePoint,
  rotationAngle,
  type Vec3,
} from '#core/vector';

describe('the rotations that carry the axes onto themselves', () => {
  it('are 24 different ones, the identity first', () => {
    expect(AXIS_ROTATIONS[0]).toEqual(IDENTITY);
    expect(new Set(AXIS_ROTATIONS.map((rotation) => JSON.stringify(rotation))).size).toBe(24);
  });

  it('are proper: none mirrors, all keep lengths', () => {
    for (const rotation of AXIS_ROTATIONS) {
      const [x, y, z] = rotation;
      expect(dot(cross(x, y), z)).toBe(1);
      expect(length(multiply(rotation, [1, 2, 3]))).toBeCloseTo(Math.sqrt(14), 12);
    }
  });

  it('have the angles of a cube: 0, a quarter, a third and half of a turn', () => {
    // One identity; 6 quarter turns about faces; 8 third turns about corners; 3 + 6 half turns about faces and edges.
    const counts = new Map<number, number>();
    for (const rotation of AXIS_ROTATIONS) {
      const degrees = Math.round((rotationAngle(rotation) * 180) / Math.PI);
      counts.set(degrees, (counts.get(degrees) ?? 0) + 1);
    }
    expect(Object.fromEntries(counts)).toEqual({ 0: 1, 90: 6, 120: 8, 180: 9 });
  });
});

describe('placing', () => {
  it('scales, then turns, then moves a point; a direction is only turned', () => {
    const quarter = AXIS_ROTATIONS.find((rotation) => JSON.stringify(multiply(rotation, [1, 0, 0])) === '[0,1,0]');
    if (!quarter) throw new Error('no such rotation');
    const placement = { rotation: quarter, scale: 2, translation: [10, 0, 0] as Vec3 };
    expect(placePoint(placement, [1, 0, 0])).toEqual([10, 2, 0]);
    expect(placeDirection(placement, [1, 0, 0])).toEqual([0, 1, 0]);
  });

  it('as modeled changes nothing', () => {
    expect(placePoint(AS_MODELED, [1, 2, 3])).toEqual([1, 2, 3]);
  });
});

describe('lines', () => {
  const z: Vec3 = [0, 0, 1];
  it('distance of a point from a line, and the nearest point on it', () => {
    expect(distanceToLine([3, 4, 99], [0, 0, 0], z)).toBe(5);
    expect(nearestOnLine([3, 4, 99], [0, 0, 0], z)).toEqual([0, 0, 99]);
  });

  it('distance of parallel lines is that of their points', () => {
    expect(distanceBetweenLines([0, 0, 0], z, [6, 8, 50], z)).toBeCloseTo(10, 12);
    expect(distanceBetweenLines([0, 0, 0], z, [6, 8, 50], [0, 0, -1])).toBeCloseTo(10, 12);
  });

  it('distance of skew lines is along their common normal', () => {
    expect(distanceBetweenLines([0, 0, 0], z, [7, 3, 5], [0, 1, 0])).toBeCloseTo(7, 12);
  });
});

describe('directions', () => {
  it('angle between two, also where the cosine is flat', () => {
    expect(angleBetween([1, 0, 0], [0, 2, 0])).toBeCloseTo(Math.PI / 2, 12);
    expect(angleBetween([1, 0, 0], [1, 1e-9, 0])).toBeCloseTo(1e-9, 15);
  });

  it.each([[[1, 0, 0]], [[0, 0, -1]], [[0.6, 0.8, 0]]] as [Vec3][])(
    'a perpendicular of %j is one, and of length one',
    (direction) => {
      expect(dot(perpendicular(direction), direction)).toBeCloseTo(0, 12);
      expect(length(perpendicular(direction))).toBeCloseTo(1, 12);
    },
  );

  it('the zero vector has no direction and stays zero', () => {
    expect(normalize([0, 0, 0])).toEqual([0, 0, 0]);
  });
});

it('the union of two boxes holds both', () => {
  const union = boxUnion({ min: [0, 0, 0], max: [1, 1, 1] }, { min: [-1, 0.5, 0], max: [0.5, 3, 1] });
  expect(union).toEqual({ min: [-1, 0, 0], max: [1, 3, 1] });
});
