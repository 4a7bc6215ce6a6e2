import { SurfaceNameSchema } from '#core/recipe';

import { FaceIdsSchema, plannedAngle, targetSize } from '../entries.ts';
import { measureHole, requireHole } from '../hole-wall.ts';
import { defineKind } from '../kind.ts';

/** Whole angle of the countersink of the hole whose wall is named, in degrees. */
export const countersinkAngle = defineKind({
  kind: 'countersink-angle',
  group: 'dimensions',
  quantity: 'angle',
  check: { ...plannedAngle, of: SurfaceNameSchema },
  target: { ...targetSize, faceIds: FaceIdsSchema },
  hangsOn: ['of'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({ faceIds: requireHole(check.of, context).wallIds, ...context.angle(check) }),
  measure: ({ faceIds }, context) =>
    measureHole(
      faceIds,
      ({ countersink }) =>
        countersink ? (countersink.angleRad * 180) / Math.PI : 'The hole has no countersink on the model.',
      context,
    ),
  marks: ({ faceIds }) => faceIds,
  drafting: ({ faceIds }) => ({ form: 'hole-note', faceIds, part: 'countersink-angle' }),
});
