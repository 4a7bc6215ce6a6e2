/** Whether what is written on a sheet, and what the check plan checks, determine the part: computed on the part itself. */
export { DeterminacyStudy, type Determinacy, type Freedom } from './determine.ts';
export { openSizesOf, type OpenSize, type OpenSizes } from './words.ts';
export { completedPlan, withProposal, type Completed } from './complete.ts';
