import earcut from 'earcut';

import { cross, normalize, perpendicular, pointAt, type Vec3 } from '#core/vector';

/** Polygons with more corners than this are damage. */
export const MAX_CORNERS = 2000;

/**
 * A flat polygon as triangles, dents included. `corners` are indices of vertices, `positions` their coordinates, three each;
 * fewer than three corners are none.
 */
export function triangulate(corners: readonly number[], positions: readonly number[]): number[] {
  if (corners.length < 3) return [];
  if (corners.length === 3) return [...corners];
  const points = corners.map((index) => pointAt(positions, index));
  // Newell's normal, right for concave outlines too.
  let normal: Vec3 = [0, 0, 0];
  points.forEach((p, i) => {
    const q = points[(i + 1) % points.length] ?? p;
    normal = [
      normal[0] + (p[1] - q[1]) * (p[2] + q[2]),
      normal[1] + (p[2] - q[2]) * (p[0] + q[0]),
      normal[2] + (p[0] - q[0]) * (p[1] + q[1]),
    ];
  });
  const axis = normalize(normal);
  const u = perpendicular(axis);
  const v = cross(axis, u);
  const flat = points.flatMap((p) => [
    p[0] * u[0] + p[1] * u[1] + p[2] * u[2],
    p[0] * v[0] + p[1] * v[1] + p[2] * v[2],
  ]);
  return earcut(flat).map((corner) => corners[corner] ?? 0);
}
