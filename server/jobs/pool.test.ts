import { pino } from 'pino';
import { expect, it, onTestFinished } from 'vitest';

import { blankExercise } from '#core/exercise';
import { startPool } from '#server/jobs';

const exercise = blankExercise('SB-1', 'Plate', 'mm');

async function slowPool(timeLimitMs: number) {
  const pool = await startPool({
    workerUrl: new URL('../testing/slow-worker.mjs', import.meta.url),
    timeLimitMs,
    log: pino({ level: 'silent' }),
    threads: 1,
  });
  onTestFinished(() => pool.close());
  return pool;
}

it('time that a task waits for a worker does not count: many that come at once are all done', async () => {
  // Five tasks of 1.2 s on one worker take 6 s, each far less than the limit.
  const pool = await slowPool(4000);
  const outcomes = await Promise.all([1, 2, 3, 4, 5].map(() => pool.prepare({ exercise, stage: 1 })));
  expect(outcomes.map(({ kind }) => kind)).toEqual(Array(5).fill('refused'));
});

it('a task that does not end is ended, and those behind it are done', async () => {
  const pool = await slowPool(2500);
  const [endless, next] = await Promise.all([
    pool.atlas({ exercise, stage: 1, referencePath: 'none', from: 0, count: 1 }),
    pool.prepare({ exercise, stage: 1 }),
  ]);
  expect(endless.kind).toBe('timed-out');
  expect(next.kind).toBe('refused');
});
