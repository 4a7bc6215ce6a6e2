import * as v from 'valibot';

import { placePoint, type Mat3, type Placement, type Vec3 } from '#core/vector';

import type { MassProperties } from './schema.ts';

/**
 * Volume, area, first and second moments of a part about the origin of the reference: numbers that add up when parts do,
 * and that hardly two different parts share. Order: V, A, Vx, Vy, Vz, Sxx, Syy, Szz, Sxy, Syz, Szx, with S = integral of x x^T.
 */
export const FingerprintSchema = v.pipe(v.array(v.number()), v.length(11), v.readonly());
export type Fingerprint = v.InferOutput<typeof FingerprintSchema>;

const AXES = [0, 1, 2] as const;
const PAIRS = [
  [0, 0],
  [1, 1],
  [2, 2],
  [0, 1],
  [1, 2],
  [2, 0],
] as const;

/** Second moments about the centroid from the inertia tensor J: S = tr(J)/2 I - J. */
const secondMoments = (inertia: Mat3): Mat3 => {
  const half = (inertia[0][0] + inertia[1][1] + inertia[2][2]) / 2;
  const entry = (i: 0 | 1 | 2, k: 0 | 1 | 2): number => (i === k ? half : 0) - inertia[i][k];
  const row = (i: 0 | 1 | 2): Vec3 => [entry(i, 0), entry(i, 1), entry(i, 2)];
  return [row(0), row(1), row(2)];
};

/** The fingerprint of a part that a placement carries to the reference. */
export function fingerprintOf(properties: MassProperties, placement?: Placement): Fingerprint {
  const { volumeMm3, areaMm2, centroidMm, inertiaMm5 } = properties;
  const factor = placement?.scale ?? 1;
  const volume = volumeMm3 * factor ** 3;
  const center = placement === undefined ? centroidMm : placePoint(placement, centroidMm);
  const own = secondMoments(inertiaMm5);
  const turned = placement === undefined ? own : rotated(own, placement.rotation);
  const second = PAIRS.map(([i, k]) => turned[i][k] * factor ** 5 + volume * center[i] * center[k]);
  return [volume, areaMm2 * factor ** 2, ...AXES.map((axis) => volume * center[axis]), ...second];
}

/** The fingerprint of volumes that are gathered in points, without area; what is missing has a negative volume. */
export function fingerprintOfPoints(
  points: readonly { readonly volumeMm3: number; readonly centerMm: Vec3 }[],
): Fingerprint {
  const sum = (of: (at: Vec3) => number): number =>
    points.reduce((total, { volumeMm3, centerMm }) => total + volumeMm3 * of(centerMm), 0);
  return [
    sum(() => 1),
    0,
    ...AXES.map((axis) => sum((at) => at[axis])),
    ...PAIRS.map(([i, k]) => sum((at) => at[i] * at[k])),
  ];
}

/** R S R^T. */
function rotated(tensor: Mat3, rotation: Mat3): Mat3 {
  const entry = (i: 0 | 1 | 2, k: 0 | 1 | 2): number => {
    let sum = 0;
    for (const a of AXES) for (const b of AXES) sum += rotation[i][a] * tensor[a][b] * rotation[k][b];
    return sum;
  };
  const row = (i: 0 | 1 | 2): Vec3 => [entry(i, 0), entry(i, 1), entry(i, 2)];
  return [row(0), row(1), row(2)];
}

/** What each number of a fingerprint is measured against: the volume and area of a part, and its size. */
export function scalesOf(reference: Fingerprint): Fingerprint {
  const [volume = 1, area = 1] = reference;
  const spread = Math.sqrt(Math.max(1e-12, spreadOf(reference) / volume));
  return [volume, area, ...AXES.map(() => volume * spread), ...PAIRS.map(() => volume * spread ** 2)];
}

/** Second moment about the centroid in all directions together. */
function spreadOf([volume = 1, , x = 0, y = 0, z = 0, xx = 0, yy = 0, zz = 0]: Fingerprint): number {
  return xx + yy + zz - (x * x + y * y + z * z) / volume;
}

/** Sum of two fingerprints. */
export const plus = (a: Fingerprint, b: Fingerprint): Fingerprint => a.map((value, i) => value + (b[i] ?? 0));

/** Difference of two fingerprints. */
export const minus = (a: Fingerprint, b: Fingerprint): Fingerprint => a.map((value, i) => value - (b[i] ?? 0));

/** The largest difference of two fingerprints, as a share of the scales. */
export const farthest = (a: Fingerprint, b: Fingerprint, scales: Fingerprint): number =>
  Math.max(...a.map((value, i) => Math.abs(value - (b[i] ?? 0)) / (scales[i] ?? 1)));

/** Parts whose fingerprints differ by less than this share are the same part. */
export const SAME_SHARE = 1e-7;
