import { MembersSchema, plannedSize, SurfaceNamesSchema, targetSize } from '../entries.ts';
import { measureMembers } from '../circular.ts';
import { defineKind } from '../kind.ts';
import { membersOf } from '../pair.ts';

/** Of cylindrical walls that share one dimension; the worst of them counts. */
export const radius = defineKind({
  kind: 'radius',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, of: SurfaceNamesSchema },
  target: { ...targetSize, members: MembersSchema },
  hangsOn: ['of'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => ({ ...context.size(check), members: membersOf(check.of, context) }),
  measure: (target, context) => measureMembers(target, 1, context),
  marks: ({ members }) => members.flat(),
  chain: ({ members }) => ({ sized: members.flat() }),
  drafting: ({ members }) => ({ form: 'circular', sign: 'R', members }),
  picking: { label: 'radius', fills: [{ field: 'of', list: true }] },
  tellsOf: 'radius',
});
