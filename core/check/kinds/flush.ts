import type { Face } from '#core/solid';
import { SAME_DIRECTION_COSINE, SAME_PLACE_MM } from '#core/tolerance';
import { boxDiagonal, dot, length, subtract, type Box, type Vec3 } from '#core/vector';

import { plannedCoincidence, plannedPair, targetPair, targetValue } from '../entries.ts';
import { defineKind, type MeasureContext } from '../kind.ts';
import { coincidenceOf, facesOfPair, PAIR_FILLS } from '../pair.ts';
import { planeDistance } from '../rulings.ts';

/** Farther off, a face is not one of a pair that should be one, as a share of the part. */
const FAR_SHARE = 0.2;

/** How far into a box a point is outside it in the two directions along a plane, mm; 0 within. */
function outsideMm(point: Vec3, { min, max }: Box, normal: Vec3): number {
  const off = point.map((at, i) => Math.max(0, (min[i] ?? 0) - at, at - (max[i] ?? 0)));
  return length(off.map((mm, i) => (Math.abs(normal[i] ?? 0) > 0.5 ? 0 : mm)) as unknown as Vec3);
}

/**
 * The step in what is one face on the reference: the farthest from its plane of the flat faces of the submission that lie
 * where it does, look the same way, and are nearer to it than to any other face of the reference that does.
 */
function stepInFace(face: Face, { surface, bounds }: Face, context: MeasureContext): number {
  if (face.surface.kind !== 'plane' || surface.kind !== 'plane') return 0;
  const { normal, origin } = surface;
  const direction = context.directionInFile(normal);
  const reachMm = FAR_SHARE * boxDiagonal(context.reference.bounds);
  const offsetOf = (plane: Face): number | null =>
    plane.surface.kind === 'plane' && dot(plane.surface.normal, normal) > SAME_DIRECTION_COSINE
      ? dot(subtract(plane.surface.origin, origin), normal)
      : null;
  const others = context.reference.faces
    .flatMap((other) => offsetOf(other) ?? [])
    .filter((mm) => Math.abs(mm) > SAME_PLACE_MM);
  const own = dot(subtract(context.pointOnReference(face.centroid), origin), normal);
  const steps = context.submission.faces.flatMap((one) => {
    if (one.surface.kind !== 'plane' || dot(one.surface.normal, direction) < SAME_DIRECTION_COSINE) return [];
    const at = context.pointOnReference(one.centroid);
    const offMm = dot(subtract(at, origin), normal) - own;
    const isNearest = others.every((mm) => Math.abs(offMm) < Math.abs(offMm - mm));
    return isNearest && Math.abs(offMm) < reachMm && outsideMm(at, bounds, normal) < SAME_PLACE_MM
      ? [Math.abs(offMm)]
      : [];
  });
  return Math.max(0, ...steps);
}

/** Step between two flat surfaces that should lie in one plane, or in the one face that both are. */
export const flush = defineKind({
  kind: 'flush',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedCoincidence, ...plannedPair },
  target: { ...targetValue, ...targetPair },
  hangsOn: ['from', 'to'],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: coincidenceOf,
  measure: ({ fromFaceIds, toFaceIds }, context) => {
    const shared = fromFaceIds.find((id) => toFaceIds.includes(id));
    const reference = context.reference.faces[shared ?? -1];
    return context.between(fromFaceIds, toFaceIds, (from, to) =>
      from.id === to.id && reference !== undefined ? stepInFace(from, reference, context) : planeDistance(from, to),
    );
  },
  marks: facesOfPair,
  picking: { label: 'two surfaces flush', fills: PAIR_FILLS },
  notAsDrawn: (value) => `what the sheet draws as one face has a step of ${value}`,
});
