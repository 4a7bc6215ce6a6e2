/** Grading jobs: a queue in the database, worked off by a pool of kernel threads. */
export { createQueue, type Queue } from './queue.ts';
export { startPool, type PoolOptions } from './pool.ts';
export type { Graded, Outcome, Prepared, Runner } from './task.ts';
