/** The grades of a course: what counts of each student and assignment, and in all. */
export {
  cellText,
  columnTitle,
  gradebookAsCsv,
  gradebookOf,
  sharesInWords,
  type CellState,
  type GradedAssignment,
  type Gradebook,
  type GradebookCell,
  type GradebookInput,
  type GradebookRow,
  type GradeShare,
} from './gradebook.ts';
export {
  groupOf,
  GradingSchemeSchema,
  letterOf,
  MOST_GROUPS,
  PLAIN_SCHEME,
  type GradeGroup,
  type GradingScheme,
} from './scheme.ts';
export { gradeChanges, type GradeChange } from './change.ts';
export { resultsPackage, type ResultsInput, type ResultsPackage, type SchoolIds } from './one-roster.ts';
