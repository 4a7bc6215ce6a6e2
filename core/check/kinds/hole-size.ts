import * as v from 'valibot';

import type { Hole } from '#core/feature';
import { SurfaceNameSchema } from '#core/recipe';

import { plannedSize, targetSize } from '../entries.ts';
import { holesLike, measureHoles, ofHoles } from '../hole-wall.ts';
import { defineKind } from '../kind.ts';
import type { OddHole } from '../measurement.ts';

const HoleSizeSchema = v.picklist(['depth', 'counterbore-diameter', 'counterbore-depth', 'countersink-diameter']);
/** Sizes of a hole besides its diameter. */
export type HoleSize = v.InferOutput<typeof HoleSizeSchema>;

function sizeOf(
  { through, depthMm, counterbore, countersink }: Hole,
  size: HoleSize,
  blind: boolean,
): number | OddHole {
  switch (size) {
    case 'depth':
      return through && blind ? 'goes-through' : depthMm;
    case 'counterbore-diameter':
      return counterbore?.diameterMm ?? 'no-counterbore';
    case 'counterbore-depth':
      return counterbore?.depthMm ?? 'no-counterbore';
    case 'countersink-diameter':
      return countersink?.diameterMm ?? 'no-countersink';
  }
}

/** A size of the hole whose wall is named, and of those that are like it. */
export const holeSize = defineKind({
  kind: 'hole-size',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, of: SurfaceNameSchema, size: HoleSizeSchema },
  target: { ...targetSize, ...ofHoles, size: HoleSizeSchema, blind: v.optional(v.boolean()) },
  hangsOn: ['of', 'size'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => {
    const { hole, ...holes } = holesLike(check, (one) => sizeOf(one, check.size, false), context);
    const blind = check.size === 'depth' && !hole.through;
    return { ...holes, ...context.size(check), size: check.size, ...(blind ? { blind } : {}) };
  },
  measure: (target, context) =>
    measureHoles(target, (hole) => sizeOf(hole, target.size, target.blind === true), context),
  marks: ({ faceIds, like = [] }) => [...faceIds, ...like.flat()],
  chain: ({ faceIds, size }) =>
    size === 'depth'
      ? { depth: { faceIds, of: 'hole' } }
      : size === 'counterbore-depth'
        ? { depth: { faceIds, of: 'recess' } }
        : {},
  drafting: ({ faceIds, size }) => ({ form: 'hole-note', faceIds, part: size }),
});
