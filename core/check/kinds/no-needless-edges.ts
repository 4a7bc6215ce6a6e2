import { defineKind } from '../kind.ts';
import { ofWhole } from '../whole.ts';

/** Warnings of a model that say a face is cut in two without need, or is a sliver. */
const NEEDLESS = new Set(['split-faces', 'sliver-faces', 'tiny-edges']);

/** No face is cut in two without need, none is a sliver. */
export const noNeedlessEdges = defineKind({
  kind: 'no-needless-edges',
  group: 'model-quality',
  quantity: 'count',
  check: {},
  target: {},
  hangsOn: [],
  gives: null,
  judging: { by: 'value', wanted: 0 },
  prepare: () => ({}),
  measure: (_, { submission }) => ofWhole(submission.warnings.filter(({ code }) => NEEDLESS.has(code)).length),
  marks: () => [],
  nominalWords: 'none',
});
