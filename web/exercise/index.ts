/** Exercises for the instructor. */
export { ExerciseListPage } from './list.tsx';
export { ExercisePage } from './page.tsx';
