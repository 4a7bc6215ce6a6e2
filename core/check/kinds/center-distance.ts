import * as v from 'valibot';

import {
  AXIS_INDEX,
  AxisIndexSchema,
  AxisNameSchema,
  plannedPair,
  plannedSize,
  targetPair,
  targetSize,
} from '../entries.ts';
import { defineKind } from '../kind.ts';
import { facesOfPair, PAIR_FILLS, pairOf, spanOfFaces, spanOfNames } from '../pair.ts';
import { axisDistance, UNIT_VECTORS } from '../rulings.ts';

/** Between two parallel axes; with `along`, as it is seen along that axis of the part. */
export const centerDistance = defineKind({
  kind: 'center-distance',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, ...plannedPair, along: v.optional(AxisNameSchema) },
  target: {
    ...targetSize,
    ...targetPair,
    along: v.optional(AxisIndexSchema),
  },
  hangsOn: ['from', 'to', 'along'],
  gives: 'place',
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({
    ...context.size(check),
    ...pairOf(check, context),
    ...(check.along === undefined ? {} : { along: AXIS_INDEX[check.along] }),
  }),
  measure: ({ fromFaceIds, toFaceIds, along }, context) =>
    context.between(
      fromFaceIds,
      toFaceIds,
      axisDistance(along === undefined ? null : context.directionInFile(UNIT_VECTORS[along])),
    ),
  marks: facesOfPair,
  spanOfCheck: (check) => ({
    ...spanOfNames('axis')(check),
    ...(check.along === undefined ? {} : { along: AXIS_INDEX[check.along] }),
  }),
  spanOfTarget: (target) => ({
    ...spanOfFaces('axis')(target),
    ...(target.along === undefined ? {} : { along: target.along }),
  }),
  picking: { label: 'distance of two axes', fills: PAIR_FILLS },
});
