import { defineKind } from '../kind.ts';
import { ofWhole } from '../whole.ts';

/** The part lies where the sheet puts it. With this check, the center of mass is judged in the frame of the part. */
export const frame = defineKind({
  kind: 'frame',
  group: 'model-quality',
  quantity: 'yes-no',
  check: {},
  target: {},
  hangsOn: [],
  gives: null,
  judging: { by: 'value', wanted: 1 },
  prepare: () => ({}),
  measure: (_, { frame: { kind } }) => ofWhole(kind === 'as-modeled' || kind === 'scaled' ? 1 : 0),
  marks: () => [],
  nominalWords: 'yes',
  tellsOf: 'frame',
});
