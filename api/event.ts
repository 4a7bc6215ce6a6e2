import * as v from 'valibot';

export const AttemptStateSchema = v.picklist(['waiting', 'running', 'graded', 'refused', 'given-back']);
export type AttemptState = v.InferOutput<typeof AttemptStateSchema>;

/** Sent to the page while an attempt is worked on. */
export const AttemptEventSchema = v.object({
  attemptId: v.number(),
  assignmentId: v.number(),
  state: AttemptStateSchema,
  stage: v.nullable(v.picklist(['reading', 'measuring', 'comparing', 'scoring'])),
});
export type AttemptEvent = v.InferOutput<typeof AttemptEventSchema>;
