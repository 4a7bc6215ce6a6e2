import { pointAt, type Vec3 } from '#core/vector';

import type { DisplayMesh } from './schema.ts';

export type Triangle = readonly [Vec3, Vec3, Vec3];

/** The display triangles of one group of a mesh, which are those of one face. */
export function trianglesOf(
  { positions, indices }: DisplayMesh,
  { start, count }: DisplayMesh['groups'][number],
): readonly Triangle[] {
  const corner = (i: number): Vec3 => pointAt(positions, indices[i] ?? 0);
  return Array.from({ length: count / 3 }, (_, t) => {
    const first = start + 3 * t;
    return [corner(first), corner(first + 1), corner(first + 2)];
  });
}
