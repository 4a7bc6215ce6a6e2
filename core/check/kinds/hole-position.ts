import { SurfaceNameSchema } from '#core/recipe';

import { FaceIdsSchema, plannedSize, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { planeToAxis } from '../rulings.ts';

/** From a flat surface to the axis of a hole or shaft. */
export const holePosition = defineKind({
  kind: 'hole-position',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, of: SurfaceNameSchema, from: SurfaceNameSchema },
  target: { ...targetSize, faceIds: FaceIdsSchema, fromFaceIds: FaceIdsSchema },
  hangsOn: ['of', 'from'],
  gives: 'place',
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({
    ...context.size(check),
    faceIds: context.faceIds(check.of),
    fromFaceIds: context.faceIds(check.from),
  }),
  measure: ({ faceIds, fromFaceIds }, context) => context.between(fromFaceIds, faceIds, planeToAxis),
  marks: ({ faceIds, fromFaceIds }) => [...faceIds, ...fromFaceIds],
  spanOfCheck: ({ of, from }) => ({ kind: 'between', from: { on: 'face', at: from }, to: { on: 'axis', at: of } }),
  spanOfTarget: ({ faceIds, fromFaceIds }) => ({
    kind: 'between',
    from: { on: 'face', at: fromFaceIds },
    to: { on: 'axis', at: faceIds },
  }),
  picking: { label: 'hole, then surface it is measured from', fills: [{ field: 'of' }, { field: 'from' }] },
});
