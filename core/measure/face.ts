import type { Cone, Edge, Face, Surface } from '#core/solid';
import { dot, extremes, subtract, type Vec3 } from '#core/vector';

import { angleOf, lengthOf, type Reading } from './reading.ts';

export interface FaceDescription {
  /** What it is, in words: "round wall of a hole or a pocket". */
  readonly what: string;
  readonly readings: readonly Reading[];
}

/** How far a face reaches along a direction; null where an edge bends, so that its ends do not tell. */
function reachAlong(
  edges: readonly Edge[],
  origin: Vec3,
  direction: Vec3,
): readonly [low: number, high: number] | null {
  if (edges.length === 0 || edges.some(({ curve }) => curve === 'ellipse' || curve === 'other')) return null;
  return extremes(
    edges.flatMap(({ start, end }) => [start, end]).map((point) => dot(subtract(point, origin), direction)),
  );
}

/** The diameters at both ends of a cone, by how far its edges reach along the axis. */
function coneReadings({ origin, direction, radiusMm, halfAngleRad, apex }: Cone, edges: readonly Edge[]): Reading[] {
  const reach = reachAlong(edges, origin, direction);
  const angle = angleOf('Angle of the cone, from side to side', 2 * Math.abs(halfAngleRad));
  if (reach === null) return [angle];
  // The radius grows away from the tip.
  const away = dot(subtract(origin, apex), direction) >= 0 ? 1 : -1;
  const diameters = reach
    .map((along) => 2 * Math.max(0, radiusMm + away * along * Math.tan(Math.abs(halfAngleRad))))
    .sort((a, b) => b - a);
  const [large = 0, small = 0] = diameters;
  return [
    lengthOf('Diameter at the wide end', large),
    lengthOf('Diameter at the narrow end', small),
    lengthOf('Length along the axis', reach[1] - reach[0]),
    angle,
  ];
}

const side = (surface: Extract<Surface, { side: unknown }>, hollow: string, full: string): string =>
  surface.side === 'concave' ? hollow : full;

function shapeOf(face: Face, edges: readonly Edge[]): FaceDescription {
  const { surface, uncertaintyMm } = face;
  switch (surface.kind) {
    case 'plane':
      return { what: 'flat face', readings: [] };
    case 'cylinder': {
      const { origin, direction, radiusMm } = surface;
      const reach = reachAlong(edges, origin, direction);
      return {
        what: side(
          surface,
          'hollow round wall, as of a hole or an inner corner',
          'round wall, as of a shaft or a corner',
        ),
        readings: [
          lengthOf('Diameter', 2 * radiusMm, 2 * uncertaintyMm),
          lengthOf('Radius, half of it', radiusMm, uncertaintyMm),
          ...(reach === null ? [] : [lengthOf('Length along the axis', reach[1] - reach[0], uncertaintyMm)]),
        ],
      };
    }
    case 'cone':
      return { what: side(surface, 'hollow cone', 'cone'), readings: coneReadings(surface, edges) };
    case 'sphere':
      return {
        what: side(surface, 'hollow ball', 'ball'),
        readings: [
          lengthOf('Diameter', 2 * surface.radiusMm, 2 * uncertaintyMm),
          lengthOf('Radius, half of it', surface.radiusMm, uncertaintyMm),
        ],
      };
    case 'torus':
      return {
        what: 'rounding along a circle',
        readings: [
          lengthOf('Radius of the rounding', surface.minorRadiusMm, uncertaintyMm),
          lengthOf('Radius of the circle that its center runs along', surface.majorRadiusMm, uncertaintyMm),
        ],
      };
    case 'freeform':
      return { what: 'free-form face', readings: [] };
  }
}

/** What a face is, and what can be read off it alone. `edges` are those of the whole model. */
export function describeFace(face: Face, edges: readonly Edge[]): FaceDescription {
  const { what, readings } = shapeOf(
    face,
    face.edgeIds.flatMap((id) => edges[id] ?? []),
  );
  return { what, readings: [...readings, { kind: 'area', label: 'Area', areaMm2: face.areaMm2 }] };
}
