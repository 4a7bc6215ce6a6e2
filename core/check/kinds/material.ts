import { plannedProperty, targetValue } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { ofWhole } from '../whole.ts';

/** The typed mass and the volume of the file give the density of the exercise's material, g/cm3. */
export const material = defineKind({
  kind: 'material',
  group: 'properties',
  quantity: 'density',
  check: plannedProperty,
  target: targetValue,
  hangsOn: [],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: ({ tolerancePercent }, { densityGPerCm3, property }) => property(densityGPerCm3, tolerancePercent),
  // The typed mass is not part of the model.
  measure: () => ofWhole(null),
  marks: () => [],
  afterwards: ({ typedDensityGPerCm3 }) => ({
    measured: typedDensityGPerCm3,
    ...(typedDensityGPerCm3 === null ? { reason: 'No mass was typed.' } : {}),
  }),
});
