import { Vec3Schema, type Solid } from '#core/solid';
import { symmetricAxes, type Mat3, type Vec3 } from '#core/vector';

import { plannedProperty, targetValue } from '../entries.ts';
import { defineKind } from '../kind.ts';
import { uncertain } from '../rulings.ts';
import { ofWhole } from '../whole.ts';

/** The three principal moments of inertia for unit density, the smallest first, mm5. */
export function principalMoments(inertiaMm5: Mat3): Vec3 {
  const [a, b, c] = symmetricAxes(inertiaMm5).map(({ value }) => value);
  return [a ?? 0, b ?? 0, c ?? 0];
}

const momentsOf = ({ massProperties }: Solid): Vec3 => principalMoments(massProperties.inertiaMm5);

/** Largest deviation of one of the three, in percent. */
export const principalMomentsKind = defineKind({
  kind: 'principal-moments',
  group: 'properties',
  quantity: 'percent',
  check: plannedProperty,
  target: { ...targetValue, momentsMm5: Vec3Schema },
  hangsOn: [],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: ({ tolerancePercent }, { solid }) => ({
    nominal: 0,
    tolerance: tolerancePercent,
    momentsMm5: momentsOf(solid),
  }),
  measure: ({ momentsMm5 }, { submission }) => {
    const { massProperties, estimate } = submission;
    const own = momentsOf(submission);
    const percents = momentsMm5.map((nominal, i) => 100 * ((own[i] ?? 0) / nominal - 1));
    // The moments are those of the facets: they differ as the volumes do, times five thirds.
    const facetsMm3 = Math.abs(estimate.volumeMm3 - massProperties.volumeMm3) + estimate.volumeUncertaintyMm3;
    return {
      ...ofWhole(percents.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a), 0)),
      ...uncertain((500 / 3) * (facetsMm3 / Math.max(1e-9, estimate.volumeMm3))),
    };
  },
  marks: () => [],
  nominalWords: 'as the part',
});
