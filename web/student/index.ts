/** The student's pages. */
export { WorkPage } from './work.tsx';
export { ExerciseWorkPage } from './exercise.tsx';
export { StudentReportPage } from './report.tsx';
export { HandInPanel, type HandedIn } from './handin.tsx';
