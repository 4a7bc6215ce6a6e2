/** Attempts: handing in as a student, reading reports as student or instructor. */
export { createAttempts, type Attempts } from './attempts.ts';
export { attemptRoutes } from './routes.ts';
export { printedOf } from './printed.ts';
