import { AXIS_INDEX, AxisIndexSchema, AxisNameSchema } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { UNIT_VECTORS } from '../rulings.ts';

/** Whether the part is symmetric about the plane through its center of mass that is square to an axis of the part. */
export const symmetric = defineKind({
  kind: 'symmetric',
  group: 'features',
  quantity: 'yes-no',
  check: { axis: AxisNameSchema },
  target: { axis: AxisIndexSchema },
  hangsOn: ['axis'],
  gives: null,
  judging: { by: 'value', wanted: 1 },
  prepare: ({ axis }) => ({ axis: AXIS_INDEX[axis] }),
  measure: ({ axis }, context) => {
    const { centroidMm } = context.submission.massProperties;
    const holds = context.isSymmetric(centroidMm, context.directionInFile(UNIT_VECTORS[axis]));
    return { measured: holds ? 1 : 0, faceIds: [], referenceFaceIds: [] };
  },
  marks: () => [],
  nominalWords: 'yes',
  notAsDrawn: () => 'the sheet draws it so, and the model is not',
});
