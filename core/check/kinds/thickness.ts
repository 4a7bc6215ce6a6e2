import { SurfaceNameSchema } from '#core/recipe';

import { FaceIdsSchema, plannedSize, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { wallThickness } from '../rulings.ts';

/** Of a wall between two flat surfaces that look away from each other. */
export const thickness = defineKind({
  kind: 'thickness',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, from: SurfaceNameSchema, to: SurfaceNameSchema },
  target: { ...targetSize, fromFaceIds: FaceIdsSchema, toFaceIds: FaceIdsSchema },
  hangsOn: ['from', 'to'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({
    ...context.size(check),
    fromFaceIds: context.faceIds(check.from),
    toFaceIds: context.faceIds(check.to),
  }),
  measure: ({ fromFaceIds, toFaceIds }, context) => context.between(fromFaceIds, toFaceIds, wallThickness),
  marks: ({ fromFaceIds, toFaceIds }) => [...fromFaceIds, ...toFaceIds],
  spanOfCheck: ({ from, to }) => ({ kind: 'between', from: { on: 'face', at: from }, to: { on: 'face', at: to } }),
  spanOfTarget: ({ fromFaceIds, toFaceIds }) => ({
    kind: 'between',
    from: { on: 'face', at: fromFaceIds },
    to: { on: 'face', at: toFaceIds },
  }),
  picking: { label: 'thickness of a wall', fills: [{ field: 'from' }, { field: 'to' }] },
});
