import * as v from 'valibot';

import { ExpressionSchema } from '#core/quantity';
import { SurfaceNameSchema } from '#core/recipe';
import { SAME_DRILL_MM, SAME_SIZE_MM } from '#core/tolerance';

import { FaceIdsSchema, targetValue } from '../entries.ts';
import { requireHole } from '../hole-wall.ts';
import { defineKind } from '../kind.ts';

/** Number of holes with the diameter of a named one. */
export const holeCount = defineKind({
  kind: 'hole-count',
  group: 'features',
  quantity: 'count',
  check: { like: SurfaceNameSchema, nominal: ExpressionSchema },
  target: { ...targetValue, diameterMm: v.number(), faceIds: FaceIdsSchema },
  hangsOn: ['like'],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: (check, context) => {
    const { hole } = requireHole(check.like, context);
    const alike = context.holes().filter(({ diameterMm }) => Math.abs(diameterMm - hole.diameterMm) < SAME_SIZE_MM);
    return {
      nominal: context.number(check.nominal),
      tolerance: 0,
      diameterMm: hole.diameterMm,
      faceIds: alike.flatMap(({ faceIds }) => faceIds),
    };
  },
  measure: ({ diameterMm, faceIds }, context) => {
    // A partner of the wrong size is still that hole; one more of the right size is too many.
    const added = context
      .unpairedHoles()
      .filter((hole) => Math.abs(hole.diameterMm - diameterMm) < SAME_DRILL_MM + context.uncertaintyMm(hole.faceIds));
    const counted = [...context.holePartners(faceIds), ...added];
    return {
      measured: counted.length,
      faceIds: counted.flatMap((hole) => hole.faceIds),
      referenceFaceIds: faceIds,
    };
  },
  marks: ({ faceIds }) => faceIds,
  tellsOf: 'count-of-holes',
});
