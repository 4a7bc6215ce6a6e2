import { plannedProperty, targetValue } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { uncertain } from '../rulings.ts';
import { ofWhole } from '../whole.ts';

/** Of all faces, mm2. Of triangles, what the part would have if its facets were the curved surfaces that they stand for. */
export const area = defineKind({
  kind: 'area',
  group: 'properties',
  quantity: 'area',
  check: plannedProperty,
  target: targetValue,
  hangsOn: [],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: ({ tolerancePercent }, { solid, property }) => property(solid.estimate.areaMm2, tolerancePercent),
  measure: (_, { submission: { estimate } }) => ({
    ...ofWhole(estimate.areaMm2),
    ...uncertain(estimate.areaUncertaintyMm2),
  }),
  marks: () => [],
});
