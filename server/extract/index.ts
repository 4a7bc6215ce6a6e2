/** One course taken out of the database of a server, as a database of its own. */
export { cutTerm, type CutTerm, type TermTask } from './task.ts';
