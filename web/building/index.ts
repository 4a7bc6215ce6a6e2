/** Where a student builds a part in the page. */
export { BuildingPage } from './page.tsx';
export { beginning, useExerciseOf } from './beginning.ts';
