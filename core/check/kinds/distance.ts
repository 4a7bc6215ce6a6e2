import { plannedPair, plannedSize, targetPair, targetSize } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { facesOfPair, PAIR_FILLS, pairOf, spanOfFaces, spanOfNames } from '../pair.ts';
import { planeDistance } from '../rulings.ts';

/** Between two parallel flat surfaces. */
export const distance = defineKind({
  kind: 'distance',
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
  measure: ({ fromFaceIds, toFaceIds }, context) => context.between(fromFaceIds, toFaceIds, planeDistance),
  marks: facesOfPair,
  spanOfCheck: spanOfNames('face'),
  spanOfTarget: spanOfFaces('face'),
  chain: (target) => ({ directed: facesOfPair(target) }),
  picking: { label: 'distance between two flat surfaces', fills: PAIR_FILLS },
});
