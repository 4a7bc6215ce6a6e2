import { placeDirection, placePoint, type Placement, type Vec3 } from '#core/vector';

import type { Surface } from './schema.ts';

/** A directed line. */
export interface Axis {
  readonly origin: Vec3;
  readonly direction: Vec3;
}

/** The axis of a surface of revolution; a ball has none of its own. */
export function axisOf(surface: Surface): Axis | null {
  switch (surface.kind) {
    case 'cylinder':
    case 'cone':
      return { origin: surface.origin, direction: surface.direction };
    case 'torus':
      return { origin: surface.center, direction: surface.direction };
    default:
      return null;
  }
}

/** The direction that a surface has: the normal of a flat face, the axis of a round one. */
export const directionOf = (surface: Surface): Vec3 | null =>
  surface.kind === 'plane' ? surface.normal : 'direction' in surface ? surface.direction : null;

/** A surface after a motion, a reflection or a change of scale. */
export function placeSurface(placement: Placement, surface: Surface): Surface {
  const point = (p: Vec3) => placePoint(placement, p);
  const direction = (d: Vec3) => placeDirection(placement, d);
  switch (surface.kind) {
    case 'plane':
      return { ...surface, origin: point(surface.origin), normal: direction(surface.normal) };
    case 'cylinder':
      return {
        ...surface,
        origin: point(surface.origin),
        direction: direction(surface.direction),
        radiusMm: surface.radiusMm * placement.scale,
      };
    case 'cone':
      return {
        ...surface,
        origin: point(surface.origin),
        direction: direction(surface.direction),
        apex: point(surface.apex),
        radiusMm: surface.radiusMm * placement.scale,
      };
    case 'sphere':
      return { ...surface, center: point(surface.center), radiusMm: surface.radiusMm * placement.scale };
    case 'torus':
      return {
        ...surface,
        center: point(surface.center),
        direction: direction(surface.direction),
        majorRadiusMm: surface.majorRadiusMm * placement.scale,
        minorRadiusMm: surface.minorRadiusMm * placement.scale,
      };
    case 'freeform':
      return surface;
  }
}
