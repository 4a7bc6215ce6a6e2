import { boxUnion, type Box, type Vec3 } from '#core/vector';

import type { Triangles } from './triangles.ts';

/** One connected piece of surface. */
export interface Shell {
  readonly triangles: readonly number[];
  readonly signedVolume: number;
  readonly bounds: Box;
}

/** A mesh whose triangles know their neighbors and whose shells are turned the right way round. */
export interface ClosedSurface {
  readonly mesh: Triangles;
  /** For each side of each triangle the triangle beyond it, or -1. */
  readonly neighbors: Int32Array;
  /** Number of the body of each triangle. */
  readonly bodyOf: Int32Array;
  readonly bodies: number;
  /** Sides without a neighbor. */
  readonly openSides: number;
  /** Sides where more than two triangles meet. */
  readonly nonManifoldEdges: number;
  /** Triangles that were turned because they faced against their neighbors. */
  readonly turned: number;
  /** Whole shells that were inside out. */
  readonly inverted: number;
}

const cornerOf = (mesh: Triangles, t: number, k: number): number => mesh.indices[3 * t + (k % 3)] ?? 0;

/** Pairs the sides of the triangles. Where more than two meet, opposite ones are paired in the order of the file. */
function pairSides(mesh: Triangles): { neighbors: Int32Array; openSides: number; nonManifoldEdges: number } {
  const count = mesh.positions.length / 3;
  const triangles = mesh.indices.length / 3;
  const neighbors = new Int32Array(3 * triangles).fill(-1);
  const waiting = new Map<number, number | number[]>();
  let nonManifoldEdges = 0;
  for (let t = 0; t < triangles; t++)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [cornerOf(mesh, t, k), cornerOf(mesh, t, k + 1)];
      const key = a < b ? a * count + b : b * count + a;
      const known = waiting.get(key);
      const side = 3 * t + k;
      if (known === undefined) waiting.set(key, side);
      else if (typeof known === 'number') {
        waiting.set(key, [known, side]);
        neighbors[side] = (known / 3) | 0;
        neighbors[known] = t;
      } else {
        if (known.length === 2) {
          nonManifoldEdges++;
          // A third triangle: the pairing was a guess, so it is made again, by opposite sense.
          for (const other of known) neighbors[other] = -1;
        }
        known.push(side);
        rePair(mesh, known, neighbors);
      }
    }
  let openSides = 0;
  for (const neighbor of neighbors) if (neighbor < 0) openSides++;
  return { neighbors, openSides, nonManifoldEdges };
}

function rePair(mesh: Triangles, sides: readonly number[], neighbors: Int32Array): void {
  for (const side of sides) neighbors[side] = -1;
  const forward = sides.filter((side) => startsLow(mesh, side));
  const backward = sides.filter((side) => !startsLow(mesh, side));
  forward.forEach((side, i) => {
    const other = backward[i];
    if (other === undefined) return;
    neighbors[side] = (other / 3) | 0;
    neighbors[other] = (side / 3) | 0;
  });
}

function startsLow(mesh: Triangles, side: number): boolean {
  const t = (side / 3) | 0;
  return cornerOf(mesh, t, side % 3) < cornerOf(mesh, t, (side % 3) + 1);
}

function turn(indices: Uint32Array, neighbors: Int32Array, t: number): void {
  const second = indices[3 * t + 1] ?? 0;
  indices[3 * t + 1] = indices[3 * t + 2] ?? 0;
  indices[3 * t + 2] = second;
  // Sides 0 and 2 change places: (a,b,c) becomes (a,c,b).
  const side = neighbors[3 * t] ?? -1;
  neighbors[3 * t] = neighbors[3 * t + 2] ?? -1;
  neighbors[3 * t + 2] = side;
}

/** Whether triangle `u`, a neighbor of `t` over the side from a to b, runs over that side the other way, as it should. */
function agrees(mesh: Triangles, u: number, a: number, b: number): boolean {
  for (let k = 0; k < 3; k++) if (cornerOf(mesh, u, k) === b && cornerOf(mesh, u, k + 1) === a) return true;
  return false;
}

/** What the triangles of one shell enclose, and where it lies. */
export function shellOf(mesh: Triangles, triangles: readonly number[]): Shell {
  const { positions } = mesh;
  const base = 3 * cornerOf(mesh, triangles[0] ?? 0, 0);
  const o = [positions[base] ?? 0, positions[base + 1] ?? 0, positions[base + 2] ?? 0] as const;
  let six = 0;
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  const p = new Float64Array(9);
  for (const t of triangles) {
    for (let k = 0; k < 3; k++) {
      const at = 3 * cornerOf(mesh, t, k);
      for (const j of [0, 1, 2] as const) {
        const value = positions[at + j] ?? 0;
        if (value < min[j]) min[j] = value;
        if (value > max[j]) max[j] = value;
        p[3 * k + j] = value - o[j];
      }
    }
    const [ax = 0, ay = 0, az = 0, bx = 0, by = 0, bz = 0, cx = 0, cy = 0, cz = 0] = p;
    six += ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx);
  }
  return { triangles, signedVolume: six / 6, bounds: { min, max } };
}

/** Whether a point lies inside a shell: an odd number of its triangles cross a ray from it. */
function inside(mesh: Triangles, shell: Shell, [x, y, z]: Vec3): boolean {
  const { positions } = mesh;
  // A slanted ray, so that it does not run along faces that are parallel to the axes.
  const [dx, dy, dz] = [0.8017837, 0.2672612, 0.5345225];
  let crossings = 0;
  for (const t of shell.triangles) {
    const [a, b, c] = [3 * cornerOf(mesh, t, 0), 3 * cornerOf(mesh, t, 1), 3 * cornerOf(mesh, t, 2)];
    const [ax, ay, az] = [positions[a] ?? 0, positions[a + 1] ?? 0, positions[a + 2] ?? 0];
    const [ux, uy, uz] = [(positions[b] ?? 0) - ax, (positions[b + 1] ?? 0) - ay, (positions[b + 2] ?? 0) - az];
    const [vx, vy, vz] = [(positions[c] ?? 0) - ax, (positions[c + 1] ?? 0) - ay, (positions[c + 2] ?? 0) - az];
    const [px, py, pz] = [dy * vz - dz * vy, dz * vx - dx * vz, dx * vy - dy * vx];
    const det = ux * px + uy * py + uz * pz;
    if (det === 0) continue;
    const [sx, sy, sz] = [x - ax, y - ay, z - az];
    const u = (sx * px + sy * py + sz * pz) / det;
    if (u < 0 || u > 1) continue;
    const [qx, qy, qz] = [sy * uz - sz * uy, sz * ux - sx * uz, sx * uy - sy * ux];
    const v = (dx * qx + dy * qy + dz * qz) / det;
    if (v < 0 || u + v > 1) continue;
    if ((vx * qx + vy * qy + vz * qz) / det > 0) crossings++;
  }
  return crossings % 2 === 1;
}

/**
 * Turns the triangles of a welded mesh the same way round, splits it into shells, turns shells that are inside out, and
 * counts bodies: a shell inside another is a void of it.
 */
export function closeSurface(welded: Triangles): ClosedSurface {
  const mesh: Triangles = { positions: welded.positions, indices: welded.indices.slice() };
  const { neighbors, openSides, nonManifoldEdges } = pairSides(mesh);
  const triangles = mesh.indices.length / 3;
  const shellNumber = new Int32Array(triangles).fill(-1);
  const shells: Shell[] = [];
  let turned = 0;
  for (let seed = 0; seed < triangles; seed++) {
    if ((shellNumber[seed] ?? 0) >= 0) continue;
    const members = [seed];
    let against = 0;
    shellNumber[seed] = shells.length;
    for (const t of members) {
      for (let k = 0; k < 3; k++) {
        const u = neighbors[3 * t + k] ?? -1;
        if (u < 0 || (shellNumber[u] ?? 0) >= 0) continue;
        shellNumber[u] = shells.length;
        if (!agrees(mesh, u, cornerOf(mesh, t, k), cornerOf(mesh, t, k + 1))) {
          turn(mesh.indices, neighbors, u);
          against++;
        }
        members.push(u);
      }
    }
    // Which of the two senses was the odd one is told by the majority.
    turned += Math.min(against, members.length - against);
    if (against > members.length / 2) for (const t of members) turn(mesh.indices, neighbors, t);
    shells.push(shellOf(mesh, members));
  }
  const { bodyOfShell, bodies, inverted } = nest(mesh, neighbors, shells, openSides === 0);
  return {
    mesh,
    neighbors,
    bodyOf: shellNumber.map((shell) => bodyOfShell[shell] ?? 0),
    bodies,
    openSides,
    nonManifoldEdges,
    turned,
    inverted,
  };
}

function nest(
  mesh: Triangles,
  neighbors: Int32Array,
  shells: readonly Shell[],
  closed: boolean,
): { bodyOfShell: number[]; bodies: number; inverted: number } {
  const bodyOfShell = shells.map(() => -1);
  if (!closed || shells.length > 200)
    return { bodyOfShell: shells.map((_, i) => i), bodies: shells.length, inverted: 0 };
  const around = shells.map((shell, i) => {
    const corner = 3 * cornerOf(mesh, shell.triangles[0] ?? 0, 0);
    const p = [0, 1, 2].map((k) => mesh.positions[corner + k] ?? 0) as unknown as Vec3;
    return shells.flatMap((other, j) =>
      j !== i && contains(other.bounds, shell.bounds) && inside(mesh, other, p) ? [j] : [],
    );
  });
  let bodies = 0;
  let inverted = 0;
  shells.forEach((shell, i) => {
    const isVoid = (around[i]?.length ?? 0) % 2 === 1;
    if (!isVoid) bodyOfShell[i] = bodies++;
    if (!isVoid && shell.signedVolume < 0) {
      inverted++;
      for (const t of shell.triangles) turn(mesh.indices, neighbors, t);
    }
  });
  shells.forEach((shell, i) => {
    if ((bodyOfShell[i] ?? -1) >= 0) return;
    // The void belongs to the smallest body around it. One that is not turned inward is a body of its own.
    const holders = (around[i] ?? []).filter((j) => (bodyOfShell[j] ?? -1) >= 0);
    const holder = holders.sort(
      (a, b) => Math.abs(shells[a]?.signedVolume ?? 0) - Math.abs(shells[b]?.signedVolume ?? 0),
    )[0];
    bodyOfShell[i] = shell.signedVolume < 0 && holder !== undefined ? (bodyOfShell[holder] ?? 0) : bodies++;
  });
  return { bodyOfShell, bodies, inverted };
}

function contains(outer: Box, inner: Box): boolean {
  const both = boxUnion(outer, inner);
  return [0, 1, 2].every((k) => both.min[k] === outer.min[k] && both.max[k] === outer.max[k]);
}
