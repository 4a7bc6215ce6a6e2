/** A course of a term as one file that opens again, read-only. */
export { openTerm, type OpenedTerm } from './open.ts';
export { termRoutes } from './routes.ts';
export { createTermArchives, type TermArchives } from './term.ts';
