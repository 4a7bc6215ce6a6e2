import { SurfaceNameSchema } from '#core/recipe';

import { FaceIdsSchema, plannedCoincidence, targetValue } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { planeDistance } from '../rulings.ts';

/** Step between two flat surfaces that should lie in one plane. */
export const flush = defineKind({
  kind: 'flush',
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
  measure: ({ fromFaceIds, toFaceIds }, context) => context.between(fromFaceIds, toFaceIds, planeDistance),
  marks: ({ fromFaceIds, toFaceIds }) => [...fromFaceIds, ...toFaceIds],
  picking: { label: 'two surfaces flush', fills: [{ field: 'from' }, { field: 'to' }] },
});
