/** The school's site, from which people come, and to which grades go. */
export { ArrivePage } from './arrive.tsx';
export { SchoolSitePage } from './page.tsx';
export { GradesAtSite } from './grades.tsx';
