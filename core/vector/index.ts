/** Small vector and rigid-motion arithmetic. Vectors are plain readonly triples; lengths are mm. */

export type Vec3 = readonly [x: number, y: number, z: number];

/** Rows of a 3 x 3 matrix. */
export type Mat3 = readonly [Vec3, Vec3, Vec3];

export type Vec2 = readonly [u: number, v: number];

/** Axis-aligned box in mm. */
export interface Box {
  readonly min: Vec3;
  readonly max: Vec3;
}

export const ORIGIN: Vec3 = [0, 0, 0];

export const add = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
export const subtract = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const scale = (a: Vec3, factor: number): Vec3 => [a[0] * factor, a[1] * factor, a[2] * factor];
export const negate = (a: Vec3): Vec3 => scale(a, -1);
export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Vec3, b: Vec3): Vec3 => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
/** Not by Math.hypot, which is many times slower and guards against sizes that no part has. */
export const length = (a: Vec3): number => Math.sqrt(a[0] * a[0] + a[1] * a[1] + a[2] * a[2]);
export const distance = (a: Vec3, b: Vec3): number => length(subtract(a, b));

/** Unit vector along `a`; the zero vector is returned unchanged. */
export function normalize(a: Vec3): Vec3 {
  const size = length(a);
  return size === 0 ? a : scale(a, 1 / size);
}

/** Angle between two directions in radians, 0 to pi. */
export const angleBetween = (a: Vec3, b: Vec3): number => Math.atan2(length(cross(a, b)), dot(a, b));

/** Distance of `point` from the line through `origin` along the unit vector `direction`. */
export function distanceToLine(point: Vec3, origin: Vec3, direction: Vec3): number {
  return length(cross(subtract(point, origin), direction));
}

/** Point of the line through `origin` along the unit vector `direction` that is nearest to `point`. */
export function nearestOnLine(point: Vec3, origin: Vec3, direction: Vec3): Vec3 {
  return add(origin, scale(direction, dot(subtract(point, origin), direction)));
}

/** Smallest distance between two lines given by a point and a unit direction each. */
export function distanceBetweenLines(originA: Vec3, directionA: Vec3, originB: Vec3, directionB: Vec3): number {
  const common = cross(directionA, directionB);
  const size = length(common);
  if (size < 1e-9) return distanceToLine(originB, originA, directionA);
  return Math.abs(dot(subtract(originB, originA), common)) / size;
}

/**
 * Smallest and largest of many values; infinite where there are none. Not by spreading them into Math.max, which fails
 * beyond some hundred thousand.
 */
export function extremes(values: Iterable<number>): readonly [smallest: number, largest: number] {
  let smallest = Infinity;
  let largest = -Infinity;
  for (const value of values) {
    if (value < smallest) smallest = value;
    if (value > largest) largest = value;
  }
  return [smallest, largest];
}

/** Box around points given as a flat list of coordinates. */
export function boxAround(positions: ArrayLike<number>): Box {
  const min: [number, number, number] = [Infinity, Infinity, Infinity];
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i + 2 < positions.length; i += 3)
    for (const axis of [0, 1, 2] as const) {
      const value = positions[i + axis] ?? 0;
      if (value < min[axis]) min[axis] = value;
      if (value > max[axis]) max[axis] = value;
    }
  return { min, max };
}

/** Point `i` of a flat list of coordinates. */
export const pointAt = (positions: ArrayLike<number>, i: number): Vec3 => [
  positions[3 * i] ?? 0,
  positions[3 * i + 1] ?? 0,
  positions[3 * i + 2] ?? 0,
];

/** The points of a flat list of coordinates. */
export const pointsOf = (positions: ArrayLike<number>): readonly Vec3[] =>
  Array.from({ length: Math.floor(positions.length / 3) }, (_, i) => pointAt(positions, i));

/** Some unit vector perpendicular to `a`. */
export function perpendicular(a: Vec3): Vec3 {
  const seed: Vec3 = Math.abs(a[0]) < 0.8 ? [1, 0, 0] : [0, 1, 0];
  return normalize(cross(a, seed));
}

export const boxSize = (box: Box): Vec3 => subtract(box.max, box.min);
export const boxCenter = (box: Box): Vec3 => scale(add(box.min, box.max), 0.5);
/** The eight corners of a box. */
export const boxCorners = ({ min, max }: Box): readonly Vec3[] =>
  [min[0], max[0]].flatMap((x) => [min[1], max[1]].flatMap((y) => [min[2], max[2]].map((z): Vec3 => [x, y, z])));
export const boxDiagonal = (box: Box): number => length(boxSize(box));

/** Smallest box around both. */
export const boxUnion = (a: Box, b: Box): Box => ({
  min: [Math.min(a.min[0], b.min[0]), Math.min(a.min[1], b.min[1]), Math.min(a.min[2], b.min[2])],
  max: [Math.max(a.max[0], b.max[0]), Math.max(a.max[1], b.max[1]), Math.max(a.max[2], b.max[2])],
});

export const IDENTITY: Mat3 = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

export const multiply = (m: Mat3, a: Vec3): Vec3 => [dot(m[0], a), dot(m[1], a), dot(m[2], a)];

/** p' = rotation * (p * scale) + translation, lengths in mm. */
export interface Placement {
  readonly rotation: Mat3;
  readonly scale: number;
  readonly translation: Vec3;
}

export const AS_MODELED: Placement = { rotation: IDENTITY, scale: 1, translation: ORIGIN };

export const placePoint = (placement: Placement, point: Vec3): Vec3 =>
  add(multiply(placement.rotation, scale(point, placement.scale)), placement.translation);
/** The point that `placePoint` would carry to the given one. */
export const placeBack = ({ rotation, translation, scale: size }: Placement, point: Vec3): Vec3 =>
  scale(multiply(transpose(rotation), subtract(point, translation)), 1 / size);
export const placeDirection = (placement: Placement, direction: Vec3): Vec3 => multiply(placement.rotation, direction);

/** The 24 rotations that carry the coordinate axes onto themselves; the identity comes first. */
export const AXIS_ROTATIONS: readonly Mat3[] = (() => {
  const units: Vec3[] = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
    [-1, 0, 0],
    [0, -1, 0],
    [0, 0, -1],
  ];
  const rotations: Mat3[] = [];
  for (const x of units)
    for (const y of units) {
      if (dot(x, y) === 0) rotations.push([x, y, cross(x, y)]);
    }
  return rotations;
})();

/** Angle of a rotation matrix in radians, 0 to pi. */
export function rotationAngle(m: Mat3): number {
  return Math.acos(Math.min(1, Math.max(-1, (m[0][0] + m[1][1] + m[2][2] - 1) / 2)));
}

/** Matrix product, rows of `a` by columns of `b`. */
export function compose(a: Mat3, b: Mat3): Mat3 {
  const row = (r: Vec3): Vec3 => [
    r[0] * b[0][0] + r[1] * b[1][0] + r[2] * b[2][0],
    r[0] * b[0][1] + r[1] * b[1][1] + r[2] * b[2][1],
    r[0] * b[0][2] + r[1] * b[1][2] + r[2] * b[2][2],
  ];
  return [row(a[0]), row(a[1]), row(a[2])];
}

export const transpose = (m: Mat3): Mat3 => [
  [m[0][0], m[1][0], m[2][0]],
  [m[0][1], m[1][1], m[2][1]],
  [m[0][2], m[1][2], m[2][2]],
];

export const determinant = (m: Mat3): number => dot(m[0], cross(m[1], m[2]));

/**
 * Principal axes of a symmetric matrix, the smallest value first (rotations after Jacobi). The directions are unit
 * vectors at right angles.
 */
export function symmetricAxes(m: Mat3): readonly { readonly value: number; readonly direction: Vec3 }[] {
  const a = m.map((row) => [...row]) as [number[], number[], number[]];
  const v = IDENTITY.map((row) => [...row]) as [number[], number[], number[]];
  const at = (x: number[][], i: number, j: number): number => x[i]?.[j] ?? 0;
  const size = Math.max(...m.flat().map(Math.abs), 1e-300);
  const rotate = (
    x: number[][],
    {
      columns,
      p,
      q,
      c,
      s,
    }: { readonly columns: boolean; readonly p: number; readonly q: number; readonly c: number; readonly s: number },
  ): void => {
    for (let k = 0; k < 3; k++) {
      const [ip, iq] = columns ? [at(x, k, p), at(x, k, q)] : [at(x, p, k), at(x, q, k)];
      const [np, nq] = [c * ip - s * iq, s * ip + c * iq];
      const rowP = columns ? x[k] : x[p];
      const rowQ = columns ? x[k] : x[q];
      if (rowP) rowP[columns ? p : k] = np;
      if (rowQ) rowQ[columns ? q : k] = nq;
    }
  };
  for (let round = 0; round < 40; round++) {
    const pairs = [
      [0, 1],
      [0, 2],
      [1, 2],
    ] as const;
    const [p, q] = pairs.reduce<readonly [number, number]>(
      (best, pair) => (Math.abs(at(a, pair[0], pair[1])) > Math.abs(at(a, best[0], best[1])) ? pair : best),
      [0, 1],
    );
    if (Math.abs(at(a, p, q)) < 1e-15 * size) break;
    const theta = (at(a, q, q) - at(a, p, p)) / (2 * at(a, p, q));
    const t = (theta < 0 ? -1 : 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1));
    const c = 1 / Math.sqrt(t * t + 1);
    rotate(a, { columns: true, p, q, c, s: t * c });
    rotate(a, { columns: false, p, q, c, s: t * c });
    rotate(v, { columns: true, p, q, c, s: t * c });
  }
  return ([0, 1, 2] as const)
    .map((i) => ({
      value: at(a, i, i),
      direction: normalize([at(v, 0, i), at(v, 1, i), at(v, 2, i)]),
    }))
    .sort((x, y) => x.value - y.value);
}
