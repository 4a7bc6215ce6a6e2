import { describe, expect, it } from 'vitest';

import { describeEdge, describeFace, measureBetween, pickedEdge, type PickedEdge, type Reading } from '#core/measure';
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
const between = (a: Face | PickedEdge, b: Face | PickedEdge) => said(measureBetween(a, b));

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

describe('edges', () => {
  const straight = (start: Vec3, end: Vec3): PickedEdge => ({
    edge: { ...circle(7, start), curve: 'line', end, lengthMm: Math.hypot(...end.map((v, i) => v - (start[i] ?? 0))) },
    points: [...start, ...end],
    uncertaintyMm: 0,
  });
  /** An arc about an axis along z, from 0 over an angle, as it is drawn in 24 pieces. */
  const arc = ([x, y, z]: Vec3, radius: number, sweepRad: number): PickedEdge => {
    const at = (angle: number): Vec3 => [x + radius * Math.cos(angle), y + radius * Math.sin(angle), z];
    const points = Array.from({ length: 25 }, (_, i) => at((i * sweepRad) / 24));
    const [start, end] = [at(0), at(sweepRad)];
    return {
      edge: { ...circle(8, start), end, lengthMm: radius * sweepRad },
      points: points.flat(),
      uncertaintyMm: 0,
    };
  };
  const read = (picked: PickedEdge) => {
    const { what, readings } = describeEdge(picked);
    return [what, ...said(readings)];
  };

  it('that are straight have a length, that are round a radius and a diameter, of whatever piece of the circle', () => {
    expect(read(straight([1, 2, 3], [4, 6, 3]))).toEqual(['straight edge', ['Length', 5]]);
    expect(read(arc([5, 6, 7], 8, 2 * Math.PI))).toEqual([
      'round edge, a whole circle',
      ['Diameter', 16],
      ['Radius, half of it', 8],
      ['Length along it', Number((16 * Math.PI).toFixed(6))],
    ]);
    // A quarter of a circle of radius 3: 3 pi / 2.
    expect(read(arc([0, 0, 0], 3, Math.PI / 2))).toEqual([
      'round edge, an arc',
      ['Diameter', 6],
      ['Radius, half of it', 3],
      ['Length along it', Number((1.5 * Math.PI).toFixed(6))],
    ]);
  });

  it('are measured from by their line or their axis', () => {
    const bottom = straight([0, 0, 0], [40, 0, 0]);
    expect(between(bottom, straight([40, 30, 0], [0, 30, 0]))).toEqual([['Edge to edge', 30]]);
    expect(between(bottom, straight([0, 30, 0], [0, 0, 0]))).toEqual([
      ['Angle between the edges', 90],
      ['Edges at their nearest', 0],
    ]);
    expect(between(bottom, flat([0, 0, 12], [0, 0, 1]))).toEqual([['Edge to face', 12]]);
    expect(between(straight([0, 0, 0], [0, 0, 9]), flat([0, 0, 12], [0, 0, 1]))).toEqual([
      ['The edge stands square on the face'],
    ]);
    const rim = arc([10, 20, 12], 4, 2 * Math.PI);
    expect(between(rim, flat([0, 0, 0], [0, -1, 0]))).toEqual([['Axis to face', 20]]);
    expect(between(rim, arc([40, 60, 0], 6, Math.PI))).toEqual([
      ['Axis to axis', 50],
      ['of that along X', 30],
      ['of that along Y', 40],
    ]);
    expect(between(rim, hole([10, 20, 0], [0, 0, 1], 4))).toEqual([['Both are on one axis']]);
  });

  it('that are drawn as a straight line or bend freely have no circle to measure', () => {
    const free = { ...straight([0, 0, 0], [5, 0, 0]), edge: { ...circle(9, [0, 0, 0]), curve: 'other' as const } };
    expect(read(free)).toEqual(['free-form edge', ['Length along it', 1]]);
    expect(between(free, flat([0, 0, 0], [0, 0, 1]))).toEqual([]);
    const flattened = { ...arc([0, 0, 0], 3, 1), points: [0, 0, 0, 1, 0, 0, 2, 0, 0, 3, 0, 0] };
    expect(read(flattened)).toEqual(['round edge', ['Length along it', 3]]);
  });

  it('of facets are as doubtful as the faces beside them', () => {
    const doubtful = [0.02, 0.05].map((uncertaintyMm, id) =>
      face(flat([0, 0, 0], [0, 0, 1]).surface, [0, 0, 0], { id, uncertaintyMm }),
    );
    const edge = { ...circle(1, [0, 0, 0]), faceIds: [0, 1] };
    expect(pickedEdge(edge, [], doubtful).uncertaintyMm).toBe(0.05);
    expect(pickedEdge({ ...edge, faceIds: [] }, [], doubtful).uncertaintyMm).toBe(0);
  });
});
