/** A student's own way through a term. */
import * as v from 'valibot';

import { CauseKindSchema } from '#core/cause';
import { TOPICS } from '#core/reading';

/** What the reports of a student tell, attempt by attempt, the oldest first. */
export const ProgressSchema = v.object({
  attempts: v.array(
    v.object({
      attemptId: v.number(),
      exercise: v.string(),
      at: v.string(),
      /** Null as long as it is not told. */
      score: v.nullable(v.number()),
      /** Probable causes, as far as the report tells them. */
      causes: v.array(v.object({ kind: CauseKindSchema, name: v.string(), message: v.string() })),
    }),
  ),
  /** By the student's own time logs, the exercise begun last first. */
  times: v.array(
    v.object({
      assignmentId: v.number(),
      exercise: v.string(),
      minutes: v.number(),
      /** Of all stages that have one; null where nothing was thought before. */
      estimateMinutes: v.nullable(v.number()),
    }),
  ),
  reading: v.array(
    v.object({
      topic: v.picklist(TOPICS),
      answers: v.number(),
      right: v.number(),
      /** When it is asked for again. */
      dueAt: v.nullable(v.string()),
    }),
  ),
});
export type Progress = v.InferOutput<typeof ProgressSchema>;
