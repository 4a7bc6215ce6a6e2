import * as v from 'valibot';

import { OverrideSchema } from '#core/grade';
import { Vec3Schema } from '#core/solid';

const TextSchema = v.pipe(
  v.string(),
  v.trim(),
  v.minLength(1, 'Write something first.'),
  v.maxLength(1000, 'At most 1000 characters.'),
);

/** Where a remark points to. */
export const PinSchema = v.variant('on', [
  /** A point of the model that was handed in, in the mm of its file. */
  v.strictObject({ on: v.literal('model'), at: Vec3Schema }),
  /** A point of a page of the sheet, in mm from its upper left corner. */
  v.strictObject({
    on: v.literal('sheet'),
    page: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(50)),
    at: v.pipe(v.tuple([v.number(), v.number()]), v.readonly()),
  }),
]);
export type Pin = v.InferOutput<typeof PinSchema>;

export const RemarkSchema = v.object({
  id: v.number(),
  text: v.string(),
  pin: v.nullable(PinSchema),
  by: v.string(),
  at: v.string(),
});
export type Remark = v.InferOutput<typeof RemarkSchema>;

export const ReplySchema = v.object({
  id: v.number(),
  text: v.string(),
  /** The student asks for another look. */
  wantsLook: v.boolean(),
  at: v.string(),
  answer: v.nullable(v.string()),
  answeredBy: v.nullable(v.string()),
});
export type Reply = v.InferOutput<typeof ReplySchema>;

/** What an instructor made of an attempt, and what was said about it. */
export const ReviewSchema = v.object({
  /** Counts every change; a change names the one that it was made on. */
  version: v.number(),
  acceptedAt: v.nullable(v.string()),
  acceptedBy: v.nullable(v.string()),
  /** Whether the student may read the report. */
  released: v.boolean(),
  remarks: v.array(RemarkSchema),
  replies: v.array(ReplySchema),
});
export type Review = v.InferOutput<typeof ReviewSchema>;

/** One change of a review. */
export const ReviewActionSchema = v.variant('kind', [
  v.strictObject({
    kind: v.literal('override'),
    lineId: v.pipe(v.string(), v.maxLength(60)),
    credit: OverrideSchema.entries.credit,
    reason: OverrideSchema.entries.reason,
  }),
  v.strictObject({ kind: v.literal('restore'), lineId: v.pipe(v.string(), v.maxLength(60)) }),
  v.strictObject({ kind: v.literal('remark'), text: TextSchema, pin: v.nullable(PinSchema) }),
  v.strictObject({ kind: v.literal('remove-remark'), remarkId: v.number() }),
  v.strictObject({ kind: v.literal('accept') }),
  v.strictObject({ kind: v.literal('reopen') }),
  v.strictObject({ kind: v.literal('release') }),
  v.strictObject({ kind: v.literal('hold-back') }),
  /** The attempt is as if it had not been made: it counts nothing, and may be made once more. */
  v.strictObject({ kind: v.literal('give-back'), reason: TextSchema }),
  v.strictObject({ kind: v.literal('count-again') }),
  v.strictObject({ kind: v.literal('answer'), replyId: v.number(), text: TextSchema }),
]);
export type ReviewAction = v.InferOutput<typeof ReviewActionSchema>;
export const ReviewChangeSchema = v.strictObject({ version: v.number(), action: ReviewActionSchema });
export type ReviewChange = v.InferOutput<typeof ReviewChangeSchema>;

/** The same for several attempts of an assignment; fields of the remark are filled for each. */
export const GroupReviewSchema = v.strictObject({
  attemptIds: v.pipe(v.array(v.number()), v.minLength(1, 'Choose at least one attempt.'), v.maxLength(2000)),
  action: v.variant('kind', [
    v.strictObject({ kind: v.literal('accept') }),
    v.strictObject({ kind: v.literal('release') }),
    v.strictObject({ kind: v.literal('remark'), text: TextSchema }),
  ]),
});
export type GroupReview = v.InferOutput<typeof GroupReviewSchema>;
export const GroupReviewedSchema = v.object({ changed: v.number() });

export const CollectedRemarkSchema = v.object({ id: v.number(), text: v.string() });
export type CollectedRemark = v.InferOutput<typeof CollectedRemarkSchema>;
export const RemarkCollectionSchema = v.object({ remarks: v.array(CollectedRemarkSchema) });
export const NewCollectedRemarkSchema = v.strictObject({ text: TextSchema });

export const NewReplySchema = v.strictObject({ text: TextSchema, wantsLook: v.boolean() });
export type NewReply = v.InferOutput<typeof NewReplySchema>;

/** A student's reply that waits for an answer. */
export const RequestSchema = v.object({
  replyId: v.number(),
  attemptId: v.number(),
  student: v.string(),
  exerciseNumber: v.string(),
  exerciseTitle: v.string(),
  section: v.string(),
  course: v.string(),
  text: v.string(),
  wantsLook: v.boolean(),
  at: v.string(),
});
export type Request = v.InferOutput<typeof RequestSchema>;
