import { MEASURED_PARALLEL_SINE } from '#core/tolerance';
import { axisOf, type Cylinder, type Face, type Plane, type Surface } from '#core/solid';
import { angleBetween, cross, distanceBetweenLines, dot, length, negate, subtract, type Vec3 } from '#core/vector';

import type { Found, Ruling } from './kind.ts';

/** Reasons why something could not be measured, as the report shows them. */
export const NO_PARTNER = 'What it is measured on is not on the model.';
const NOT_ROUND = 'What it is measured on is not round on the model.';
const NOT_FLAT = 'What it is measured on is not flat on the model.';

/** `{ uncertainty }` where there is one: what is exact carries none. */
export const uncertain = (uncertainty: number): { uncertainty?: number } => (uncertainty > 0 ? { uncertainty } : {});

/** The one that is farthest off; of equally wrong ones the first, whatever the last digits say. */
export const farthest = <T>(first: T, others: readonly T[], off: (one: T) => number): T =>
  others.reduce((a, b) => (off(b) > off(a) + 1e-9 ? b : a), first);

/** One of several like things that the sheet writes a size for once, with its partner on the submission. */
export interface LikeOne {
  readonly referenceFaceIds: readonly number[];
  readonly partner: { readonly faceIds: readonly number[] } | null;
}

/** What is found where one of several like things, or the only one, is not on the model; `what` it is called. */
export function notAllThere(what: string, members: readonly LikeOne[]): Found {
  const there = members.flatMap(({ partner }) => partner ?? []);
  return {
    measured: null,
    reason:
      members.length === 1
        ? `The ${what} is not on the model.`
        : `${String(there.length)} of the ${String(members.length)} ${what}s ${there.length === 1 ? 'is' : 'are'} on the model.`,
    faceIds: there.flatMap(({ faceIds }) => faceIds),
    referenceFaceIds: members.flatMap(({ partner, referenceFaceIds }) => (partner === null ? referenceFaceIds : [])),
  };
}

const degreesBetween = (a: Vec3, b: Vec3): number => (angleBetween(a, b) * 180) / Math.PI;
const isParallel = (a: Vec3, b: Vec3): boolean => length(cross(a, b)) < MEASURED_PARALLEL_SINE;
const offsetFrom = (plane: Plane, point: Vec3): number => Math.abs(dot(subtract(point, plane.origin), plane.normal));
const axisOffset = (plane: Plane, { origin }: Cylinder): number => offsetFrom(plane, origin);

function notParallel(what: string, a: Vec3, b: Vec3): string {
  const angle = degreesBetween(a, b);
  return `The two ${what} are not parallel on the model: ${Math.min(angle, 180 - angle).toFixed(2)} degrees apart.`;
}

/** Distance of two parallel flat faces, mm: between their middles where they are a hair out of parallel. */
export function planeDistance({ surface: a }: Face, { surface: b }: Face): Ruling {
  if (a.kind !== 'plane' || b.kind !== 'plane') return NOT_FLAT;
  return isParallel(a.normal, b.normal) ? offsetFrom(a, b.origin) : notParallel('faces', a.normal, b.normal);
}

/** Distance of two flat faces that look away from each other with material between them, mm. */
export function wallThickness(a: Face, b: Face): Ruling {
  const [s, t] = [a.surface, b.surface];
  const measured = planeDistance(a, b);
  if (typeof measured === 'string' || s.kind !== 'plane' || t.kind !== 'plane') return measured;
  const inward = dot(subtract(t.origin, s.origin), s.normal) < 0;
  return dot(s.normal, t.normal) < 0 && inward ? measured : 'The two faces do not bound a wall on the model.';
}

/** Distance of a flat face from the axis of a cylinder that runs along it, mm. */
export function planeToAxis({ surface: plane }: Face, { surface: wall }: Face): Ruling {
  if (plane.kind !== 'plane' || wall.kind !== 'cylinder') return NOT_ROUND;
  return Math.abs(dot(plane.normal, wall.direction)) > MEASURED_PARALLEL_SINE
    ? 'The axis is not parallel to the face on the model.'
    : axisOffset(plane, wall);
}

/** Distance of the parallel axes of two round faces, mm; with a direction, as it is seen along that. */
export const axisDistance =
  (along: Vec3 | null) =>
  (from: Face, to: Face): Ruling => {
    const [a, b] = [axisOf(from.surface), axisOf(to.surface)];
    if (a === null || b === null) return NOT_ROUND;
    if (!isParallel(a.direction, b.direction)) return notParallel('axes', a.direction, b.direction);
    return along === null
      ? distanceBetweenLines(a.origin, a.direction, b.origin, a.direction)
      : Math.abs(dot(subtract(b.origin, a.origin), along));
  };

const directionOf = (surface: Surface): Vec3 | null =>
  surface.kind === 'plane'
    ? surface.normal
    : surface.kind === 'cylinder' || surface.kind === 'cone'
      ? surface.direction
      : null;

/**
 * Degrees between two surfaces as a drawing gives it. A plane and an axis make the complement of normal and axis; axes
 * have no sense, so of the angle and its supplement the one nearer to the nominal is taken.
 */
export const angleDegrees =
  (nominal: number) =>
  (a: Face, b: Face): Ruling => {
    const [s, t] = [directionOf(a.surface), directionOf(b.surface)];
    if (s === null || t === null) return 'What it is measured on has no direction on the model.';
    const [isFlatA, isFlatB] = [a.surface.kind === 'plane', b.surface.kind === 'plane'];
    const between = degreesBetween(s, t);
    if (isFlatA !== isFlatB) return Math.abs(90 - between);
    // Two flat faces enclose the supplement of the angle between their outward normals.
    if (isFlatA) return 180 - between;
    const other = degreesBetween(s, negate(t));
    return Math.abs(between - nominal) <= Math.abs(other - nominal) ? between : other;
  };

export const UNIT_VECTORS: readonly [Vec3, Vec3, Vec3] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];
