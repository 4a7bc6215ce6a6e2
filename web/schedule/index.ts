/** A series of exercises over a term, in one table. */
export { SchedulePage } from './page.tsx';
