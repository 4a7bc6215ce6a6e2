import * as v from 'valibot';

export const GradebookCellSchema = v.object({
  state: v.picklist(['open', 'missing', 'handed-in', 'to-review', 'graded', 'excused']),
  score: v.nullable(v.number()),
  attemptId: v.nullable(v.number()),
  attempts: v.number(),
  isLate: v.boolean(),
});
export type GradebookCellAnswer = v.InferOutput<typeof GradebookCellSchema>;

/** The grades of a course: a row a student, a cell an assignment. */
export const GradebookSchema = v.object({
  course: v.string(),
  assignments: v.array(v.object({ id: v.number(), number: v.string(), title: v.string(), section: v.string() })),
  rows: v.array(
    v.object({
      id: v.number(),
      name: v.string(),
      login: v.string(),
      section: v.string(),
      cells: v.array(v.nullable(GradebookCellSchema)),
      total: v.nullable(v.number()),
    }),
  ),
});
export type GradebookAnswer = v.InferOutput<typeof GradebookSchema>;

/** One student of a course: all work, and what goes wrong often. */
export const StudentRecordSchema = v.object({
  course: v.string(),
  name: v.string(),
  login: v.string(),
  section: v.string(),
  total: v.nullable(v.number()),
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
    }),
  ),
  /** Kinds of causes in the newest attempts, those of most exercises first. */
  causes: v.array(v.object({ name: v.string(), attemptIds: v.array(v.number()) })),
});
export type StudentRecord = v.InferOutput<typeof StudentRecordSchema>;
