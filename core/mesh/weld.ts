import { boxAround, boxDiagonal } from '#core/vector';

import type { Triangles } from './triangles.ts';

/** Distance over which the corners of triangles are joined when equal ones leave gaps, as shares of the diagonal. */
const RADII = [1e-6, 1e-5, 1e-4];

/** Joins equal corners, to the precision of 32-bit numbers, and drops triangles without area and exact repeats. */
export function weldExact({ positions, indices }: Triangles): Triangles {
  const rounded = Float32Array.from(positions);
  const bits = new Uint32Array(rounded.buffer);
  const count = positions.length / 3;
  let capacity = 1;
  while (capacity < count * 2) capacity <<= 1;
  const mask = capacity - 1;
  const table = new Int32Array(capacity).fill(-1);
  const first = new Uint32Array(count);
  const map = new Uint32Array(count);
  let used = 0;
  const word = (i: number): number => {
    const value = bits[i] ?? 0;
    return value === 0x80000000 ? 0 : value;
  };
  for (let i = 0; i < count; i++) {
    const [x, y, z] = [word(3 * i), word(3 * i + 1), word(3 * i + 2)];
    let hash = Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791);
    hash ^= hash >>> 15;
    hash = Math.imul(hash, 0x2c1b3c6d);
    hash ^= hash >>> 13;
    for (let slot = hash & mask; ; slot = (slot + 1) & mask) {
      const known = table[slot] ?? -1;
      if (known < 0) {
        table[slot] = used;
        first[used] = i;
        map[i] = used++;
        break;
      }
      const j = first[known] ?? 0;
      if (word(3 * j) === x && word(3 * j + 1) === y && word(3 * j + 2) === z) {
        map[i] = known;
        break;
      }
    }
  }
  const kept = new Float64Array(used * 3);
  for (let i = 0; i < used; i++) for (let k = 0; k < 3; k++) kept[3 * i + k] = positions[3 * (first[i] ?? 0) + k] ?? 0;
  return renumber(kept, indices, map);
}

/** Cells may share a key; the distance decides. */
const cellKey = (x: number, y: number, z: number): number =>
  Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791);

/** Joins those of the given corners that lie within `radius` of an earlier one; the mesh itself where there are none. */
function weldNear(mesh: Triangles, corners: ReadonlySet<number>, radius: number): Triangles {
  const { positions, indices } = mesh;
  const cells = new Map<number, number[]>();
  const count = positions.length / 3;
  const map = Uint32Array.from({ length: count }, (_, i) => i);
  let joined = 0;
  const size = radius * 2;
  for (const i of corners) {
    const [x, y, z] = [positions[3 * i] ?? 0, positions[3 * i + 1] ?? 0, positions[3 * i + 2] ?? 0];
    const [cx, cy, cz] = [Math.round(x / size), Math.round(y / size), Math.round(z / size)];
    let found = -1;
    for (let d = 0; d < 27 && found < 0; d++) {
      const key = cellKey(cx + (d % 3) - 1, cy + (Math.floor(d / 3) % 3) - 1, cz + Math.floor(d / 9) - 1);
      for (const j of cells.get(key) ?? []) {
        const [dx, dy, dz] = [0, 1, 2].map((k) => (positions[3 * j + k] ?? 0) - (positions[3 * i + k] ?? 0));
        if ((dx ?? 0) ** 2 + (dy ?? 0) ** 2 + (dz ?? 0) ** 2 <= radius * radius) found = j;
      }
    }
    if (found >= 0) {
      map[i] = found;
      joined++;
      continue;
    }
    const key = cellKey(cx, cy, cz);
    const cell = cells.get(key);
    if (cell) cell.push(i);
    else cells.set(key, [i]);
  }
  if (joined === 0) return mesh;
  return renumber(positions, indices, map);
}

function renumber(positions: Float64Array, indices: Uint32Array, map: Uint32Array): Triangles {
  const kept = new Uint32Array(indices.length);
  let length = 0;
  const seen = new Map<number, Set<number>>();
  const count = positions.length / 3;
  for (let t = 0; t + 2 < indices.length; t += 3) {
    const [a, b, c] = [map[indices[t] ?? 0] ?? 0, map[indices[t + 1] ?? 0] ?? 0, map[indices[t + 2] ?? 0] ?? 0];
    if (a === b || b === c || c === a) continue;
    // The same three corners in the same sense, wherever the list of them begins.
    const low = Math.min(a, b, c);
    const [p, q] = low === a ? [b, c] : low === b ? [c, a] : [a, b];
    const others = seen.get(low);
    if (others?.has(p * count + q)) continue;
    if (others) others.add(p * count + q);
    else seen.set(low, new Set([p * count + q]));
    kept[length++] = a;
    kept[length++] = b;
    kept[length++] = c;
  }
  return { positions, indices: kept.slice(0, length) };
}

/** Corners of the triangle sides that no other triangle shares; none where the mesh is closed. */
function openCorners({ positions, indices }: Triangles): Set<number> {
  const count = positions.length / 3;
  const single = new Set<number>();
  const shared = new Set<number>();
  for (let t = 0; t < indices.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const a = indices[t + k] ?? 0;
      const b = indices[t + ((k + 1) % 3)] ?? 0;
      const key = a < b ? a * count + b : b * count + a;
      // Most sides are met just twice: what is left in the set of single ones is small.
      if (single.delete(key)) shared.add(key);
      else if (!shared.has(key)) single.add(key);
    }
  return new Set([...single].flatMap((key) => [Math.floor(key / count), key % count]));
}

/** Joins the corners of a mesh: equal ones first; near ones, within ever larger distances, where that leaves gaps. */
export function weld(mesh: Triangles): Triangles {
  const exact = weldExact(mesh);
  const open = openCorners(exact);
  if (open.size === 0) return exact;
  const diagonal = boxDiagonal(boxAround(exact.positions));
  for (const share of RADII) {
    const near = weldNear(exact, open, share * diagonal);
    if (near !== exact && openCorners(near).size === 0) return near;
  }
  return exact;
}
