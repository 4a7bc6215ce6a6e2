import { defineKind } from '../kind.ts';
import { ofWhole } from '../whole.ts';

/** The model is one closed body. */
export const singleBody = defineKind({
  kind: 'single-body',
  group: 'model-quality',
  quantity: 'count',
  check: {},
  target: {},
  hangsOn: [],
  gives: null,
  judging: { by: 'value', wanted: 1 },
  prepare: () => ({}),
  measure: (_, { submission }) => ofWhole(submission.bodies),
  marks: () => [],
  nominalWords: '1 body',
  afterwards: ({ closed }) => ({ fails: !closed }),
  tellsOf: 'bodies',
});
