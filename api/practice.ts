/** What students do between reading and handing in: what the course lets them use, and what is kept of it. */
import * as v from 'valibot';

import { BuildPlanSchema } from '#core/buildplan';
import { PictureSchema } from '#core/lookalike';
import { TOPICS } from '#core/reading';
import { OPERATIONS, RecipeSchema } from '#core/recipe';
import { TimeLogSchema } from '#core/timelog';
import { WORD_IDS } from '#core/words';

/** What students may use while they work on an assignment. */
export const AidsSchema = v.strictObject({
  /** Building the part in the page: not offered, with every operation, or with these. */
  building: v.union([
    v.picklist(['none', 'all']),
    v.pipe(v.array(v.picklist(OPERATIONS)), v.minLength(1, 'Choose at least one operation.')),
  ]),
  /** Planning the steps before building: not there, offered, or to be done before a hand-in is taken. */
  plan: v.picklist(['none', 'offered', 'asked']),
  /** Ticking off every dimension of the sheet: not there, offered, counted in the score, or to be done before a hand-in is taken. */
  round: v.picklist(['none', 'offered', 'counted', 'asked']),
  /** How a size follows that is not written: no help, one link at a time, or the whole chain at once. */
  sizes: v.picklist(['none', 'link', 'chain']),
  /** Questions that the sheet answers: none, of every topic, or of these. */
  reading: v.union([
    v.picklist(['none', 'all']),
    v.pipe(v.array(v.picklist(TOPICS)), v.minLength(1, 'Choose at least one topic.')),
  ]),
  /** Whether the steps of the reference are shown one by one: an exercise that is worked together. */
  worked: v.picklist(['none', 'shown']),
  /** Who reads how long the work took: its student alone, or those who review it, as a sum. */
  time: v.picklist(['own', 'shared']),
});
export type Aids = v.InferOutput<typeof AidsSchema>;

/** Where nothing else was chosen. */
export const USUAL_AIDS: Aids = {
  building: 'none',
  plan: 'offered',
  round: 'offered',
  sizes: 'link',
  reading: 'all',
  worked: 'none',
  time: 'own',
};

/** What was read off the own model for one dimension, as it was typed: the first round, and the second. */
const ReadingTextsSchema = v.pipe(v.array(v.pipe(v.string(), v.maxLength(40))), v.maxLength(2));
export const RoundSchema = v.pipe(
  v.record(v.pipe(v.string(), v.maxLength(80)), ReadingTextsSchema),
  v.check((round) => Object.keys(round).length <= 400, 'These are more dimensions than a sheet has.'),
);
/** By the id of the dimension's check. */
export type Round = v.InferOutput<typeof RoundSchema>;

const PaperNumberSchema = v.pipe(v.number(), v.minValue(-10), v.maxValue(2000));
/** A point of a page of the sheet, mm from its upper left corner. */
export const PaperPointSchema = v.strictObject({
  page: v.pipe(v.number(), v.integer(), v.minValue(1), v.maxValue(40)),
  at: v.tuple([PaperNumberSchema, PaperNumberSchema]),
});
export type PaperPoint = v.InferOutput<typeof PaperPointSchema>;
const AlongSchema = v.picklist(['across', 'up']);
export type Along = v.InferOutput<typeof AlongSchema>;

/** A size between two lines of a view, as it is asked for. */
export const SizeQuestionSchema = v.strictObject({
  from: PaperPointSchema,
  to: PaperPointSchema,
  /** Which way on the paper; the longer one where nothing is said. */
  along: v.nullable(AlongSchema),
  /** So many links of the chain are asked for. */
  shown: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(40)),
  /** What was worked out, to be looked at. */
  sum: v.nullable(v.pipe(v.string(), v.maxLength(200))),
});
export type SizeQuestion = v.InferOutput<typeof SizeQuestionSchema>;

export const SizeLinkSchema = v.object({
  /** As the sheet writes it, and what it is called; null for what the picture says by itself. */
  dimension: v.nullable(v.object({ checkId: v.string(), printed: v.string(), label: v.string(), page: v.number() })),
  part: v.picklist(['whole', 'half']),
  sense: v.picklist(['plus', 'minus']),
});
export type SizeLink = v.InferOutput<typeof SizeLinkSchema>;

/** What the sheet says of it: never the size itself. */
export const SizeAnswerSchema = v.object({
  along: AlongSchema,
  /** The picked points on the lines that they are taken for. */
  marks: v.tuple([PaperPointSchema, PaperPointSchema]),
  /** Written as it is, to be worked out from others, or not along one line. */
  kind: v.picklist(['written', 'follows', 'otherwise']),
  /** How many sizes it follows from. */
  count: v.number(),
  links: v.array(SizeLinkSchema),
  /** Of the sum, where there was one. */
  verdict: v.nullable(v.picklist(['agrees', 'differs', 'unreadable'])),
});
export type SizeAnswer = v.InferOutput<typeof SizeAnswerSchema>;

/** A size that was worked out from those of the sheet. */
export const WorkedSizeSchema = v.strictObject({
  /** What the student calls it. */
  name: v.pipe(v.string(), v.trim(), v.maxLength(80)),
  from: PaperPointSchema,
  to: PaperPointSchema,
  /** As typed: "84 - 2*7.5". */
  sum: v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(200)),
  /** How much was asked for: nothing, some links, or all of them. */
  help: v.picklist(['none', 'link', 'chain']),
});
export type WorkedSize = v.InferOutput<typeof WorkedSizeSchema>;

/** What a student keeps while working on an assignment, each of one kind. */
export const WORKINGS = {
  build: RecipeSchema,
  plan: BuildPlanSchema,
  round: RoundSchema,
  sizes: v.pipe(v.array(WorkedSizeSchema), v.maxLength(100)),
  time: TimeLogSchema,
} as const;
export type WorkingKind = keyof typeof WORKINGS;
export const WorkingKindSchema = v.picklist(Object.keys(WORKINGS) as WorkingKind[]);
export type Working<K extends WorkingKind> = v.InferOutput<(typeof WORKINGS)[K]>;

/** What is kept, with how often it was saved; null where nothing was yet. */
const kept = { version: v.number(), updatedAt: v.nullable(v.string()) };
export const KeptBuildSchema = v.object({ ...kept, document: v.nullable(WORKINGS.build) });
export const KeptPlanSchema = v.object({
  ...kept,
  document: v.nullable(WORKINGS.plan),
  /** The dimensions of the sheet, which steps may take. */
  sizes: v.array(v.object({ checkId: v.string(), printed: v.string(), label: v.string(), page: v.number() })),
});
export type KeptPlan = v.InferOutput<typeof KeptPlanSchema>;
export const KeptSizesSchema = v.object({ ...kept, document: v.nullable(WORKINGS.sizes) });
export const KeptTimeSchema = v.object({ ...kept, document: v.nullable(WORKINGS.time) });
export interface Kept<K extends WorkingKind> {
  readonly version: number;
  readonly updatedAt: string | null;
  readonly document: Working<K> | null;
}

const VerdictSchema = v.variant('kind', [
  v.object({ kind: v.literal('agrees') }),
  v.object({
    kind: v.literal('differs'),
    likely: v.nullable(v.picklist(['half', 'twice', 'other-unit', 'supplement'])),
  }),
  v.object({ kind: v.literal('unreadable'), message: v.string() }),
]);

/** A dimension of the sheet as its student has ticked it off. */
export const RoundLineSchema = v.object({
  checkId: v.string(),
  /** As the sheet writes it: "4 x Ø6.5". */
  printed: v.string(),
  label: v.string(),
  quantity: v.picklist(['length', 'angle', 'count']),
  page: v.number(),
  /** What was typed, the first time and again, and what it is beside the sheet. */
  readings: v.array(v.object({ text: v.string(), verdict: VerdictSchema })),
});
export type RoundLine = v.InferOutput<typeof RoundLineSchema>;

export const RoundAnswerSchema = v.object({ version: v.number(), lines: v.array(RoundLineSchema) });
export type RoundAnswer = v.InferOutput<typeof RoundAnswerSchema>;

/** What is to be kept in place of what was kept so far. */
export const KeepSchema = <S extends v.GenericSchema>(document: S) =>
  v.strictObject({ version: v.pipe(v.number(), v.integer(), v.minValue(0)), document });
export const SavedSchema = v.object({ version: v.number(), updatedAt: v.string() });
export type Saved = v.InferOutput<typeof SavedSchema>;

/** What a student did beside handing in, in one stage of a work, as staff see it. */
export const PreparationSchema = v.object({
  /** How many dimensions of the sheet were measured, and when last: it may be after a hand-in. */
  measured: v.number(),
  measuredAt: v.nullable(v.string()),
  sizes: v.array(v.pick(WorkedSizeSchema, ['name', 'sum', 'help'])),
  /** How it was planned, a line a step. */
  plan: v.array(v.string()),
  /** Of work by the student's own log; null where the course does not ask for it, or nothing was noted. */
  minutes: v.nullable(v.number()),
});
export type Preparation = v.InferOutput<typeof PreparationSchema>;

const TopicSchema = v.picklist(TOPICS);

/** Words and signs that the sheet of a student uses, each explained in the page. */
export const SheetWordsSchema = v.object({ words: v.array(v.picklist(WORD_IDS)) });

/** A question of reading practice as its student sees it: without the answer. */
export const ReadingQuestionSchema = v.object({
  id: v.string(),
  topic: TopicSchema,
  text: v.string(),
  rings: v.array(v.object({ label: v.string(), at: PaperPointSchema })),
  checkId: v.nullable(v.string()),
  page: v.number(),
  options: v.array(v.string()),
  /** Of each option; null where they are words alone. */
  pictures: v.nullable(v.pipe(v.array(PictureSchema), v.readonly())),
});
export type ReadingQuestion = v.InferOutput<typeof ReadingQuestionSchema>;
/** What is asked now, what is due first. */
export const ReadingSchema = v.object({ questions: v.array(ReadingQuestionSchema) });

export const ReadingChoiceSchema = v.strictObject({
  questionId: v.pipe(v.string(), v.maxLength(200)),
  choice: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(9)),
});
export type ReadingChoice = v.InferOutput<typeof ReadingChoiceSchema>;
export const ReadingVerdictSchema = v.object({
  right: v.boolean(),
  /** Which option it is. */
  answer: v.number(),
  why: v.string(),
  /** When the topic is asked for again. */
  dueAt: v.string(),
});
export type ReadingVerdict = v.InferOutput<typeof ReadingVerdictSchema>;

/** Topics of the student's own that are due. */
export const ReadingDueSchema = v.object({ topics: v.array(TopicSchema) });

/** How a class reads: answers of each topic, the worst first. */
export const ClassReadingSchema = v.object({
  topics: v.array(v.object({ topic: TopicSchema, answers: v.number(), right: v.number(), students: v.number() })),
});
export type ClassReading = v.InferOutput<typeof ClassReadingSchema>;

/** The steps of the reference, with the dimensions of the sheet that each gives. */
export const WorkedSchema = v.object({
  recipe: RecipeSchema,
  steps: v.array(v.object({ id: v.string(), name: v.string(), sentence: v.string(), checkIds: v.array(v.string()) })),
  /** The dimensions with the surfaces that they hang on. */
  dimensions: v.array(v.object({ checkId: v.string(), label: v.string(), surfaces: v.array(v.string()) })),
});
export type Worked = v.InferOutput<typeof WorkedSchema>;
