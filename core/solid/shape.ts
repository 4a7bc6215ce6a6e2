import type { Shape } from '#core/fit';

import type { Surface } from './schema.ts';

/** The surface without its side; null for a freeform one, which has no formula. */
export function shapeOf(surface: Surface): Shape | null {
  switch (surface.kind) {
    case 'plane':
      return surface;
    case 'cylinder':
      return { ...surface, radius: surface.radiusMm };
    case 'cone':
      return { kind: 'cone', apex: surface.apex, direction: surface.direction, halfAngle: surface.halfAngleRad };
    case 'sphere':
      return { ...surface, radius: surface.radiusMm };
    case 'torus':
      return { ...surface, major: surface.majorRadiusMm, minor: surface.minorRadiusMm };
    case 'freeform':
      return null;
  }
}

/** The radius of a round: of a cylinder or a ball, or that of the section of a ring. */
export function roundingMm(surface: Surface): number | null {
  switch (surface.kind) {
    case 'cylinder':
    case 'sphere':
      return surface.radiusMm;
    case 'torus':
      return surface.minorRadiusMm;
    default:
      return null;
  }
}
