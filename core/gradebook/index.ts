/** The grades of a course: what counts of each student and assignment, and in all. */
export {
  gradebookAsCsv,
  gradebookOf,
  type CellState,
  type Gradebook,
  type GradebookCell,
  type GradebookInput,
} from './gradebook.ts';
