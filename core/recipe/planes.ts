import { offsetPlane, type WorkPlane } from '#core/kernel';
import { ProblemError } from '#core/problem';
import { axisOf, type Axis, type Surface } from '#core/solid';
import { BUILT_PARALLEL_SINE, NO_MEETING_SINE } from '#core/tolerance';
import {
  add,
  cross,
  dot,
  length,
  nearestOnLine,
  normalize,
  ORIGIN,
  scale,
  subtract,
  type Mat3,
  type Vec3,
} from '#core/vector';

/** The work plane with a given normal; u is X where possible, so that planes do not turn when values change. */
export function planeAt(origin: Vec3, normal: Vec3): WorkPlane {
  const along: Vec3 = Math.abs(normal[0]) > 0.9 ? [0, 1, 0] : [1, 0, 0];
  const u = normalize(subtract(along, scale(normal, dot(along, normal))));
  return { origin, u, v: cross(normal, u), normal };
}

const BASE_NORMALS: Readonly<Record<'XY' | 'XZ' | 'YZ', Vec3>> = { XY: [0, 0, 1], XZ: [0, -1, 0], YZ: [1, 0, 0] };

/** A principal plane through the origin. */
export const basePlane = (name: 'XY' | 'XZ' | 'YZ'): WorkPlane => planeAt(ORIGIN, BASE_NORMALS[name]);

const BASE_AXES: Readonly<Record<'X' | 'Y' | 'Z', Vec3>> = { X: [1, 0, 0], Y: [0, 1, 0], Z: [0, 0, 1] };

/** An axis of the part through the origin. */
export const baseAxis = (name: 'X' | 'Y' | 'Z'): Axis => ({ origin: ORIGIN, direction: BASE_AXES[name] });

/** The work plane on a flat surface; its origin is the foot of the part's origin. */
export function planeOn(surface: Surface, name: string): WorkPlane {
  if (surface.kind !== 'plane')
    throw new ProblemError('surface-not-flat', `"${name}" is not flat, so nothing can be drawn on it.`);
  return planeAt(scale(surface.normal, dot(surface.origin, surface.normal)), surface.normal);
}

/** The axis of a round surface; others refuse with `surface-not-round`. */
export function axisOfSurface(surface: Surface, name: string): Axis {
  const axis = axisOf(surface);
  if (axis === null) throw new ProblemError('surface-not-round', `"${name}" is not round, so it has no axis.`);
  return axis;
}

/** The line where two planes meet, from its point nearest to the origin of the part. */
export function meetingLine(a: WorkPlane, b: WorkPlane): Axis {
  const direction = cross(a.normal, b.normal);
  const square = dot(direction, direction);
  if (square < NO_MEETING_SINE)
    throw new ProblemError('planes-parallel', 'The two planes are parallel, so they do not meet in a line.');
  const [da, db] = [dot(a.origin, a.normal), dot(b.origin, b.normal)];
  const point = scale(add(scale(cross(b.normal, direction), da), scale(cross(direction, a.normal), db)), 1 / square);
  return { origin: point, direction: normalize(direction) };
}

/** Rotation about a direction by the right hand (Rodrigues). */
export function rotation(direction: Vec3, angleRad: number): Mat3 {
  const [x, y, z] = direction;
  const [c, s] = [Math.cos(angleRad), Math.sin(angleRad)];
  const t = 1 - c;
  return [
    [c + x * x * t, x * y * t - z * s, x * z * t + y * s],
    [y * x * t + z * s, c + y * y * t, y * z * t - x * s],
    [z * x * t - y * s, z * y * t + x * s, c + z * z * t],
  ];
}

/** The plane halfway between two parallel ones, with the normal of the first. */
export function middlePlane(a: WorkPlane, b: WorkPlane): WorkPlane {
  if (length(cross(a.normal, b.normal)) > BUILT_PARALLEL_SINE)
    throw new ProblemError('planes-not-parallel', 'There is a middle plane only between two parallel flat surfaces.');
  return offsetPlane(a, dot(subtract(b.origin, a.origin), a.normal) / 2);
}

/** The plane that touches a cylinder where its outside looks along a direction. */
export function tangentPlane(surface: Surface, name: string, facing: Vec3): WorkPlane {
  if (surface.kind !== 'cylinder')
    throw new ProblemError('surface-not-round', `"${name}" is not a round wall, so no plane touches it along a line.`);
  const across = subtract(facing, scale(surface.direction, dot(facing, surface.direction)));
  if (length(across) < BUILT_PARALLEL_SINE)
    throw new ProblemError('plane-along-axis', 'The facing plane is square to the axis; choose one that is not.');
  const normal = normalize(across);
  const foot = nearestOnLine(ORIGIN, surface.origin, surface.direction);
  return planeAt(add(foot, scale(normal, surface.radiusMm)), normal);
}
