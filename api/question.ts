/** Questions about a sheet before anything is handed in, and errata: what is wrong on a sheet that was issued. */
import * as v from 'valibot';

import { PaperPointSchema } from './practice.ts';

const Text = (empty: string) => v.pipe(v.string(), v.trim(), v.minLength(1, empty), v.maxLength(1000));
const StageSchema = v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(99));

/** What a student asks. */
export const NewQuestionSchema = v.strictObject({
  stage: StageSchema,
  text: Text('Write what you want to know.'),
  /** Where on the sheet; null for no place. */
  place: v.nullable(PaperPointSchema),
});
export type NewQuestion = v.InferOutput<typeof NewQuestionSchema>;

export const AnswerQuestionSchema = v.strictObject({
  answer: Text('Write an answer.'),
  /** Whether everybody with the exercise reads question and answer, without the name of who asked. */
  toAll: v.boolean(),
});
export type AnswerQuestion = v.InferOutput<typeof AnswerQuestionSchema>;

/** What staff says of a sheet: the same as a question, told to all. */
export const NewErratumSchema = v.strictObject({
  stage: StageSchema,
  text: Text('Write what is wrong on the sheet, and how it should be.'),
  place: v.nullable(PaperPointSchema),
});
export type NewErratum = v.InferOutput<typeof NewErratumSchema>;

const asked = {
  id: v.number(),
  stage: v.number(),
  text: v.string(),
  /** Null for none, or where the sheet of whoever reads it is another one. */
  place: v.nullable(PaperPointSchema),
  at: v.string(),
  answer: v.nullable(v.string()),
  answeredBy: v.nullable(v.string()),
  answeredAt: v.nullable(v.string()),
  toAll: v.boolean(),
  /** Of a sheet that was replaced by a corrected one since. */
  isEarlier: v.boolean(),
};

/** A question as students read it: their own, or one that was answered for all. */
export const AskedQuestionSchema = v.object({ ...asked, own: v.boolean() });
export type AskedQuestion = v.InferOutput<typeof AskedQuestionSchema>;

export const ErratumSchema = v.object({
  id: v.number(),
  stage: v.number(),
  text: v.string(),
  place: v.nullable(PaperPointSchema),
  by: v.string(),
  at: v.string(),
  isEarlier: v.boolean(),
});
export type Erratum = v.InferOutput<typeof ErratumSchema>;

/** What was asked and corrected of one stage of a student's work. */
export const WorkQuestionsSchema = v.object({
  questions: v.array(AskedQuestionSchema),
  errata: v.array(ErratumSchema),
});
export type WorkQuestions = v.InferOutput<typeof WorkQuestionsSchema>;

/** The questions of an assignment as staff answers them, those without an answer first. */
export const AssignmentQuestionsSchema = v.object({
  assignment: v.object({
    id: v.number(),
    exercise: v.string(),
    section: v.string(),
    timeZone: v.string(),
    stages: v.number(),
  }),
  /** Who asked; null for somebody who was erased. */
  questions: v.array(v.object({ ...asked, student: v.nullable(v.string()) })),
  errata: v.array(ErratumSchema),
});
export type AssignmentQuestions = v.InferOutput<typeof AssignmentQuestionsSchema>;

/** How many questions about the sheet of an assignment wait for an answer. */
export const OpenQuestionsSchema = v.object({
  assignmentId: v.number(),
  exerciseNumber: v.string(),
  exerciseTitle: v.string(),
  section: v.string(),
  course: v.string(),
  count: v.number(),
});
export type OpenQuestions = v.InferOutput<typeof OpenQuestionsSchema>;
