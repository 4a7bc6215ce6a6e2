/** What is printed, made by the workers: a class set of sheets takes seconds that the server has no time for. */
export { printed, type PrintTask } from './task.ts';
