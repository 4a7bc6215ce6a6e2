import { massOf } from '#core/material';

import { plannedProperty, targetValue } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { uncertain } from '../rulings.ts';
import { ofWhole } from '../whole.ts';

/** Of the volume of the file in the material of the exercise, g. */
export const mass = defineKind({
  kind: 'mass',
  group: 'properties',
  quantity: 'mass',
  check: plannedProperty,
  target: targetValue,
  hangsOn: [],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: ({ tolerancePercent }, { solid, densityGPerCm3, property }) =>
    property(massOf(solid.estimate.volumeMm3, densityGPerCm3), tolerancePercent),
  measure: (_, { submission: { estimate }, densityGPerCm3 }) => ({
    ...ofWhole(massOf(estimate.volumeMm3, densityGPerCm3)),
    ...uncertain(massOf(estimate.volumeUncertaintyMm3, densityGPerCm3)),
  }),
  marks: () => [],
});
