import * as v from 'valibot';

import { KeyEntrySchema } from '#core/variant';
import { CoverageSchema, ProposalSchema, VariantBlurSchema } from '#core/mistake';

import { ExerciseSchema } from '#core/exercise';
import { DrawingUnitSchema } from '#core/quantity';
import { BoxSchema, DisplayMeshSchema, MassPropertiesSchema } from '#core/solid';
import { TargetSchema } from '#core/check';

export const ExerciseSummarySchema = v.object({
  id: v.number(),
  number: v.string(),
  title: v.string(),
  level: v.string(),
  unit: DrawingUnitSchema,
  material: v.string(),
  /** Null for a draft that has none yet. */
  revision: v.nullable(v.number()),
  checks: v.number(),
  steps: v.number(),
  assignments: v.number(),
  courseId: v.number(),
  course: v.string(),
  archivedAt: v.nullable(v.string()),
  /** What its instructors sort it by. */
  tags: v.array(v.string()),
  /** Letters of its sheet, and the names of the operations of its steps. */
  letters: v.array(v.string()),
  operations: v.array(v.string()),
  /** Words of its steps and checks: "counterbore", "equally", "gusset". */
  words: v.array(v.string()),
  /** Of the part as drawn; null where there is no revision. */
  massG: v.nullable(v.number()),
});
export type ExerciseSummary = v.InferOutput<typeof ExerciseSummarySchema>;
export const ExerciseListSchema = v.object({ exercises: v.array(ExerciseSummarySchema) });

export const TagsSchema = v.pipe(
  v.array(v.pipe(v.string(), v.trim(), v.minLength(1), v.maxLength(30, 'A tag has 30 characters at most.'))),
  v.maxLength(12, 'An exercise has 12 tags at most.'),
  v.transform((tags) => [...new Set(tags)]),
);

/** Puts an exercise away or takes it out again; sets the tags that it is sorted by. */
export const ArrangeExerciseSchema = v.partial(v.strictObject({ archived: v.boolean(), tags: TagsSchema }));
export type ArrangeExercise = v.InferOutput<typeof ArrangeExerciseSchema>;

export const ExerciseDetailSchema = v.object({
  id: v.number(),
  revision: v.number(),
  revisionId: v.number(),
  createdAt: v.string(),
  document: ExerciseSchema,
  materialName: v.string(),
  densityGPerCm3: v.number(),
  targets: v.array(TargetSchema),
  massProperties: MassPropertiesSchema,
  values: v.record(v.string(), v.number()),
  /** What is wrong with the sheet, in words: sizes that it does not say, views that could not be drawn as wanted. */
  sheetWarnings: v.array(v.string()),
});
export type ExerciseDetail = v.InferOutput<typeof ExerciseDetailSchema>;

/** How well the check plan of the newest revision catches mistakes; null until its atlas is made. */
export const CoverageAnswerSchema = v.object({
  state: v.picklist(['none', 'waiting', 'running', 'done', 'failed']),
  done: v.number(),
  total: v.number(),
  /** Why the last try failed. */
  reason: v.nullable(v.string()),
  /** When it is tried again by itself. */
  retryAt: v.nullable(v.string()),
  coverage: v.nullable(CoverageSchema),
  proposals: v.array(ProposalSchema),
});
export type CoverageAnswer = v.InferOutput<typeof CoverageAnswerSchema>;

/** What the values of the variants make hard to tell, as far as their mistakes are built. */
export const VariantBlursSchema = v.object({
  variants: v.number(),
  tested: v.number(),
  /** Whose mistakes are still to be built. */
  waiting: v.number(),
  /** Only those with something to say. */
  blurs: v.array(VariantBlurSchema),
});
export type VariantBlurs = v.InferOutput<typeof VariantBlursSchema>;

/** What a sheet leaves open, and what its check plan does not decide: "the place of Bolts along X". */
export const OpenInWordsSchema = v.object({ undetermined: v.array(v.string()), unchecked: v.array(v.string()) });
export type OpenInWords = v.InferOutput<typeof OpenInWordsSchema>;

/** What is known of whether the sheet of each stage determines the part. Empty for a part from a file. */
export const StudiesSchema = v.object({
  stages: v.array(
    v.object({
      stage: v.number(),
      state: v.picklist(['waiting', 'running', 'done', 'failed']),
      open: v.nullable(OpenInWordsSchema),
    }),
  ),
});
export type StudiesAnswer = v.InferOutput<typeof StudiesSchema>;

/** What the sheets of variants and later stages fail to say that the sheet as drawn says. */
export const FurtherWarningsSchema = v.object({
  parts: v.array(
    v.object({
      /** Such as "Variant 3, stage 2". */
      part: v.string(),
      warnings: v.array(v.string()),
    }),
  ),
});
export type FurtherWarnings = v.InferOutput<typeof FurtherWarningsSchema>;

const NumberTextSchema = v.pipe(v.string(), v.trim(), v.minLength(1, 'give it a number'), v.maxLength(20));
export const NewExerciseSchema = v.object({
  /** The course that it is made in; the first one that its author teaches where nothing is said. */
  courseId: v.optional(v.number()),
  number: NumberTextSchema,
  title: v.pipe(v.string(), v.trim(), v.minLength(1, 'give it a title'), v.maxLength(80)),
  unit: DrawingUnitSchema,
});
export type NewExercise = v.InferOutput<typeof NewExerciseSchema>;
/** A copy of an exercise, in a course and under a number of its own. */
export const CopyExerciseSchema = v.strictObject({
  courseId: v.number(),
  number: NumberTextSchema,
  title: NewExerciseSchema.entries.title,
});
export type CopyExercise = v.InferOutput<typeof CopyExerciseSchema>;
export const CreatedSchema = v.object({ id: v.number() });

/** The exercise as its editor has it. `version` counts the saves. */
export const DraftDetailSchema = v.object({
  id: v.number(),
  version: v.number(),
  document: ExerciseSchema,
  updatedAt: v.string(),
  updatedBy: v.nullable(v.string()),
  revision: v.nullable(v.number()),
});
export type DraftDetail = v.InferOutput<typeof DraftDetailSchema>;

export const SavedDraftSchema = v.object({ version: v.number(), updatedAt: v.string() });
/** Says who saved in the meantime. */
export const ConflictSchema = v.object({
  error: v.object({ code: v.literal('conflict'), message: v.string() }),
  version: v.number(),
  updatedAt: v.string(),
  updatedBy: v.string(),
});

export const RevisionListSchema = v.object({
  revisions: v.array(
    v.object({
      number: v.number(),
      createdAt: v.string(),
      /** Where it was issued, the first one first. */
      issued: v.array(
        v.object({
          assignmentId: v.number(),
          section: v.string(),
          opensAt: v.string(),
          dueAt: v.string(),
          withdrawn: v.boolean(),
          handedIn: v.number(),
        }),
      ),
    }),
  ),
});
export type RevisionSummary = v.InferOutput<typeof RevisionListSchema>['revisions'][number];

/** A revision that is made, or the last one that was: how many parts are built, and how it ended. */
export const RevisionJobSchema = v.object({
  state: v.picklist(['running', 'done', 'failed']),
  done: v.number(),
  total: v.number(),
  revision: v.nullable(v.number()),
  problem: v.nullable(v.object({ code: v.string(), message: v.string() })),
});
export type RevisionJob = v.InferOutput<typeof RevisionJobSchema>;
export const RevisionJobAnswerSchema = v.object({ job: v.nullable(RevisionJobSchema) });
export type RevisionJobAnswer = v.InferOutput<typeof RevisionJobAnswerSchema>;

/** What the 3D viewer shows. */
export const DisplayModelSchema = v.object({
  bounds: BoxSchema,
  mesh: DisplayMeshSchema,
});
export type DisplayModel = v.InferOutput<typeof DisplayModelSchema>;

/** The answer key of a draft as its author worked it out, to be printed. */
export const KeyToPrintSchema = v.strictObject({
  entries: v.pipe(v.array(KeyEntrySchema), v.minLength(1), v.maxLength(1200)),
});
export type KeyToPrint = v.InferOutput<typeof KeyToPrintSchema>;
