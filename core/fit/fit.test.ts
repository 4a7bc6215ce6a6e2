import { describe, expect, it } from 'vitest';

import {
  axisOfNormals,
  circleThrough,
  curvaturesAt,
  distanceTo,
  normalAt,
  planeThrough,
  recognizeSurface,
  refine,
  solve,
  type Shape,
} from '#core/fit';
import { add, cross, dot, length, normalize, perpendicular, scale, type Vec3 } from '#core/vector';

const { PI, cos, sin, tan } = Math;
const TILT: Vec3 = normalize([1, 2, 3]);
const CENTER: Vec3 = [40, -7, 12];

/** Point at an angle about the tilted axis, at a radius and a height. */
function about(angle: number, radius: number, height: number): Vec3 {
  const u = perpendicular(TILT);
  const v = cross(TILT, u);
  return add(add(CENTER, scale(TILT, height)), add(scale(u, radius * cos(angle)), scale(v, radius * sin(angle))));
}

const grid = (point: (s: number, t: number) => Vec3): Vec3[] =>
  Array.from({ length: 49 }, (_, i) => point((i % 7) / 6, Math.floor(i / 7) / 6));

/** Patches of each kind of surface, a quarter turn of each. */
const SHAPES: readonly (readonly [string, Shape, Vec3[]])[] = [
  ['plane', { kind: 'plane', origin: CENTER, normal: TILT }, grid((s, t) => about(2 * PI * s, 5 + 10 * t, 0))],
  [
    'cylinder',
    { kind: 'cylinder', origin: CENTER, direction: TILT, radius: 8 },
    grid((s, t) => about((PI / 2) * s, 8, 20 * t)),
  ],
  [
    'cone',
    { kind: 'cone', apex: CENTER, direction: TILT, halfAngle: PI / 6 },
    grid((s, t) => about((PI / 2) * s, (5 + 10 * t) * tan(PI / 6), 5 + 10 * t)),
  ],
  [
    'sphere',
    { kind: 'sphere', center: CENTER, radius: 6 },
    grid((s, t) => about((PI / 2) * s, 6 * cos(t), 6 * sin(t))),
  ],
  [
    'torus',
    { kind: 'torus', center: CENTER, direction: TILT, major: 10, minor: 3 },
    grid((s, t) => about((PI / 2) * s, 10 + 3 * cos((PI / 2) * t), 3 * sin((PI / 2) * t))),
  ],
];

describe.each(SHAPES)('a %s', (kind, shape, points) => {
  it('has no distance from points on it, and the distance it was moved by from points beside it', () => {
    for (const p of points) {
      expect(distanceTo(shape, p)).toBeCloseTo(0, 9);
      expect(distanceTo(shape, add(p, scale(normalAt(shape, p), 0.25)))).toBeCloseTo(0.25, 9);
    }
  });

  it('is recognized by its points and normals, and nothing simpler is', () => {
    const found = recognizeSurface(
      points,
      points.map((p) => normalAt(shape, p)),
      1e-5,
    );
    expect(found?.shape.kind).toBe(kind);
    expect(found!.residual).toBeLessThan(1e-6);
    for (const p of points) expect(distanceTo(found!.shape, p)).toBeCloseTo(0, 6);
  });

  it('is found again by least squares from a start that is a little off', () => {
    const off = points.map((p) => add(p, [0.02, -0.01, 0.015]));
    const fit = refine(shape, off, { sizeMm: 20, noise: 1e-6, rounds: 30 });
    expect(fit.residual).toBeLessThan(1e-5);
  });

  it('turns its normal by its curvature along its surface', () => {
    const p = points[24]!;
    const n = normalAt(shape, p);
    const [k1, k2] = curvaturesAt(shape, p);
    // In every direction of the surface the normal turns by something between the two curvatures.
    for (const angle of [0, 0.7, 1.9]) {
      const u = perpendicular(n);
      const along = add(scale(u, cos(angle)), scale(cross(n, u), sin(angle)));
      const turned = dot(normalAt(shape, add(p, scale(along, 1e-4))), along) / 1e-4;
      expect(turned).toBeGreaterThan(Math.min(k1, k2) - 1e-3);
      expect(turned).toBeLessThan(Math.max(k1, k2) + 1e-3);
    }
  });
});

describe('least squares', () => {
  it('of a short arc says that its radius is in uncertainty, more than of a long one', () => {
    const start: Shape = { kind: 'cylinder', origin: CENTER, direction: TILT, radius: 8 };
    const noisy = (turn: number): Vec3[] => grid((s, t) => about(turn * s, 8 + 1e-4 * sin(97 * s + 31 * t), 20 * t));
    const uncertainty = (turn: number): number => refine(start, noisy(turn), { sizeMm: 20, noise: 1e-5 }).uncertainty;
    expect(uncertainty(0.3)).toBeGreaterThan(5 * uncertainty(2));
  });

  it('covers the true radius with its uncertainty', () => {
    const start: Shape = { kind: 'cylinder', origin: CENTER, direction: TILT, radius: 8.05 };
    const points = grid((s, t) => about(1.2 * s, 8 + 1e-3 * sin(41 * s + 57 * t), 20 * t));
    const fit = refine(start, points, { sizeMm: 20, noise: 1e-4 });
    expect(Math.abs((fit.shape.kind === 'cylinder' ? fit.shape.radius : 0) - 8)).toBeLessThan(fit.uncertainty);
  });

  it('knows when a system has no single solution', () => {
    expect(
      solve(
        [
          [1, 2],
          [2, 4],
        ],
        [1, 2],
      ),
    ).toBeNull();
    expect(
      solve(
        [
          [2, 0],
          [0, 4],
        ],
        [2, 2],
      ),
    ).toEqual([1, 0.5]);
  });

  it('finds no circle through a line', () => {
    expect(
      circleThrough([
        [0, 0],
        [1, 1],
        [2, 2],
      ]),
    ).toBeNull();
  });

  it('finds the axis that all normals of a ring meet', () => {
    const [, shape, points] = SHAPES[4]!;
    const axis = axisOfNormals(
      points,
      points.map((p) => normalAt(shape, p)),
    )!;
    expect(Math.abs(dot(axis.direction, TILT))).toBeCloseTo(1, 6);
    expect(length(cross(add(axis.origin, scale(CENTER, -1)), TILT))).toBeLessThan(1e-5);
  });

  it('lays a plane through points with a normal of length one', () => {
    const plane = planeThrough(SHAPES[0]![2]);
    expect(plane.kind === 'plane' && Math.abs(dot(plane.normal, TILT))).toBeCloseTo(1, 9);
  });

  it('takes a wavy patch for none of the five', () => {
    const wavy = grid((s, t): Vec3 => [20 * s, 20 * t, sin(5 * s) * cos(4 * t)]);
    const normals = wavy.map((): Vec3 => [0, 0, 1]);
    expect(recognizeSurface(wavy, normals, 1e-4)).toBeNull();
  });
});
