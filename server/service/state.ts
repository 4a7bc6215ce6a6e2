import { statSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { monitorEventLoopDelay } from 'node:perf_hooks';

import type { QueueState, ServiceState } from '#api';
import type { Db } from '#server/db';
import { PROGRAM_VERSION, type Runner } from '#server/jobs';

export interface ServiceStateParts {
  readonly db: Db;
  readonly runner: Pick<Runner, 'width' | 'ended'>;
  readonly queue: () => QueueState;
  readonly now: () => Date;
  /** Where the last backup of each day stands; null where this server makes none. */
  readonly backup: () => ServiceState['backup'];
}

const NS_PER_MS = 1e6;

export function createServiceState({ db, runner, queue, now, backup }: ServiceStateParts): () => Promise<ServiceState> {
  const startedAt = now().toISOString();
  const delay = monitorEventLoopDelay({ resolution: 10 });
  delay.enable();
  const files = db.prepare<[], { count: number; bytes: number }>(
    'SELECT count(*) AS count, coalesce(sum(size_bytes), 0) AS bytes FROM files',
  );
  const accounts = db.prepare<[], number>('SELECT count(*) FROM users').pluck();
  const signedIn = db
    .prepare<[string], number>('SELECT count(DISTINCT user_id) FROM sessions WHERE expires_at > ?')
    .pluck();
  return async () => ({
    version: PROGRAM_VERSION,
    node: process.version,
    startedAt,
    disk: db.memory ? null : await diskOf(db.name),
    databaseBytes: db.memory ? 0 : statSync(db.name).size,
    files: files.get() ?? { count: 0, bytes: 0 },
    people: { accounts: accounts.get() ?? 0, signedIn: signedIn.get(now().toISOString()) ?? 0 },
    queue: queue(),
    workers: { width: runner.width, ...runner.ended() },
    loopDelayMs: { p99: delay.percentile(99) / NS_PER_MS, most: delay.max / NS_PER_MS },
    backup: backup(),
  });
}

async function diskOf(file: string): Promise<ServiceState['disk']> {
  const { bavail, blocks, bsize } = await statfs(file);
  return { freeBytes: bavail * bsize, totalBytes: blocks * bsize };
}
