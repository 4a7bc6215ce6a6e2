import { cross, dot, length, normalize, scale, subtract, symmetricAxes, type Mat3, type Vec3 } from '#core/vector';

import {
  axisOfNormals,
  centroidOf,
  cylinderAlong,
  planeThrough,
  refine,
  residualOf,
  sphereThrough,
  torusAbout,
  type Fit,
  type Shape,
} from './shape.ts';

/**
 * The simple surface that goes through sampled points of a patch within `toleranceMm`, or null. Plane before cylinder,
 * sphere, cone and torus: the simplest that fits. The normals only give the start; the points decide.
 */
export function recognizeSurface(points: readonly Vec3[], normals: readonly Vec3[], toleranceMm: number): Fit | null {
  if (points.length < 9) return null;
  const mean = centroidOf(points);
  const sizeMm = Math.max(1e-9, ...points.map((p) => length(subtract(p, mean))));
  for (const start of starts(points, normals)) {
    if (residualOf(start, points) > 0.2 * sizeMm) continue;
    const fit = refine(start, points, { sizeMm, noise: toleranceMm * 1e-3, rounds: 25 });
    if (fit.residual <= toleranceMm && isSound(fit.shape, sizeMm)) return fit;
  }
  return null;
}

/** A surface that bends by less than it can be told from its samples is a flat one, which comes first. */
function isSound(shape: Shape, sizeMm: number): boolean {
  switch (shape.kind) {
    case 'plane':
      return true;
    case 'cylinder':
    case 'sphere':
      return shape.radius > 0 && shape.radius < 200 * sizeMm;
    case 'cone':
      return shape.halfAngle > 1e-4 && shape.halfAngle < Math.PI / 2 - 1e-4;
    case 'torus':
      return shape.minor > 0 && shape.major > 0 && shape.minor < 200 * sizeMm && shape.major < 200 * sizeMm;
  }
}

function* starts(points: readonly Vec3[], normals: readonly Vec3[]): Generator<Shape> {
  yield planeThrough(points);
  // The normals of a cylinder lie in a plane through the origin, those of a cone in a plane beside it.
  const moments = [0, 1, 2].map((i) =>
    [0, 1, 2].map((j) => normals.reduce((sum, n) => sum + (n[i] ?? 0) * (n[j] ?? 0), 0)),
  ) as unknown as Mat3;
  const [flattest] = symmetricAxes(moments);
  const cylinder = flattest && cylinderAlong(flattest.direction, points);
  if (cylinder) yield cylinder.shape;
  const sphere = sphereThrough(points);
  if (sphere) yield sphere.shape;
  const axis = axisOfNormals(points, normals);
  if (axis === null) return;
  const cone = coneAbout(axis.origin, axis.direction, points);
  if (cone) yield cone;
  const torus = torusAbout(axis.origin, axis.direction, points);
  if (torus) yield torus.shape;
}

/** The cone about an axis line whose profile is the straight line through the points. */
function coneAbout(origin: Vec3, direction: Vec3, points: readonly Vec3[]): Shape | null {
  const profile = points.map((p) => {
    const w = subtract(p, origin);
    return [dot(w, direction), length(cross(w, direction))] as const;
  });
  const n = profile.length;
  const [mz, mr] = [profile.reduce((s, p) => s + p[0], 0) / n, profile.reduce((s, p) => s + p[1], 0) / n];
  const szz = profile.reduce((s, p) => s + (p[0] - mz) ** 2, 0);
  const szr = profile.reduce((s, p) => s + (p[0] - mz) * (p[1] - mr), 0);
  if (szz === 0 || Math.abs(szr) < 1e-12 * szz) return null;
  const slope = szr / szz;
  const apex: Vec3 = [0, 1, 2].map(
    (i) => (origin[i] ?? 0) + (direction[i] ?? 0) * (mz - mr / slope),
  ) as unknown as Vec3;
  return {
    kind: 'cone',
    apex,
    direction: normalize(slope > 0 ? direction : scale(direction, -1)),
    halfAngle: Math.atan(Math.abs(slope)),
  };
}
