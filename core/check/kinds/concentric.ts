import { SurfaceNameSchema } from '#core/recipe';

import { FaceIdsSchema, plannedCoincidence, targetValue } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { axisDistance } from '../rulings.ts';

/** Distance between two axes that should be one. */
export const concentric = defineKind({
  kind: 'concentric',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedCoincidence, from: SurfaceNameSchema, to: SurfaceNameSchema },
  target: { ...targetValue, fromFaceIds: FaceIdsSchema, toFaceIds: FaceIdsSchema },
  hangsOn: ['from', 'to'],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({
    nominal: 0,
    tolerance: context.lengthMm(check.tolerance),
    fromFaceIds: context.faceIds(check.from),
    toFaceIds: context.faceIds(check.to),
  }),
  measure: ({ fromFaceIds, toFaceIds }, context) => context.between(fromFaceIds, toFaceIds, axisDistance(null)),
  marks: ({ fromFaceIds, toFaceIds }) => [...fromFaceIds, ...toFaceIds],
  picking: { label: 'two cylinders on one axis', fills: [{ field: 'from' }, { field: 'to' }] },
});
