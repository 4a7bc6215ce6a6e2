/** A student's own progress. */
export { ProgressPage } from './page.tsx';
