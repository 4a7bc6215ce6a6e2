/** Jobs: a queue of grading in the database, and atlases in the background, worked off by a pool of kernel threads. */
export { createAtlases, type Atlases, type AtlasState } from './atlas/index.ts';
export { createQueue, type Queue } from './queue.ts';
export { createStudies, type StageStudy, type Studies } from './study/index.ts';
export {
  createCircumstances,
  DUE_AT,
  JOIN_EXTENSION,
  JOIN_PART,
  REFERENCE_SHA256,
  type StoredCircumstances,
} from './part.ts';
export { PROGRAM_VERSION } from './program.ts';
export { createPrinter, type Printer } from './printer.ts';
export { startPool, type PoolOptions } from './pool.ts';
export type { AtlasChunk, Graded, GradeTask, Outcome, Prepared, Runner } from './task.ts';
