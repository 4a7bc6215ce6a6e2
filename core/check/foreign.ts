import { featuresOf } from '#core/feature';
import type { Face, Solid } from '#core/solid';

import { placeFace, samePlace, type Frame } from './frame.ts';
import type { FacePartners } from './match.ts';

/** Surfaces are one where they lie so near to each other, mm, besides what facets leave open. */
const ONE_SURFACE_MM = 0.02;
/** Of a model of triangles, faces with a smaller share of its area may be what is left between others. */
const LEFT_OVER_SHARE = 2e-3;

/**
 * Faces of a submission that belong to nothing on the reference: no partner, not on a surface that the reference has, and
 * no piece of a face that has a partner, wherever that lies. Walls of a thread belong to the wall that it is cut into, and
 * what triangles do not tell is given the benefit of the doubt.
 */
export function foreignFaces(
  reference: Solid,
  submission: Solid,
  { partners, frame }: { readonly partners: FacePartners; readonly frame: Frame },
): readonly Face[] {
  const paired = new Set([...partners.values()].map(({ face }) => face.id));
  const threads = new Set(featuresOf(submission, 'thread').flatMap(({ faceIds }) => faceIds));
  const known = submission.faces.filter(({ id }) => paired.has(id));
  const hasFreeform = reference.faces.some(({ surface }) => surface.kind === 'freeform');
  const areaMm2 = submission.faces.reduce((sum, face) => sum + face.areaMm2, 0);
  return submission.faces.filter((face) => {
    const { id, surface, uncertaintyMm } = face;
    if (paired.has(id) || threads.has(id)) return false;
    if (uncertaintyMm > 0 && face.areaMm2 < LEFT_OVER_SHARE * areaMm2) return false;
    if (surface.kind === 'freeform' && (hasFreeform || uncertaintyMm > 0)) return false;
    const placed = placeFace(frame.placement, face);
    const room = (other: Face): number => ONE_SURFACE_MM + uncertaintyMm + other.uncertaintyMm;
    return !(
      known.some((other) => samePlace(other.surface, surface, room(other))) ||
      reference.faces.some((other) => samePlace(other.surface, placed.surface, room(other)))
    );
  });
}
