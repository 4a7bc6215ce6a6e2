import { describe, expect, it } from 'vitest';

import { pino } from 'pino';

import { createEvents } from '#server/events';
import { createQueue, type Graded, type Outcome } from '#server/jobs';

import { GRADED, NOON, openSchool, runnerOf, type School } from '../testing/fixture.ts';

const CRASH: Outcome<Graded> = { kind: 'crashed', reason: 'worker ended' };

const stateOf = (school: School, id = 1) =>
  school.db.prepare('SELECT state, refusal_code AS code FROM attempts WHERE id = ?').get(id) as {
    state: string;
    code: string | null;
  };
const jobsLeft = (school: School) => school.db.prepare('SELECT count(*) AS n FROM jobs').get() as { n: number };

describe('a file that ends its worker', () => {
  it('is tried once more and then refused with a sentence; the next job is done', async () => {
    let tries = 0;
    const school = await openSchool((content) => {
      if (content !== 'deadly') return GRADED;
      tries++;
      return CRASH;
    });
    await school.handIn('ansel', school.assignmentId, 'deadly');
    await school.handIn('fia', school.assignmentId, 'a model');
    await school.queue.idle();
    expect(tries).toBe(2);
    expect(stateOf(school, 1)).toEqual({ state: 'refused', code: 'kernel-crash' });
    expect(stateOf(school, 2)).toEqual({ state: 'graded', code: null });
    expect(jobsLeft(school)).toEqual({ n: 0 });
  });

  it('only because its neighbor did, is graded at the second try', async () => {
    let first = true;
    const school = await openSchool(() => {
      if (!first) return GRADED;
      first = false;
      return CRASH;
    });
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    expect(stateOf(school)).toEqual({ state: 'graded', code: null });
  });
});

it('a file that takes too long is refused and uses up no attempt', async () => {
  const school = await openSchool(() => ({ kind: 'timed-out' }));
  await school.handIn('ansel', school.assignmentId, 'endless');
  await school.queue.idle();
  expect(stateOf(school)).toEqual({ state: 'refused', code: 'too-long' });
});

it('a runner that throws costs its job a try, never the queue', async () => {
  const school = await openSchool((content) => {
    if (content === 'bad') throw new Error('unexpected');
    return GRADED;
  });
  await school.handIn('ansel', school.assignmentId, 'bad');
  await school.handIn('fia', school.assignmentId, 'good');
  await school.queue.idle();
  expect(stateOf(school, 1).code).toBe('kernel-crash');
  expect(stateOf(school, 2).state).toBe('graded');
});

describe('after a crash of the server in mid-job', () => {
  /** A server whose runner never answers, stopped while an attempt is running. */
  async function crashed(): Promise<School> {
    let started: () => void = () => undefined;
    const running = new Promise<void>((resolve) => (started = resolve));
    const school = await openSchool(() => {
      started();
      return new Promise<Outcome<Graded>>(() => undefined);
    });
    await school.handIn('ansel', school.assignmentId, 'a model');
    await running;
    school.queue.stop();
    expect(stateOf(school).state).toBe('running');
    return school;
  }
  const restart = (school: School, grading: () => Outcome<Graded>) =>
    createQueue({
      db: school.db,
      files: school.files,
      events: createEvents(),
      runner: runnerOf(grading, () => school.files),
      log: pino({ level: 'silent' }),
      now: () => NOON,
    });

  it('the job is taken up again and nothing is lost', async () => {
    const school = await crashed();
    await restart(school, () => GRADED).idle();
    expect(stateOf(school)).toEqual({ state: 'graded', code: null });
    expect(school.db.prepare('SELECT score FROM reports WHERE attempt_id = 1').get()).toEqual({ score: 80 });
  });

  it('a job that took the server down twice is not tried a third time', async () => {
    const school = await crashed();
    school.db.prepare('UPDATE jobs SET tries = 2').run();
    let asked = 0;
    await restart(school, () => {
      asked++;
      return GRADED;
    }).idle();
    expect(asked).toBe(0);
    expect(stateOf(school).code).toBe('kernel-crash');
  });
});

it('works on as many jobs at once as there are workers, and on all of them in the end', async () => {
  let running = 0;
  let most = 0;
  const school = await openSchool(async () => {
    running++;
    most = Math.max(most, running);
    await new Promise((resolve) => setImmediate(resolve));
    running--;
    return GRADED;
  }, 2);
  for (const login of ['ansel', 'fia'])
    for (let i = 0; i < 2; i++) await school.handIn(login, school.assignmentId, `${login} ${String(i)}`);
  await school.queue.idle();
  expect(most).toBeLessThanOrEqual(2);
  expect(school.db.prepare("SELECT count(*) AS n FROM attempts WHERE state = 'graded'").get()).toEqual({ n: 4 });
});
