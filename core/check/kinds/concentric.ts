import { plannedCoincidence, plannedPair, targetPair, targetValue } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { coincidenceOf, facesOfPair, PAIR_FILLS } from '../pair.ts';
import { axisDistance } from '../rulings.ts';

/** Distance between two axes that should be one. */
export const concentric = defineKind({
  kind: 'concentric',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedCoincidence, ...plannedPair },
  target: { ...targetValue, ...targetPair },
  hangsOn: ['from', 'to'],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: coincidenceOf,
  measure: ({ fromFaceIds, toFaceIds }, context) => context.between(fromFaceIds, toFaceIds, axisDistance(null)),
  marks: facesOfPair,
  picking: { label: 'two cylinders on one axis', fills: PAIR_FILLS },
  notAsDrawn: (value) => `the two axes, which the sheet draws as one, are ${value} apart`,
});
