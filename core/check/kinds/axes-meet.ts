import { axisOf } from '#core/solid';
import { MEASURED_PARALLEL_SINE } from '#core/tolerance';
import { cross, distanceBetweenLines, length } from '#core/vector';

import { plannedCoincidence, plannedPair, targetPair, targetValue } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { coincidenceOf, facesOfPair, PAIR_FILLS } from '../pair.ts';

/** How far two axes that should cross pass by each other: a hole through the middle of a shaft. */
export const axesMeet = defineKind({
  kind: 'axes-meet',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedCoincidence, ...plannedPair },
  target: { ...targetValue, ...targetPair },
  hangsOn: ['from', 'to'],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: coincidenceOf,
  measure: ({ fromFaceIds, toFaceIds }, context) =>
    context.between(fromFaceIds, toFaceIds, (from, to) => {
      const [a, b] = [axisOf(from.surface), axisOf(to.surface)];
      if (a === null || b === null) return 'What it is measured on is not round on the model.';
      if (length(cross(a.direction, b.direction)) < MEASURED_PARALLEL_SINE)
        return 'The two axes are parallel on the model.';
      return distanceBetweenLines(a.origin, a.direction, b.origin, b.direction);
    }),
  marks: facesOfPair,
  picking: { label: 'two axes that cross', fills: PAIR_FILLS },
  notAsDrawn: (value) => `the two axes, which cross on the sheet, pass each other by ${value}`,
});
