import { SurfaceNameSchema } from '#core/recipe';

import { FaceIdsSchema } from '../entries.ts';
import { defineKind } from '../kind.ts';

/** Whether the feature that a surface belongs to is there at all. */
export const presence = defineKind({
  kind: 'presence',
  group: 'features',
  quantity: 'yes-no',
  check: { of: SurfaceNameSchema },
  target: { faceIds: FaceIdsSchema },
  hangsOn: ['of'],
  gives: null,
  judging: { by: 'value', wanted: 1 },
  prepare: (check, context) => ({ faceIds: context.faceIds(check.of) }),
  measure: ({ faceIds: referenceFaceIds }, context) => {
    const faceIds = context.partnerIds(referenceFaceIds);
    return faceIds.length > 0
      ? { measured: 1, faceIds, referenceFaceIds }
      : { measured: null, reason: 'It is not on the model.', faceIds, referenceFaceIds };
  },
  marks: ({ faceIds }) => faceIds,
  picking: { label: 'feature is there', fills: [{ field: 'of' }] },
  nominalWords: 'yes',
});
