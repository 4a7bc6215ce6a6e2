/** Exercises issued to sections, as the instructor sees them. */
export { createAssignments, type Assignments } from './assignments.ts';
export { assignmentRoutes, type AssignmentRouteParts } from './routes.ts';
export { createAssignmentChanges, type AssignmentChanges } from './changes.ts';
export { createCorrections, type Corrections } from './corrections.ts';
export { createVariants, type VariantStore } from './variants.ts';
export {
  answerPhase,
  countingOfStages,
  documentOf,
  endOf,
  extendedBy,
  factsOf,
  meanOverStages,
  aidsOf,
  feedbackOf,
  policyOf,
  scoreOfStages,
  SELECT_ASSIGNMENT,
  type AssignmentRow,
  type GivenDates,
} from './facts.ts';
export { attemptRowOf, GIVEN_BACK, SELECT_ATTEMPT_ROWS, SHOWN_STATE, type StoredAttemptRow } from './rows.ts';
