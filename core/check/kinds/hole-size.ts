import * as v from 'valibot';

import type { Hole } from '#core/feature';
import { SurfaceNameSchema } from '#core/recipe';

import { FaceIdsSchema, plannedSize, targetSize } from '../entries.ts';
import { measureHole, requireHole } from '../hole-wall.ts';
import { defineKind, type Ruling } from '../kind.ts';

const HoleSizeSchema = v.picklist(['depth', 'counterbore-diameter', 'counterbore-depth', 'countersink-diameter']);
/** Sizes of a hole besides its diameter. */
export type HoleSize = v.InferOutput<typeof HoleSizeSchema>;

const NO_COUNTERBORE = 'The hole has no counterbore on the model.';

function sizeOf({ depthMm, counterbore, countersink }: Hole, size: HoleSize): Ruling {
  switch (size) {
    case 'depth':
      return depthMm;
    case 'counterbore-diameter':
      return counterbore?.diameterMm ?? NO_COUNTERBORE;
    case 'counterbore-depth':
      return counterbore?.depthMm ?? NO_COUNTERBORE;
    case 'countersink-diameter':
      return countersink?.diameterMm ?? 'The hole has no countersink on the model.';
  }
}

/** A size of the hole whose wall is named. */
export const holeSize = defineKind({
  kind: 'hole-size',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, of: SurfaceNameSchema, size: HoleSizeSchema },
  target: { ...targetSize, faceIds: FaceIdsSchema, size: HoleSizeSchema },
  hangsOn: ['of', 'size'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({
    faceIds: requireHole(check.of, context).wallIds,
    ...context.size(check),
    size: check.size,
  }),
  measure: ({ faceIds, size }, context) => measureHole(faceIds, (hole) => sizeOf(hole, size), context),
  marks: ({ faceIds }) => faceIds,
  chain: ({ faceIds, size }) =>
    size === 'depth'
      ? { depth: { faceIds, of: 'hole' } }
      : size === 'counterbore-depth'
        ? { depth: { faceIds, of: 'recess' } }
        : {},
  drafting: ({ faceIds, size }) => ({ form: 'hole-note', faceIds, part: size }),
});
