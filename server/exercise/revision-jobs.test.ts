import { describe, expect, it, vi } from 'vitest';

import type { RevisionJob } from '#api';
import { cleatPlateExercise } from '#demo/exercises';
import { createServer } from '#server/app';
import type { Outcome, Prepared } from '#server/jobs';
import { pino } from 'pino';

import { NOON, openSchool, runnerOf, type School, PATIENCE } from '../testing/fixture.ts';

const PREPARED: Outcome<Prepared> = {
  kind: 'done',
  value: {
    referenceJson: '{"of":"a reference"}',
    size: { volumeMm3: 1000, areaMm2: 600 },
    sheetJson: '{}',
    part: new TextEncoder().encode('ISO-10303-21;'),
    failing: [],
  },
};
const variants = ['A', 'B', 'C'].map((name, i) => ({ name, values: { A: String(100 + i) } }));

/** A school whose exercise has three variants, so that a revision has four parts, each built when the test lets it. */
async function openPatientSchool() {
  const waiting: ((outcome: Outcome<Prepared>) => void)[] = [];
  const prepare = () => new Promise<Outcome<Prepared>>((resolve) => waiting.push(resolve));
  const school = await openSchool(undefined, 1, { prepare });
  const saved = await school.request('orla', 'PUT', '/api/exercises/1/draft', {
    version: 0,
    document: { ...cleatPlateExercise, variants },
  });
  expect(saved.status).toBe(200);
  const build = async (outcome: Outcome<Prepared> = PREPARED): Promise<void> => {
    await vi.waitFor(() => {
      expect(waiting).not.toHaveLength(0);
    }, PATIENCE);
    waiting.shift()?.(outcome);
  };
  return { school, build };
}

const begin = (school: School) => school.request('orla', 'POST', '/api/exercises/1/revisions', { version: 1 });
const jobOf = async (school: School): Promise<RevisionJob | null> =>
  (
    (await school.request('orla', 'GET', '/api/exercises/1/revision-job').then((r) => r.json())) as {
      job: RevisionJob | null;
    }
  ).job;
const revisionsOf = (school: School) =>
  school.db.prepare('SELECT number FROM exercise_revisions WHERE exercise_id = 1 ORDER BY number').pluck().all();

describe('a revision with many variants', () => {
  it('is answered at once and made afterwards, and says how far it is', async () => {
    const { school, build } = await openPatientSchool();
    expect(await jobOf(school)).toBeNull();
    expect((await begin(school)).status).toBe(202);
    for (const done of [1, 2, 3]) {
      await build();
      await vi.waitFor(async () => {
        expect(await jobOf(school)).toMatchObject({ state: 'running', done, total: 4 });
      }, PATIENCE);
    }
    await build();
    await school.revisionJobs.idle();
    expect(await jobOf(school)).toMatchObject({ state: 'done', revision: 2, problem: null });
    expect(revisionsOf(school)).toEqual([1, 2]);
  });

  it('is not made twice by two windows', async () => {
    const { school, build } = await openPatientSchool();
    await begin(school);
    const second = await begin(school);
    expect(second.status).toBe(409);
    expect(await second.json()).toMatchObject({ error: { code: 'revision-running' } });
    for (let i = 0; i < 4; i++) await build();
    await school.revisionJobs.idle();
    expect(revisionsOf(school)).toEqual([1, 2]);
  });

  it('of which one cannot be built is not made, and the reason stays to be read', async () => {
    const { school, build } = await openPatientSchool();
    await begin(school);
    await build();
    await build();
    await build({ kind: 'refused', problem: { code: 'fillet', message: 'Step "Rounds": the radius is too large.' } });
    await school.revisionJobs.idle();
    const problem = { code: 'fillet', message: 'Variant B: Step "Rounds": the radius is too large.' };
    expect(await jobOf(school)).toMatchObject({ state: 'failed', problem });
    expect(revisionsOf(school)).toEqual([1]);
    expect((await begin(school)).status).toBe(202);
  });

  it('is taken up again by the next server where the first one ended', async () => {
    const { school, build } = await openPatientSchool();
    await begin(school);
    await build();
    school.background.stop();
    const runner = {
      ...runnerOf(
        () => ({ kind: 'timed-out' }),
        () => school.files,
      ),
      prepare: () => Promise.resolve(PREPARED),
    };
    const next = createServer(
      { db: school.db, files: school.files, runner, log: pino({ level: 'silent' }), now: () => NOON },
      { webRoot: null, secureCookie: false },
    );
    await next.revisionJobs.idle();
    expect(await jobOf(school)).toMatchObject({ state: 'done', revision: 2 });
    expect(revisionsOf(school)).toEqual([1, 2]);
    next.background.stop();
  });
});
