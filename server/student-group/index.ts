/** Groups of students of a section who have other dates. */
export { createStudentGroups, type StudentGroups } from './groups.ts';
export { studentGroupRoutes } from './routes.ts';
