import * as v from 'valibot';

/** Files that wait to be measured. */
export const QueueStateSchema = v.object({
  waiting: v.number(),
  running: v.number(),
  /** Since when the oldest waits. */
  oldestAt: v.nullable(v.string()),
  /** Nothing can be written, so that nothing is begun. */
  isPaused: v.boolean(),
});
export type QueueState = v.InferOutput<typeof QueueStateSchema>;

/** How the service is, for whoever runs it. */
export const ServiceStateSchema = v.object({
  version: v.string(),
  node: v.string(),
  startedAt: v.string(),
  disk: v.nullable(v.object({ freeBytes: v.number(), totalBytes: v.number() })),
  databaseBytes: v.number(),
  files: v.object({ count: v.number(), bytes: v.number() }),
  people: v.object({ accounts: v.number(), signedIn: v.number() }),
  queue: QueueStateSchema,
  workers: v.object({
    width: v.number(),
    /** Since the start: ended by the geometry of a file, stopped for taking too long, replaced after much work. */
    crashed: v.number(),
    timedOut: v.number(),
    replaced: v.number(),
  }),
  /** The event loop was late by so much, in 99 of 100 moments and at most. */
  loopDelayMs: v.object({ p99: v.number(), most: v.number() }),
  backup: v.nullable(
    v.object({
      folder: v.nullable(v.string()),
      /** The day of the newest one. */
      last: v.nullable(v.string()),
      problem: v.nullable(v.string()),
    }),
  ),
});
export type ServiceState = v.InferOutput<typeof ServiceStateSchema>;
