import type { MassProperties } from '#core/solid';
import type { Mat3 } from '#core/vector';

import type { Triangles } from './triangles.ts';

/**
 * Volume, area, centroid and inertia of the polyhedron, exact up to rounding: sums over the tetrahedra from a point
 * near the middle to each triangle (Eberly, "Polyhedral Mass Properties", in the form with second moments).
 */
export function polyhedronProperties({ positions, indices }: Triangles): MassProperties {
  const count = positions.length / 3;
  const o = [0, 0, 0];
  for (let i = 0; i < positions.length; i++) o[i % 3] = (o[i % 3] ?? 0) + (positions[i] ?? 0) / count;
  const [ox = 0, oy = 0, oz = 0] = o;
  let [six, area, gx, gy, gz] = [0, 0, 0, 0, 0];
  let [xx, yy, zz, xy, xz, yz] = [0, 0, 0, 0, 0, 0];
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * (indices[t] ?? 0), 3 * (indices[t + 1] ?? 0), 3 * (indices[t + 2] ?? 0)];
    const [ax, ay, az] = [(positions[a] ?? 0) - ox, (positions[a + 1] ?? 0) - oy, (positions[a + 2] ?? 0) - oz];
    const [bx, by, bz] = [(positions[b] ?? 0) - ox, (positions[b + 1] ?? 0) - oy, (positions[b + 2] ?? 0) - oz];
    const [cx, cy, cz] = [(positions[c] ?? 0) - ox, (positions[c + 1] ?? 0) - oy, (positions[c + 2] ?? 0) - oz];
    const d = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
    const [sx, sy, sz] = [ax + bx + cx, ay + by + cy, az + bz + cz];
    six += d;
    gx += d * sx;
    gy += d * sy;
    gz += d * sz;
    xx += d * (ax * ax + bx * bx + cx * cx + sx * sx);
    yy += d * (ay * ay + by * by + cy * cy + sy * sy);
    zz += d * (az * az + bz * bz + cz * cz + sz * sz);
    xy += d * (ax * ay + bx * by + cx * cy + sx * sy);
    xz += d * (ax * az + bx * bz + cx * cz + sx * sz);
    yz += d * (ay * az + by * bz + cy * cz + sy * sz);
    area +=
      Math.hypot(
        (by - ay) * (cz - az) - (bz - az) * (cy - ay),
        (bz - az) * (cx - ax) - (bx - ax) * (cz - az),
        (bx - ax) * (cy - ay) - (by - ay) * (cx - ax),
      ) / 2;
  }
  const volumeMm3 = six / 6;
  const scale = volumeMm3 === 0 ? 0 : 1 / (24 * volumeMm3);
  const [x, y, z] = [gx * scale, gy * scale, gz * scale];
  const moment = (sum: number, p: number, q: number): number => sum / 120 - volumeMm3 * p * q;
  const [cxx, cyy, czz] = [moment(xx, x, x), moment(yy, y, y), moment(zz, z, z)];
  const [cxy, cxz, cyz] = [moment(xy, x, y), moment(xz, x, z), moment(yz, y, z)];
  const inertiaMm5: Mat3 = [
    [cyy + czz, -cxy, -cxz],
    [-cxy, cxx + czz, -cyz],
    [-cxz, -cyz, cxx + cyy],
  ];
  return { volumeMm3, areaMm2: area, centroidMm: [x + ox, y + oy, z + oz], inertiaMm5 };
}
