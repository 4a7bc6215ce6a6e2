import { SurfaceNameSchema } from '#core/recipe';

import { FaceIdsSchema, plannedSize, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { uncertain } from '../rulings.ts';

/** What the chamfer between two surfaces takes off the first of them. */
export const chamferSize = defineKind({
  kind: 'chamfer-size',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, on: SurfaceNameSchema, to: SurfaceNameSchema },
  /** Faces of the chamfer, and of the surface that it is measured on. */
  target: { ...targetSize, faceIds: FaceIdsSchema, onFaceIds: FaceIdsSchema },
  hangsOn: ['on', 'to'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => {
    const [on, to] = [context.faceIds(check.on), context.faceIds(check.to)];
    const chamfer = context
      .chamfers()
      .find(({ onFaceIds: [a, b] }) => (on.includes(a) && to.includes(b)) || (on.includes(b) && to.includes(a)));
    return chamfer === undefined
      ? context.refuse(`there is no chamfer between "${check.on}" and "${check.to}".`)
      : { ...context.size(check), faceIds: chamfer.faceIds, onFaceIds: on };
  },
  measure: ({ faceIds: referenceFaceIds, onFaceIds }, context) => {
    const chamfer = context.chamferPartner(referenceFaceIds);
    const about = { faceIds: chamfer?.faceIds ?? [], referenceFaceIds };
    if (chamfer === null) return { ...about, measured: null, reason: 'The chamfer is not on the model.' };
    const on = context.partnerIds(onFaceIds);
    const [firstFaceId, secondFaceId] = chamfer.onFaceIds;
    const [firstMm, secondMm] = chamfer.sizesMm;
    return {
      ...about,
      measured: on.includes(secondFaceId) && !on.includes(firstFaceId) ? secondMm : firstMm,
      ...uncertain(2 * context.uncertaintyMm(chamfer.faceIds)),
    };
  },
  marks: ({ faceIds, onFaceIds }) => [...faceIds, ...onFaceIds],
  chain: ({ faceIds }) => ({ sized: faceIds, chamfered: faceIds, directed: faceIds }),
  drafting: ({ faceIds, onFaceIds }) => ({ form: 'chamfer', faceIds, onFaceIds }),
});
