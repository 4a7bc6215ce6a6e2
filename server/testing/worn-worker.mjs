/** A worker that is worn out after some tasks and says so, and would end if it were given another: for tests of the pool. */
import { threadId, workerData } from 'node:worker_threads';

const [, { recycleAfterTasks }] = Array.isArray(workerData) ? workerData : [null, workerData];
let tasks = 0;

export function prepare() {
  if (tasks >= recycleAfterTasks) process.exit(0);
  tasks++;
  const outcome = { kind: 'refused', problem: { code: 'not-prepared', message: `thread ${threadId}` } };
  return tasks >= recycleAfterTasks ? { ...outcome, worn: true } : outcome;
}

/** Ends in mid-task, as a file does that makes the kernel stop. */
export function atlas() {
  process.exit(1);
}
