import { plannedProperty, targetValue } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { uncertain } from '../rulings.ts';
import { ofWhole } from '../whole.ts';

/** In mm3. Of triangles, what the part would have if its facets were the curved surfaces that they stand for. */
export const volume = defineKind({
  kind: 'volume',
  group: 'properties',
  quantity: 'volume',
  check: plannedProperty,
  target: targetValue,
  hangsOn: [],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: ({ tolerancePercent }, { solid, property }) => property(solid.estimate.volumeMm3, tolerancePercent),
  measure: (_, { submission: { estimate } }) => ({
    ...ofWhole(estimate.volumeMm3),
    ...uncertain(estimate.volumeUncertaintyMm3),
  }),
  marks: () => [],
});
