/** Exercises, their revisions, and the drafts that their authors work on. */
export { createDrafts, type Drafts } from './drafts.ts';
export { createExerciseFiles, type ExerciseFiles } from './exercise-files.ts';
export { draftRoutes } from './draft-routes.ts';
export { createLibrary, libraryRoutes, type Library } from './library.ts';
export { createRevisionJobs, type RevisionJobs } from './revision-jobs.ts';
export { createExercises, parseExercise, type Exercises } from './revisions.ts';
export { exerciseRoutes } from './routes.ts';
