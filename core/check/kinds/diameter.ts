import * as v from 'valibot';

import { MembersSchema, plannedSize, SurfaceNamesSchema, targetSize } from '../entries.ts';
import { measureMembers } from '../circular.ts';
import { areCounted } from '../hole-wall.ts';
import { defineKind } from '../kind.ts';
import { membersOf } from '../pair.ts';

/** Of holes or shafts that share one dimension; the worst of them counts. */
export const diameter = defineKind({
  kind: 'diameter',
  group: 'dimensions',
  quantity: 'length',
  check: { ...plannedSize, of: SurfaceNamesSchema },
  target: { ...targetSize, members: MembersSchema, counted: v.optional(v.boolean()) },
  hangsOn: ['of'],
  gives: 'size',
  judging: { by: 'tolerance' },
  prepare: (check, context) => {
    const size = context.size(check);
    const members = membersOf(check.of, context);
    return { ...size, members, ...(areCounted(members, size.nominal, context) ? { counted: true } : {}) };
  },
  measure: (target, context) => measureMembers(target, 2, context),
  marks: ({ members }) => members.flat(),
  chain: ({ members }) => ({ sized: members.flat() }),
  drafting: ({ members }) => ({ form: 'circular', sign: '⌀', members }),
  picking: { label: 'diameter', fills: [{ field: 'of', list: true }] },
  tellsOf: 'diameter',
});
