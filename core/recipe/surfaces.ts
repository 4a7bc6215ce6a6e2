import type { Face, Surface } from '#core/solid';
import { cross, distanceToLine, dot, length, normalize, subtract, type Vec3 } from '#core/vector';

const POSITION_MM = 1e-4;
const PARALLEL_SINE = 1e-6;

const parallel = (a: Vec3, b: Vec3): boolean => length(cross(a, b)) < PARALLEL_SINE;

/** Whether two surfaces are the same one in space, whatever piece of it a face covers. */
export function sameSurface(a: Surface, b: Surface): boolean {
  if (a.kind === 'plane' && b.kind === 'plane')
    return (
      dot(a.normal, b.normal) > 0 &&
      parallel(a.normal, b.normal) &&
      Math.abs(dot(subtract(a.origin, b.origin), a.normal)) < POSITION_MM
    );
  if (a.kind === 'cylinder' && b.kind === 'cylinder')
    return (
      a.side === b.side &&
      Math.abs(a.radiusMm - b.radiusMm) < POSITION_MM &&
      parallel(a.direction, b.direction) &&
      distanceToLine(b.origin, a.origin, a.direction) < POSITION_MM
    );
  return false;
}

/** Ids of the faces that a named surface carries in a solid. */
export const facesOn = (faces: readonly Face[], surface: Surface): number[] =>
  faces.filter((face) => sameSurface(face.surface, surface)).map((face) => face.id);

/** The surface seen from the other side: that of a cut is the reverse of that of the tool. */
export function reversed(surface: Surface): Surface {
  if (surface.kind === 'plane')
    return { ...surface, normal: [-surface.normal[0], -surface.normal[1], -surface.normal[2]] };
  if (surface.kind === 'cylinder') return { ...surface, side: surface.side === 'convex' ? 'concave' : 'convex' };
  return surface;
}

/**
 * The cylinder of radius r that rounds the edge between two planes: its axis lies at distance r from both, inside the
 * material for a convex edge, outside for a concave one.
 */
export function roundBetween(a: Surface, b: Surface, radiusMm: number, side: 'convex' | 'concave'): Surface | null {
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
