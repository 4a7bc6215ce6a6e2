import { defineKind } from '../kind.ts';

/** Every face of the model lies on a surface that the part has too: no hole, wall or round is there that the sheet does not show. */
export const nothingElse = defineKind({
  kind: 'nothing-else',
  group: 'features',
  quantity: 'count',
  check: {},
  target: {},
  hangsOn: [],
  gives: null,
  judging: { by: 'value', wanted: 0 },
  prepare: () => ({}),
  measure: (_, context) => {
    const faceIds = context.foreignFaces().map(({ id }) => id);
    return { measured: faceIds.length, faceIds, referenceFaceIds: [] };
  },
  marks: () => [],
  nominalWords: 'none',
});
