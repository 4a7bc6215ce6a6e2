import * as v from 'valibot';

import { ExpressionSchema } from '#core/quantity';
import { Vec3Schema } from '#core/solid';
import { distance } from '#core/vector';

import { defineKind } from '../kind.ts';
import { uncertain } from '../rulings.ts';
import { ofWhole } from '../whole.ts';

/**
 * Distance of the center of mass from where it should be, mm: in the frame of the file, or of the part where a frame
 * check judges that by itself. A mirrored or scaled part has no frame of its own.
 */
export const centerOfMass = defineKind({
  kind: 'center-of-mass',
  group: 'properties',
  quantity: 'point',
  /** Tolerance in the drawing unit, as a distance. */
  check: { tolerance: ExpressionSchema },
  target: {
    nominalPoint: Vec3Schema,
    tolerance: v.number(),
    /** `file`, also where nothing is said: as the file has it; `part`: after the part was laid onto the reference. */
    frame: v.optional(v.picklist(['file', 'part'])),
  },
  hangsOn: [],
  gives: null,
  judging: { by: 'distance' },
  prepare: ({ tolerance }, { solid, lengthMm, checksFrame }) => ({
    nominalPoint: solid.estimate.centroidMm,
    tolerance: lengthMm(tolerance),
    frame: checksFrame ? ('part' as const) : ('file' as const),
  }),
  measure: ({ nominalPoint, frame = 'file' }, { submission: { estimate }, frame: { kind }, pointOnReference }) => {
    const own = estimate.centroidMm;
    const point = frame === 'file' || kind === 'mirrored' || kind === 'scaled' ? own : pointOnReference(own);
    return { ...ofWhole(distance(point, nominalPoint)), ...uncertain(estimate.centroidUncertaintyMm), point };
  },
  marks: () => [],
  tellsOf: 'frame',
});
