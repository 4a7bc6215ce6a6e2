/** Holes that repeat: on a circle, in a row, as mirrored twins. */
import { circleThrough } from '#core/fit';
import type { Axis } from '#core/solid';
import {
  add,
  cross,
  distance,
  distanceToLine,
  dot,
  normalize,
  perpendicular,
  scale,
  subtract,
  type Vec3,
} from '#core/vector';

import { parallel } from './graph.ts';
import type { Hole } from './hole.ts';
import { mirroredPoint, type SymmetryPlane } from './whole.ts';

export interface BoltCircle {
  readonly kind: 'bolt-circle';
  readonly origin: Vec3;
  readonly direction: Vec3;
  readonly diameterMm: number;
  readonly holeDiameterMm: number;
  /** Holes that are there. */
  readonly count: number;
  /** Equal spaces around; more than holes where positions are left out. */
  readonly positions: number;
  readonly missing: number;
  /** From some direction in the plane of the circle to the first hole. */
  readonly startAngleRad: number;
  readonly faceIds: readonly number[];
}

export interface Row {
  readonly kind: 'row';
  readonly direction: Vec3;
  readonly count: number;
  readonly pitchMm: number;
  readonly holeDiameterMm: number;
  readonly faceIds: readonly number[];
}

export interface MirroredTwins {
  readonly kind: 'mirrored-twins';
  readonly normal: Vec3;
  readonly holeDiameterMm: number;
  readonly faceIds: readonly number[];
}

const MOST_POSITIONS = 36;

/** Holes of one size with parallel axes. */
function alike(holes: readonly Hole[], toleranceMm: number): Hole[][] {
  const groups: Hole[][] = [];
  for (const hole of holes) {
    const group = groups.find(
      ([first]) =>
        first &&
        Math.abs(first.diameterMm - hole.diameterMm) < 2 * toleranceMm &&
        parallel(first.direction, hole.direction),
    );
    if (group) group.push(hole);
    else groups.push([hole]);
  }
  return groups;
}

/** Bolt circles and rows of at least three holes, and pairs that a plane of symmetry mirrors. */
export function findPatterns(
  holes: readonly Hole[],
  axes: readonly Axis[],
  planes: readonly SymmetryPlane[],
  toleranceMm: number,
): (BoltCircle | Row | MirroredTwins)[] {
  return alike(holes, toleranceMm).flatMap((group) => {
    const circle = boltCircleOf(group, axes, toleranceMm);
    const row = circle ? null : rowOf(group, toleranceMm);
    const twins = circle || row ? [] : twinsOf(group, planes, toleranceMm);
    return [...(circle ? [circle] : []), ...(row ? [row] : []), ...twins];
  });
}

function boltCircleOf(group: readonly Hole[], axes: readonly Axis[], toleranceMm: number): BoltCircle | null {
  const [first] = group;
  if (!first || group.length < 3) return null;
  const { direction } = first;
  const u = perpendicular(direction);
  const v = cross(direction, u);
  const flat = (p: Vec3): readonly [number, number] => [dot(p, u), dot(p, v)];
  const fitted = circleThrough(group.map((hole) => flat(hole.origin)));
  const centers = [
    ...axes.filter((axis) => parallel(axis.direction, direction)).map((axis) => flat(axis.origin)),
    ...(fitted && fitted.residual < 5 * toleranceMm ? [fitted.center] : []),
  ];
  for (const center of centers) {
    const polar = group.map((hole) => {
      const [x, y] = flat(hole.origin);
      return {
        hole,
        radius: Math.hypot(x - center[0], y - center[1]),
        angle: Math.atan2(y - center[1], x - center[0]),
      };
    });
    const radius = polar[0]?.radius ?? 0;
    if (radius < toleranceMm || polar.some((p) => Math.abs(p.radius - radius) > 5 * toleranceMm)) continue;
    const angles = polar.map(({ angle }) => angle).sort((a, b) => a - b);
    const gaps = angles.map((angle, i) => (angles[i + 1] ?? (angles[0] ?? 0) + 2 * Math.PI) - angle);
    const positions = Math.round((2 * Math.PI) / Math.min(...gaps));
    const step = (2 * Math.PI) / positions;
    const slack = (5 * toleranceMm) / radius + 1e-6;
    const even = gaps.every((gap) => Math.abs(gap / step - Math.round(gap / step)) * step < slack);
    if (!even || positions > MOST_POSITIONS || positions > 2 * group.length) continue;
    return {
      kind: 'bolt-circle',
      origin: add(add(scale(u, center[0]), scale(v, center[1])), scale(direction, dot(first.origin, direction))),
      direction,
      diameterMm: 2 * radius,
      holeDiameterMm: first.diameterMm,
      count: group.length,
      positions,
      missing: positions - group.length,
      startAngleRad: angles[0] ?? 0,
      faceIds: group.flatMap((hole) => hole.faceIds),
    };
  }
  return null;
}

function rowOf(group: readonly Hole[], toleranceMm: number): Row | null {
  const [first, second] = group;
  if (!first || !second || group.length < 3) return null;
  // Where along its axis a hole begins does not matter.
  const flat = ({ origin }: Hole): Vec3 => {
    const apart = subtract(origin, first.origin);
    return subtract(apart, scale(first.direction, dot(apart, first.direction)));
  };
  const places = group.map(flat);
  const far = places.reduce((a, b) => (distance(b, [0, 0, 0]) > distance(a, [0, 0, 0]) ? b : a));
  const direction = normalize(far);
  if (places.some((place) => distanceToLine(place, [0, 0, 0], direction) > 5 * toleranceMm)) return null;
  const at = places.map((place) => dot(place, direction)).sort((a, b) => a - b);
  const pitches = at.slice(1).map((place, i) => place - (at[i] ?? 0));
  const pitchMm = pitches.reduce((sum, pitch) => sum + pitch, 0) / pitches.length;
  if (pitches.some((pitch) => Math.abs(pitch - pitchMm) > 5 * toleranceMm)) return null;
  return {
    kind: 'row',
    direction,
    count: group.length,
    pitchMm,
    holeDiameterMm: first.diameterMm,
    faceIds: group.flatMap((hole) => hole.faceIds),
  };
}

function twinsOf(group: readonly Hole[], planes: readonly SymmetryPlane[], toleranceMm: number): MirroredTwins[] {
  for (const { origin, normal } of planes) {
    const pairs = group.flatMap((a, i) =>
      group
        .slice(i + 1)
        .filter((b) => {
          const mirrored = mirroredPoint(a.origin, origin, normal);
          return distanceToLine(mirrored, b.origin, b.direction) < 5 * toleranceMm;
        })
        .map((b): MirroredTwins => ({
          kind: 'mirrored-twins',
          normal,
          holeDiameterMm: a.diameterMm,
          faceIds: [...a.faceIds, ...b.faceIds],
        })),
    );
    if (pairs.length > 0) return pairs;
  }
  return [];
}
