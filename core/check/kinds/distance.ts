import { SurfaceNameSchema } from '#core/recipe';

import { FaceIdsSchema, plannedSize, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { planeDistance } from '../rulings.ts';

/** Between two parallel flat surfaces. */
export const distance = defineKind({
  kind: 'distance',
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
  measure: ({ fromFaceIds, toFaceIds }, context) => context.between(fromFaceIds, toFaceIds, planeDistance),
  marks: ({ fromFaceIds, toFaceIds }) => [...fromFaceIds, ...toFaceIds],
  spanOfCheck: ({ from, to }) => ({ kind: 'between', from: { on: 'face', at: from }, to: { on: 'face', at: to } }),
  spanOfTarget: ({ fromFaceIds, toFaceIds }) => ({
    kind: 'between',
    from: { on: 'face', at: fromFaceIds },
    to: { on: 'face', at: toFaceIds },
  }),
  chain: ({ fromFaceIds, toFaceIds }) => ({ directed: [...fromFaceIds, ...toFaceIds] }),
  picking: { label: 'distance between two flat surfaces', fills: [{ field: 'from' }, { field: 'to' }] },
});
