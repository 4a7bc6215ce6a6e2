import { describe, expect, it, vi } from 'vitest';

import { pino } from 'pino';

import { createEvents } from '#server/events';
import { cleatPlateExercise } from '#demo/exercises';
import { createQueue, type Graded, type GradeTask, type Outcome } from '#server/jobs';

import { GRADED, NOON, openSchool, runnerOf, type School, PATIENCE } from '../testing/fixture.ts';

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
  const restart = (school: School, grading: () => Outcome<Graded>) => restartWith(school, grading);
  const restartWith = (school: School, grading: () => Outcome<Graded> | Promise<Outcome<Graded>>) =>
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

  it('however often it was taken up: that the server ended is no fault of the file', async () => {
    const school = await crashed();
    // Each restart ends in mid-job too, as when somebody restarts the server while a class hands in.
    for (let restarts = 0; restarts < 3; restarts++) {
      let started: () => void = () => undefined;
      const running = new Promise<void>((resolve) => (started = resolve));
      const queue = restartWith(school, () => {
        started();
        return new Promise<Outcome<Graded>>(() => undefined);
      });
      queue.wake();
      await running;
      queue.stop();
    }
    await restart(school, () => GRADED).idle();
    expect(stateOf(school)).toEqual({ state: 'graded', code: null });
  });

  it('a job over which the server ended ten times is refused, and says what to do', async () => {
    const school = await crashed();
    school.db.prepare('UPDATE jobs SET interruptions = 9').run();
    let asked = 0;
    await restart(school, () => {
      asked++;
      return GRADED;
    }).idle();
    expect(asked).toBe(0);
    expect(stateOf(school).code).toBe('interrupted');
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

it('takes one file of each student in turn: nobody keeps the others waiting with many', async () => {
  const order: string[] = [];
  let letGo: () => void = () => undefined;
  const held = new Promise<void>((resolve) => (letGo = resolve));
  const school = await openSchool(async (content) => {
    order.push(content);
    if (content === 'first') await held;
    return GRADED;
  });
  school.db.exec('UPDATE assignments SET attempts_allowed = 20');
  await school.handIn('ansel', school.assignmentId, 'first');
  for (const file of ['ansel 2', 'ansel 3', 'ansel 4']) await school.handIn('ansel', school.assignmentId, file);
  for (const file of ['fia 1', 'fia 2']) await school.handIn('fia', school.assignmentId, file);
  letGo();
  await school.queue.idle();
  // While the first of ansel is measured, fia has had no turn yet.
  expect(order).toEqual(['first', 'fia 1', 'ansel 2', 'fia 2', 'ansel 3', 'ansel 4']);
});

describe('where the disk is full', () => {
  /** Lets the database grow no further, or by as much as it likes. */
  const limit = (school: School, isFull: boolean): void => {
    const pages = school.db.pragma('page_count', { simple: true }) as number;
    school.db.pragma(`max_page_count = ${String(isFull ? pages : 1_000_000)}`);
  };
  /** Fills what is free inside of the pages that there are. */
  const fill = (school: School): void => {
    limit(school, true);
    for (let i = 0; i < 500; i++)
      try {
        school.db.prepare("INSERT INTO files VALUES (?, 1, '')").run(`filler ${String(i)}`.padEnd(2000, 'x'));
      } catch {
        return;
      }
  };

  it('a hand-in is refused with what to do, and nothing of it is stored; what is there can be read', async () => {
    const school = await openSchool();
    await school.cookieOf('ansel');
    fill(school);
    const answers = [];
    for (let i = 0; i < 12; i++)
      answers.push(
        await school.handIn('ansel', school.assignmentId, `file ${String(i)}`, {
          buildLog: '1. Extrude plate\n'.repeat(300),
        }),
      );
    const refused = answers.find(({ status }) => status === 507);
    expect(await refused?.json()).toMatchObject({ error: { code: 'disk-full' } });
    expect((await school.request('ansel', 'GET', '/api/work')).status).toBe(200);
  });

  it('a measured file is not lost: it waits until its report can be written', async () => {
    let isFull = true;
    const logged: string[] = [];
    const log = pino({}, { write: (line: string) => logged.push(line) });
    const grading = () => {
      if (isFull) fill(school);
      return GRADED;
    };
    const school = await openSchool(grading, 1, {}, { log });
    await school.handIn('ansel', school.assignmentId, 'a model');
    await vi.waitFor(() => {
      expect(logged.join()).toContain('grading waits');
    }, PATIENCE);
    expect(stateOf(school).code).toBeNull();
    expect((await school.request('ansel', 'GET', '/api/work/1')).status).toBe(200);
    isFull = false;
    limit(school, false);
    school.queue.wake();
    await school.queue.idle();
    expect(stateOf(school)).toEqual({ state: 'graded', code: null });
    expect(jobsLeft(school)).toEqual({ n: 0 });
  });
});

describe('what a worker is told beside the file', () => {
  /** A school whose tasks are kept as they reach the worker. */
  async function watched(): Promise<{ school: School; tasks: Omit<GradeTask, 'kind'>[] }> {
    const tasks: Omit<GradeTask, 'kind'>[] = [];
    const school = await openSchool(undefined, 1, {
      grade: (task) => {
        tasks.push(task);
        return Promise.resolve(GRADED);
      },
    });
    return { school, tasks };
  }

  it('is nothing out of the ordinary for a file in time, without a list of steps', async () => {
    const { school, tasks } = await watched();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    expect(tasks[0]).toMatchObject({ circumstances: { lateMs: 0, log: { steps: [] }, others: [] }, replay: null });
  });

  it('is the list of steps as it is read, and the exercise where the list is a recipe', async () => {
    const { school, tasks } = await watched();
    await school.handIn('ansel', school.assignmentId, 'a model', { buildLog: 'Extrude plate\nHole 9 through all' });
    const recipe = JSON.stringify(cleatPlateExercise.recipe);
    await school.handIn('fia', school.assignmentId, 'a model', { buildLog: recipe });
    await school.queue.idle();
    expect(tasks.map(({ circumstances }) => circumstances.log?.format)).toEqual(['text', 'recipe']);
    expect(tasks.map(({ replay }) => replay?.exercise.number ?? null)).toEqual([null, 'SB-101']);
  });

  it('is how many days late it came', async () => {
    const { school, tasks } = await watched();
    school.db.prepare('UPDATE assignments SET late_until = ?').run('2026-05-30T12:00:00.000Z');
    // Due at 22:00; handed in half a day later.
    school.setHour(22);
    school.signOutAll();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    expect(tasks[0]?.circumstances.lateMs).toBe(12 * 3_600_000);
  });

  it('are the sizes of the parts of other exercises of the course, not of its own', async () => {
    const { school, tasks } = await watched();
    const { sha256 } = await school.files.put(Buffer.from('another reference'));
    const revision = school.db
      .prepare<[], { id: number; reference: string }>(
        'SELECT id, reference_sha256 AS reference FROM exercise_revisions WHERE exercise_id = 1',
      )
      .get();
    school.db.exec("INSERT INTO exercises (id, course_id, number, title) VALUES (7, 1, 'SB-102', 'Fairlead block')");
    school.db
      .prepare(
        `INSERT INTO exercise_revisions (exercise_id, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at)
         SELECT 7, 1, document_json, ?, sheet_sha256, part_sha256, created_at FROM exercise_revisions WHERE id = ?`,
      )
      .run(sha256, revision?.id);
    const size = school.db.prepare('INSERT INTO part_sizes VALUES (?, ?, ?)');
    size.run(sha256, 5000, 1900);
    size.run(revision?.reference, 67_124, 19_572);
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    expect(tasks[0]?.circumstances.others).toEqual([{ name: 'SB-102 Fairlead block', volumeMm3: 5000, areaMm2: 1900 }]);
  });
});
