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
