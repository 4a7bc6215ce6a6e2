import { SurfaceNameSchema } from '#core/recipe';
import { axisOf, type Face } from '#core/solid';
import { dot, length, nearestOnLine, subtract } from '#core/vector';

import { FaceIdsSchema, plannedAngle, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { uncertain } from '../rulings.ts';

/** Degrees, 0 to 90, by which the line from one axis to another, parallel one rises from a flat face. */
function riseDegrees(of: Face, about: Face, from: Face): number | string {
  const [own, center] = [axisOf(of.surface), axisOf(about.surface)];
  if (own === null || center === null || from.surface.kind !== 'plane')
    return 'What it is measured on is not round, or not flat, on the model.';
  const line = subtract(own.origin, nearestOnLine(own.origin, center.origin, center.direction));
  const size = length(line);
  if (size < 1e-6) return 'The two axes are one on the model.';
  return (Math.asin(Math.min(1, Math.abs(dot(line, from.surface.normal)) / size)) * 180) / Math.PI;
}

/** Where a hole of a circle lies: the angle at the center between the line to the hole and a flat face. */
export const angleAbout = defineKind({
  kind: 'angle-about',
  group: 'dimensions',
  quantity: 'angle',
  check: { ...plannedAngle, of: SurfaceNameSchema, about: SurfaceNameSchema, from: SurfaceNameSchema },
  target: { ...targetSize, faceIds: FaceIdsSchema, aboutFaceIds: FaceIdsSchema, fromFaceIds: FaceIdsSchema },
  hangsOn: ['of', 'about', 'from'],
  gives: 'place',
  judging: { by: 'tolerance' },
  prepare: (check, context) => {
    const [faceIds, aboutFaceIds, fromFaceIds] = [check.of, check.about, check.from].map(context.faceIds);
    const faces = [faceIds, aboutFaceIds, fromFaceIds].map((ids) => context.solid.faces[ids?.[0] ?? -1]);
    const [of, about, from] = faces;
    const rise = of && about && from ? riseDegrees(of, about, from) : 'it hangs on nothing of the part.';
    if (typeof rise === 'string') return context.refuse(rise);
    return {
      ...context.angle(check),
      faceIds: faceIds ?? [],
      aboutFaceIds: aboutFaceIds ?? [],
      fromFaceIds: fromFaceIds ?? [],
    };
  },
  measure: ({ faceIds, aboutFaceIds, fromFaceIds }, context) => {
    const referenceFaceIds = [...faceIds, ...aboutFaceIds, ...fromFaceIds];
    const [of, about, from] = [faceIds, aboutFaceIds, fromFaceIds].map(context.partner);
    const found = { faceIds: [of, about, from].flatMap((face) => face?.id ?? []), referenceFaceIds };
    if (!of || !about || !from)
      return { ...found, measured: null, reason: 'What it is measured on is not on the model.' };
    const rise = riseDegrees(of, about, from);
    if (typeof rise === 'string') return { ...found, measured: null, reason: rise };
    const [own, center] = [axisOf(of.surface), axisOf(about.surface)];
    const radiusMm =
      own && center ? length(subtract(own.origin, nearestOnLine(own.origin, center.origin, center.direction))) : 1;
    const offMm = of.uncertaintyMm + about.uncertaintyMm;
    return { ...found, measured: rise, ...uncertain((offMm / radiusMm) * (180 / Math.PI)) };
  },
  marks: ({ faceIds, aboutFaceIds, fromFaceIds }) => [...faceIds, ...aboutFaceIds, ...fromFaceIds],
  drafting: ({ faceIds, aboutFaceIds, fromFaceIds }) => ({ form: 'polar', faceIds, aboutFaceIds, fromFaceIds }),
  picking: {
    label: 'angle of a hole about a center, from a flat face',
    fills: [{ field: 'of' }, { field: 'about' }, { field: 'from' }],
    starts: { nominal: '45', tolerance: '0.5' },
  },
});
