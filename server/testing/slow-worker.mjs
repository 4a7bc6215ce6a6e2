/** A worker that takes its time and builds nothing: for tests of the pool. */
const TASK_MS = 1200;

export function prepare() {
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, TASK_MS);
  return { kind: 'refused', problem: { code: 'not-prepared', message: 'slow' } };
}

export function atlas() {
  for (;;) Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, TASK_MS);
}

export function grade() {
  return { kind: 'refused', problem: { code: 'not-step', message: 'graded' } };
}
