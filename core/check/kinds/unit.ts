import { defineKind } from '../kind.ts';
import { ofWhole } from '../whole.ts';

/** The lengths are those of the drawing, whatever unit the file states. */
export const unit = defineKind({
  kind: 'unit',
  group: 'model-quality',
  quantity: 'yes-no',
  check: {},
  target: {},
  hangsOn: [],
  gives: null,
  judging: { by: 'value', wanted: 1 },
  prepare: () => ({}),
  measure: (_, { frame }) => ofWhole(frame.kind === 'scaled' ? 0 : 1),
  marks: () => [],
  nominalWords: 'yes',
});
