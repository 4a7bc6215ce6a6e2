import { SurfaceNameSchema } from '#core/recipe';

import { plannedAngle, targetSize } from '../entries.ts';
import { holesLike, measureHoles, ofHoles } from '../hole-wall.ts';
import { defineKind } from '../kind.ts';

/** Whole angle of the countersink of the hole whose wall is named, and of those that are like it, in degrees. */
export const countersinkAngle = defineKind({
  kind: 'countersink-angle',
  group: 'dimensions',
  quantity: 'angle',
  check: { ...plannedAngle, of: SurfaceNameSchema },
  target: { ...targetSize, ...ofHoles },
  hangsOn: ['of'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({
    ...holesLike(check, context),
    ...context.angle(check),
  }),
  measure: (target, context) =>
    measureHoles(
      target,
      ({ countersink }) => (countersink ? (countersink.angleRad * 180) / Math.PI : 'no-countersink'),
      context,
    ),
  marks: ({ faceIds, like = [] }) => [...faceIds, ...like.flat()],
  drafting: ({ faceIds }) => ({ form: 'hole-note', faceIds, part: 'countersink-angle' }),
});
