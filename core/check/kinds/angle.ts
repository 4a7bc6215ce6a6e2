import { SurfaceNameSchema } from '#core/recipe';

import { FaceIdsSchema, plannedAngle, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { angleDegrees, uncertain } from '../rulings.ts';

/** Degrees between two surfaces: normals of flat ones, axes of round ones. */
export const angle = defineKind({
  kind: 'angle',
  group: 'dimensions',
  quantity: 'angle',
  check: { ...plannedAngle, from: SurfaceNameSchema, to: SurfaceNameSchema },
  target: { ...targetSize, fromFaceIds: FaceIdsSchema, toFaceIds: FaceIdsSchema },
  hangsOn: ['from', 'to'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({
    ...context.angle(check),
    fromFaceIds: context.faceIds(check.from),
    toFaceIds: context.faceIds(check.to),
  }),
  measure: ({ fromFaceIds, toFaceIds, nominal }, context) => {
    const { uncertainty: _, ...found } = context.between(fromFaceIds, toFaceIds, angleDegrees(nominal));
    // An offset that is uncertain over the width of a face makes an angle uncertain, degrees.
    const degrees = [context.partner(fromFaceIds), context.partner(toFaceIds)].reduce(
      (sum, face) => sum + (face ? (2 * face.uncertaintyMm * 180) / (Math.PI * Math.sqrt(face.areaMm2 + 1e-9)) : 0),
      0,
    );
    return { ...found, ...uncertain(degrees) };
  },
  marks: ({ fromFaceIds, toFaceIds }) => [...fromFaceIds, ...toFaceIds],
  chain: ({ fromFaceIds, toFaceIds }) => ({ directed: [...fromFaceIds, ...toFaceIds] }),
  drafting: ({ fromFaceIds, toFaceIds }) => ({ form: 'angular', fromFaceIds, toFaceIds }),
  picking: {
    label: 'angle between two surfaces',
    fills: [{ field: 'from' }, { field: 'to' }],
    starts: { nominal: '90', tolerance: '0.5' },
  },
});
