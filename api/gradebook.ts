import * as v from 'valibot';

import { GradingSchemeSchema } from '#core/gradebook';

export const GradebookCellSchema = v.object({
  state: v.picklist(['open', 'missing', 'handed-in', 'to-review', 'graded', 'absent', 'excused']),
  score: v.nullable(v.number()),
  attemptId: v.nullable(v.number()),
  attempts: v.number(),
  isLate: v.boolean(),
});
export type GradebookCellAnswer = v.InferOutput<typeof GradebookCellSchema>;

const GradingSchemeAnswerSchema = v.object({
  groups: v.array(v.object({ id: v.string(), name: v.string(), weight: v.number(), dropLowest: v.number() })),
  letters: v.array(v.object({ letter: v.string(), from: v.number() })),
});

const GradedAssignmentsSchema = v.array(
  v.object({
    id: v.number(),
    number: v.string(),
    title: v.string(),
    section: v.string(),
    groupId: v.nullable(v.string()),
  }),
);

/** How the grades of a course come about, and what counts where. */
export const GradingSchema = v.object({ scheme: GradingSchemeAnswerSchema, assignments: GradedAssignmentsSchema });
export type GradingAnswer = v.InferOutput<typeof GradingSchema>;

/** The grades of a course: a row a student, a cell an assignment. */
export const GradebookSchema = v.object({
  course: v.string(),
  sections: v.array(v.object({ id: v.number(), name: v.string(), students: v.number() })),
  scheme: GradingSchemeAnswerSchema,
  assignments: GradedAssignmentsSchema,
  rows: v.array(
    v.object({
      id: v.number(),
      name: v.string(),
      login: v.string(),
      section: v.string(),
      /** Of the assignments of the own section. */
      cells: v.array(v.object({ assignmentId: v.number(), ...GradebookCellSchema.entries })),
      total: v.nullable(v.number()),
      letter: v.nullable(v.string()),
      /** How the total comes about, a sentence a group. */
      shares: v.array(v.string()),
      /** Assignments that are left out, as the lowest. */
      left: v.array(v.number()),
    }),
  ),
});
export type GradebookAnswer = v.InferOutput<typeof GradebookSchema>;

/** How the grades of a course come about, and which group each assignment counts in. */
export const GradingInputSchema = v.object({
  scheme: GradingSchemeSchema,
  groupOf: v.pipe(v.array(v.object({ assignmentId: v.number(), groupId: v.nullable(v.string()) })), v.maxLength(2000)),
});
export type GradingInput = v.InferOutput<typeof GradingInputSchema>;
/** The same while it is typed. */
export type GradingDraft = v.InferInput<typeof GradingInputSchema>;

/** One student of a course: all work, and what goes wrong often. */
export const StudentRecordSchema = v.object({
  course: v.string(),
  name: v.string(),
  login: v.string(),
  section: v.string(),
  total: v.nullable(v.number()),
  letter: v.nullable(v.string()),
  /** How the total comes about, a sentence a group. */
  shares: v.array(v.string()),
  /** By date. */
  work: v.array(
    v.object({
      assignmentId: v.number(),
      number: v.string(),
      title: v.string(),
      dueAt: v.string(),
      cell: GradebookCellSchema,
      /** Scores of all measured attempts, the first one first. */
      scores: v.array(v.object({ attemptId: v.number(), score: v.number() })),
      extension: v.nullable(v.string()),
      /** Left out of the total, as one of the lowest of its group. */
      leftOut: v.boolean(),
    }),
  ),
  /** Kinds of causes in the newest attempts, those of most exercises first. */
  causes: v.array(v.object({ name: v.string(), attemptIds: v.array(v.number()) })),
  /** What staff notes for each other, the newest first. */
  notes: v.array(v.object({ id: v.number(), text: v.string(), by: v.string(), at: v.string() })),
  timeZone: v.string(),
});
export type StudentRecord = v.InferOutput<typeof StudentRecordSchema>;

export const NewNoteSchema = v.strictObject({
  text: v.pipe(v.string(), v.trim(), v.minLength(1, 'Write something.'), v.maxLength(2000)),
});

/** What is missing before grades go to the records of the school. */
export const ResultsReadinessSchema = v.object({
  students: v.number(),
  /** Students whose id there is not known. */
  unnamed: v.array(v.string()),
  unnamedSections: v.array(v.string()),
  /** Scores that nobody has looked at where reports wait for a look. */
  waiting: v.number(),
});
export type ResultsReadiness = v.InferOutput<typeof ResultsReadinessSchema>;
