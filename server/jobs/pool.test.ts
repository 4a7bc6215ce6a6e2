import { pino } from 'pino';
import { describe, expect, it, onTestFinished } from 'vitest';

import { blankExercise } from '#core/exercise';
import { startPool, type PoolOptions, type Runner } from '#server/jobs';

const exercise = blankExercise('SB-1', 'Plate', 'mm');

async function poolOf(
  worker: 'slow' | 'worn',
  options: Pick<PoolOptions, 'timeLimitMs' | 'recycleAfterTasks' | 'threads'>,
) {
  const pool = await startPool({
    workerUrl: new URL(`../testing/${worker}-worker.mjs`, import.meta.url),
    log: pino({ level: 'silent' }),
    ...options,
  });
  onTestFinished(() => pool.close());
  return pool;
}

const slowPool = (timeLimitMs: number) => poolOf('slow', { timeLimitMs, threads: 1 });

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

describe('a worker that is worn out', () => {
  it.each([1, 3])('is replaced between two tasks, none of which meets its end: %i at a time', async (threads) => {
    const pool = await poolOf('worn', { timeLimitMs: 20_000, recycleAfterTasks: 2, threads });
    const outcomes = await Promise.all(Array.from({ length: 12 }, () => pool.prepare({ exercise, stage: 1 })));
    expect(outcomes.map(({ kind }) => kind)).toEqual(Array(12).fill('refused'));
    const byThread = new Map<string, number>();
    for (const outcome of outcomes)
      if (outcome.kind === 'refused')
        byThread.set(outcome.problem.message, (byThread.get(outcome.problem.message) ?? 0) + 1);
    // Twelve tasks, two for each worker.
    expect(Math.max(...byThread.values())).toBe(2);
    expect(byThread.size).toBeGreaterThanOrEqual(6);
  });
});

describe('a worker that ends in mid-task', () => {
  it('costs that task, and the next has a new one', async () => {
    const pool = await poolOf('worn', { timeLimitMs: 20_000, recycleAfterTasks: 100, threads: 1 });
    const [ended, next] = await Promise.all([
      pool.atlas({ exercise, stage: 1, referencePath: 'none', from: 0, count: 1 }),
      pool.prepare({ exercise, stage: 1 }),
    ]);
    expect(ended.kind).toBe('crashed');
    expect(next.kind).toBe('refused');
  });
});

describe('a grade that somebody waits for', () => {
  const GRADE: Parameters<Runner['grade']>[0] = {
    filePath: 'none',
    fileName: 'part.step',
    fileUnit: null,
    referencePath: 'none',
    typed: [],
    policy: exercise.scoring,
    circumstances: { log: null, lateMs: 0, round: null, others: [] },
    replay: null,
    atlasPath: null,
  };

  it('passes the revisions that wait for a worker', async () => {
    const pool = await slowPool(20_000);
    const ended: string[] = [];
    const revisions = [1, 2, 3].map((n) =>
      pool.prepare({ exercise, stage: 1 }).then(() => ended.push(`revision ${String(n)}`)),
    );
    const grade = pool.grade(GRADE, () => undefined).then(() => ended.push('grade'));
    await Promise.all([...revisions, grade]);
    expect(ended).toEqual(['revision 1', 'grade', 'revision 2', 'revision 3']);
  });

  it('has a worker free where there are several, however much there is to do in the background', async () => {
    const pool = await poolOf('slow', { timeLimitMs: 3000, threads: 2 });
    const endless = [1, 2, 3].map(() => pool.atlas({ exercise, stage: 1, referencePath: 'none', from: 0, count: 1 }));
    expect(await pool.grade(GRADE, () => undefined)).toMatchObject({ kind: 'refused', problem: { message: 'graded' } });
    // None was ended for it.
    expect((await endless[0])?.kind).toBe('timed-out');
    await pool.close();
    await Promise.all(endless);
  });

  it('ends what nobody waits for where that has the only worker, which is to be asked for again', async () => {
    const pool = await slowPool(60_000);
    const background = pool.atlas({ exercise, stage: 1, referencePath: 'none', from: 0, count: 1 });
    const graded = await pool.grade(GRADE, () => undefined);
    expect(graded).toEqual({ kind: 'refused', problem: { code: 'not-step', message: 'graded' } });
    expect((await background).kind).toBe('gave-way');
  });
});
