import type { Face, Surface } from '#core/solid';
import { BUILT_PARALLEL_SINE, SAME_PLACE_MM, SAME_SIZE_MM } from '#core/tolerance';
import { cross, distance, distanceToLine, dot, length, normalize, subtract, type Box, type Vec3 } from '#core/vector';

const ANGLE_RAD = 1e-6;

const parallel = (a: Vec3, b: Vec3): boolean => length(cross(a, b)) < BUILT_PARALLEL_SINE;

const sameLine = (originA: Vec3, directionA: Vec3, originB: Vec3, directionB: Vec3): boolean =>
  parallel(directionA, directionB) && distanceToLine(originB, originA, directionA) < SAME_SIZE_MM;

/** Whether two surfaces are the same one in space, whatever piece of it a face covers. */
export function sameSurface(a: Surface, b: Surface): boolean {
  if (a.kind === 'plane' && b.kind === 'plane')
    return (
      dot(a.normal, b.normal) > 0 &&
      parallel(a.normal, b.normal) &&
      Math.abs(dot(subtract(a.origin, b.origin), a.normal)) < SAME_SIZE_MM
    );
  if (a.kind === 'cylinder' && b.kind === 'cylinder')
    return (
      a.side === b.side &&
      Math.abs(a.radiusMm - b.radiusMm) < SAME_SIZE_MM &&
      sameLine(a.origin, a.direction, b.origin, b.direction)
    );
  if (a.kind === 'cone' && b.kind === 'cone')
    return (
      a.side === b.side &&
      distance(a.apex, b.apex) < SAME_SIZE_MM &&
      Math.abs(a.halfAngleRad - b.halfAngleRad) < ANGLE_RAD &&
      dot(a.direction, b.direction) > 0 &&
      parallel(a.direction, b.direction)
    );
  if (a.kind === 'sphere' && b.kind === 'sphere')
    return (
      a.side === b.side &&
      Math.abs(a.radiusMm - b.radiusMm) < SAME_SIZE_MM &&
      distance(a.center, b.center) < SAME_SIZE_MM
    );
  if (a.kind === 'torus' && b.kind === 'torus')
    return (
      a.side === b.side &&
      Math.abs(a.majorRadiusMm - b.majorRadiusMm) < SAME_SIZE_MM &&
      Math.abs(a.minorRadiusMm - b.minorRadiusMm) < SAME_SIZE_MM &&
      distance(a.center, b.center) < SAME_SIZE_MM &&
      parallel(a.direction, b.direction)
    );
  return false;
}

/** A surface that a step made, and the box of what the step added or cut: elsewhere the same plane is another step's. */
export type NamedSurface = Surface & { readonly within?: Box };

/** Whether a face and a box have more than a border in common. */
function reachesInto({ bounds }: Face, box: Box): boolean {
  return ([0, 1, 2] as const).every((axis) => {
    const shared = Math.min(bounds.max[axis], box.max[axis]) - Math.max(bounds.min[axis], box.min[axis]);
    // A flat face has no thickness along its normal, a box none where it is one of a sheet.
    const thickness = Math.min(bounds.max[axis] - bounds.min[axis], box.max[axis] - box.min[axis]);
    return shared > (thickness > 2 * SAME_PLACE_MM ? SAME_PLACE_MM : -SAME_PLACE_MM);
  });
}

/**
 * Ids of the faces that a named surface carries in a solid: those on the same surface, and of several those within the
 * reach of its step, as long as there are any.
 */
export function facesOn(faces: readonly Face[], surface: NamedSurface): number[] {
  const all = faces.filter((face) => sameSurface(face.surface, surface));
  const { within } = surface;
  const own = within === undefined || all.length < 2 ? all : all.filter((face) => reachesInto(face, within));
  return (own.length > 0 ? own : all).map((face) => face.id);
}

/** The surface seen from the other side: that of a cut is the reverse of that of the tool. */
export function reversed(surface: Surface): Surface {
  if (surface.kind === 'plane')
    return { ...surface, normal: [-surface.normal[0], -surface.normal[1], -surface.normal[2]] };
  if (surface.kind === 'freeform') return surface;
  return { ...surface, side: surface.side === 'convex' ? 'concave' : 'convex' };
}

/**
 * The cylinder of radius r that rounds the edge between two planes: its axis lies at distance r from both, inside the
 * material for a convex edge, outside for a concave one.
 */
export function filletBetween(a: Surface, b: Surface, radiusMm: number, side: 'convex' | 'concave'): Surface | null {
  if (a.kind !== 'plane' || b.kind !== 'plane') return null;
  const direction = normalize(cross(a.normal, b.normal));
  if (length(direction) < 0.5) return null;
  const offset = side === 'convex' ? -radiusMm : radiusMm;
  const da = dot(a.origin, a.normal) + offset;
  const db = dot(b.origin, b.normal) + offset;
  // Point with p.na = da, p.nb = db that is nearest to the origin: p = x na + y nb.
  const c = dot(a.normal, b.normal);
  const det = 1 - c * c;
  const x = (da - db * c) / det;
  const y = (db - da * c) / det;
  return {
    kind: 'cylinder',
    origin: [x * a.normal[0] + y * b.normal[0], x * a.normal[1] + y * b.normal[1], x * a.normal[2] + y * b.normal[2]],
    direction,
    radiusMm,
    side,
  };
}
