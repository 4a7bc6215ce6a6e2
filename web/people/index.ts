/** People: courses with their sections and staff, and the students of a section. */
export { PeoplePage } from './page.tsx';
export { SectionPage } from './section.tsx';
