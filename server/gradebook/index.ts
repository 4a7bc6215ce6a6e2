/** The gradebook of a course: its page, its tables, and how grades come about. */
export { createGradebooks, type Gradebooks } from './books.ts';
export { createGrading, type Grading } from './grading.ts';
export { gradebookRoutes } from './routes.ts';
export { createStudentNotes, type StudentNotes } from './notes.ts';
