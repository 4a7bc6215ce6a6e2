/** The grades of a course. */
export { GradebookPage } from './page.tsx';
export { StudentPage } from './student.tsx';
