import * as v from 'valibot';

import { FEATURE_KINDS } from '#core/feature';
import { ExpressionSchema } from '#core/quantity';

import { targetValue } from '../entries.ts';
import { defineKind } from '../kind.ts';

/** Number of features of a kind on the whole part. */
export const featureCount = defineKind({
  kind: 'feature-count',
  group: 'features',
  quantity: 'count',
  check: { feature: v.picklist(FEATURE_KINDS), nominal: ExpressionSchema },
  target: { ...targetValue, feature: v.picklist(FEATURE_KINDS) },
  hangsOn: ['feature'],
  gives: null,
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({ nominal: context.number(check.nominal), tolerance: 0, feature: check.feature }),
  measure: ({ feature }, context) => {
    const found = context.features().filter(({ kind }) => kind === feature);
    return { measured: found.length, faceIds: found.flatMap(({ faceIds }) => faceIds), referenceFaceIds: [] };
  },
  marks: () => [],
});
