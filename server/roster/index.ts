/** Who belongs to a section: lists of students, slips for first sign-ins, undoing. */
export { createRosters, type Rosters } from './rosters.ts';
export { rosterRoutes } from './routes.ts';
