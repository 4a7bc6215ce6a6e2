import * as v from 'valibot';

import { MistakeKindSchema } from '#core/cause';
import { EditSchema } from './edit.ts';

/** One mistake that a student can make in a part: what it changes, how likely it is, and how it is said. */
export const MistakeSchema = v.object({
  /** Unique within the part. */
  id: v.string(),
  kind: MistakeKindSchema,
  /** Weight in relation to the other mistakes of the part. */
  prior: v.number(),
  edits: v.pipe(v.array(EditSchema), v.minLength(1), v.readonly()),
  /** The expression that has another value: as it stands in the recipe, or the name of the letter. */
  expression: v.nullable(v.string()),
  /** Steps that it is made in. */
  stepIds: v.pipe(v.array(v.string()), v.readonly()),
  /** A sentence for the student, in the words and numbers of the exercise. */
  message: v.string(),
  /** What it is made in, as the student calls it. */
  about: v.optional(v.string()),
  /** Of a size that is another than the sheet gives: how that may have come. */
  why: v.optional(v.string()),
  /** Of a size: what it became, and from what, in mm or degrees as a check measures it; a place, by how much it moved. */
  becomes: v.optional(
    v.variant('kind', [
      v.object({ kind: v.literal('size'), from: v.number(), to: v.number() }),
      v.object({ kind: v.literal('place'), byMm: v.number() }),
    ]),
  ),
  /** A few words for the instructor. */
  summary: v.string(),
  /** Many sizes give this shape: of mistakes with one shape it stands for all, since nothing shows which size it was. */
  ofAnySize: v.optional(v.literal(true)),
});
export type Mistake = Readonly<v.InferOutput<typeof MistakeSchema>>;
