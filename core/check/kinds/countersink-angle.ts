import type { Hole } from '#core/feature';
import { SurfaceNameSchema } from '#core/recipe';

import { plannedAngle, targetSize } from '../entries.ts';
import { holesLike, measureHoles, ofHoles } from '../hole-wall.ts';
import { defineKind } from '../kind.ts';
import type { OddHole } from '../measurement.ts';

const angleOf = ({ countersink }: Hole): number | OddHole =>
  countersink ? (countersink.angleRad * 180) / Math.PI : 'no-countersink';

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
  prepare: (check, context) => {
    const { hole: _, ...holes } = holesLike(check, angleOf, context);
    return { ...holes, ...context.angle(check) };
  },
  measure: (target, context) => measureHoles(target, angleOf, context),
  marks: ({ faceIds, like = [] }) => [...faceIds, ...like.flat()],
  drafting: ({ faceIds }) => ({ form: 'hole-note', faceIds, part: 'countersink-angle' }),
});
