import * as v from 'valibot';

import { OPERATIONS } from './operations/index.ts';

const OperationSchema = v.picklist(OPERATIONS);

/** How the part should have been built; judged by shape and list of build steps together. */
export const BuildRuleSchema = v.variant('kind', [
  v.strictObject({
    kind: v.literal('required'),
    operation: OperationSchema,
    /** Other operations that do as well: schools differ in how a round or a hole is made. */
    or: v.optional(v.pipe(v.array(OperationSchema), v.maxLength(OPERATIONS.length), v.readonly())),
  }),
  v.strictObject({ kind: v.literal('excluded'), operation: OperationSchema }),
  v.strictObject({
    kind: v.literal('most-steps'),
    count: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(100)),
  }),
  v.strictObject({ kind: v.literal('order'), first: OperationSchema, then: OperationSchema }),
  /** Through holes go through all, not to a fixed depth. */
  v.strictObject({ kind: v.literal('through') }),
  v.strictObject({ kind: v.literal('symmetry') }),
  v.strictObject({ kind: v.literal('one-body') }),
  /** With other values of its letters, the part is still right. */
  v.strictObject({ kind: v.literal('holds') }),
]);
export type BuildRule = Readonly<v.InferOutput<typeof BuildRuleSchema>>;
