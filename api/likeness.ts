import * as v from 'valibot';

import { LIKENESS_KINDS } from '#core/likeness';

/** Hand-ins of an assignment that are alike in a way that chance does not explain: evidence beside each other, no verdict. */
export const LikenessSchema = v.object({
  /** Hand-ins that were compared: the newest measured one of each student and stage. */
  looked: v.number(),
  /** Of these, wrong ones whose cause is still looked for: they are compared when it is known. */
  pending: v.number(),
  pairs: v.array(
    v.object({
      kind: v.picklist(LIKENESS_KINDS),
      attempts: v.array(v.object({ id: v.number(), student: v.string() })),
      words: v.array(v.string()),
    }),
  ),
  /** Files that were written more than a day before the exercise was open. */
  older: v.array(v.object({ attemptId: v.number(), student: v.string(), writtenAt: v.string() })),
});
export type LikenessAnswer = v.InferOutput<typeof LikenessSchema>;
