import { AXIS_INDEX, AxisIndexSchema, AxisNameSchema, plannedSize, targetSize } from '../entries.ts';
import { extremeFaceIds } from '../extreme-faces.ts';
import { defineKind } from '../kind.ts';
import { uncertain, UNIT_VECTORS } from '../rulings.ts';

/** Largest extent of the part along an axis of its own frame. */
export const overallSize = defineKind({
  kind: 'overall-size',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, axis: AxisNameSchema },
  target: { ...targetSize, axis: AxisIndexSchema },
  hangsOn: ['axis'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({ ...context.size(check), axis: AXIS_INDEX[check.axis] }),
  measure: ({ axis }, context) => {
    const direction = context.directionInFile(UNIT_VECTORS[axis]);
    const faceIds = extremeFaceIds(context.submission, direction);
    return {
      measured: context.extentMm(direction),
      ...uncertain(context.uncertaintyMm(faceIds)),
      faceIds,
      referenceFaceIds: [],
    };
  },
  marks: () => [],
  spanOfCheck: ({ axis }) => ({ kind: 'extent', axis: AXIS_INDEX[axis] }),
  spanOfTarget: ({ axis }) => ({ kind: 'extent', axis }),
});
