import * as v from 'valibot';

import { SurfaceNameSchema } from '#core/recipe';

import { AXIS_INDEX, AxisIndexSchema, AxisNameSchema, FaceIdsSchema, plannedSize, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { axisDistance, UNIT_VECTORS } from '../rulings.ts';

/** Between two parallel axes; with `along`, as it is seen along that axis of the part. */
export const centerDistance = defineKind({
  kind: 'center-distance',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, from: SurfaceNameSchema, to: SurfaceNameSchema, along: v.optional(AxisNameSchema) },
  target: {
    ...targetSize,
    fromFaceIds: FaceIdsSchema,
    toFaceIds: FaceIdsSchema,
    along: v.optional(AxisIndexSchema),
  },
  hangsOn: ['from', 'to', 'along'],
  gives: 'place',
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({
    ...context.size(check),
    fromFaceIds: context.faceIds(check.from),
    toFaceIds: context.faceIds(check.to),
    ...(check.along === undefined ? {} : { along: AXIS_INDEX[check.along] }),
  }),
  measure: ({ fromFaceIds, toFaceIds, along }, context) =>
    context.between(
      fromFaceIds,
      toFaceIds,
      axisDistance(along === undefined ? null : context.directionInFile(UNIT_VECTORS[along])),
    ),
  marks: ({ fromFaceIds, toFaceIds }) => [...fromFaceIds, ...toFaceIds],
  spanOfCheck: ({ from, to, along }) => ({
    kind: 'between',
    from: { on: 'axis', at: from },
    to: { on: 'axis', at: to },
    ...(along === undefined ? {} : { along: AXIS_INDEX[along] }),
  }),
  spanOfTarget: ({ fromFaceIds, toFaceIds, along }) => ({
    kind: 'between',
    from: { on: 'axis', at: fromFaceIds },
    to: { on: 'axis', at: toFaceIds },
    ...(along === undefined ? {} : { along }),
  }),
  picking: { label: 'distance of two axes', fills: [{ field: 'from' }, { field: 'to' }] },
});
