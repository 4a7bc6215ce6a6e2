import { plannedPair, plannedSize, targetPair, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { facesOfPair, PAIR_FILLS, pairOf, spanOfFaces, spanOfNames } from '../pair.ts';
import { wallThickness } from '../rulings.ts';

/** Of a wall between two flat surfaces that look away from each other. */
export const thickness = defineKind({
  kind: 'thickness',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, ...plannedPair },
  target: { ...targetSize, ...targetPair },
  hangsOn: ['from', 'to'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({
    ...context.size(check),
    ...pairOf(check, context),
  }),
  measure: ({ fromFaceIds, toFaceIds }, context) => context.between(fromFaceIds, toFaceIds, wallThickness),
  marks: facesOfPair,
  spanOfCheck: spanOfNames('face'),
  spanOfTarget: spanOfFaces('face'),
  picking: { label: 'thickness of a wall', fills: PAIR_FILLS },
});
