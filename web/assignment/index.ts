/** One assignment for the instructor. */
export { AssignmentPage } from './page.tsx';
