import { plannedCoincidence, plannedPair, targetPair, targetValue } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { coincidenceOf, facesOfPair, PAIR_FILLS } from '../pair.ts';
import { planeDistance } from '../rulings.ts';

/** Step between two flat surfaces that should lie in one plane. */
export const flush = defineKind({
  kind: 'flush',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedCoincidence, ...plannedPair },
  target: { ...targetValue, ...targetPair },
  hangsOn: ['from', 'to'],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: coincidenceOf,
  measure: ({ fromFaceIds, toFaceIds }, context) => context.between(fromFaceIds, toFaceIds, planeDistance),
  marks: facesOfPair,
  picking: { label: 'two surfaces flush', fills: PAIR_FILLS },
});
