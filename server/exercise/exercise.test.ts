import { describe, expect, it } from 'vitest';

import { cleatPlateExercise, winchDrumExercise } from '#demo/exercises';
import { createExercises } from '#server/exercise';
import type { Outcome, Prepared, Runner } from '#server/jobs';

import { NOON, openSchool, type School } from '../testing/fixture.ts';

const PREPARED: Prepared = {
  referenceJson: '{"of":"a reference"}',
  size: { volumeMm3: 1000, areaMm2: 600 },
  sheetJson: '{}',
  part: new TextEncoder().encode('ISO-10303-21;'),
  failing: [],
};

function exercisesOf(school: School, outcome: Outcome<Prepared>) {
  const runner: Runner = {
    unpack: () => Promise.reject(new Error('not in this test')),
    coverage: () => Promise.reject(new Error('not in this test')),
    cutTerm: () => Promise.reject(new Error('not in this test')),
    print: () => Promise.reject(new Error('not in this test')),
    width: 1,
    ended: () => ({ crashed: 0, timedOut: 0, replaced: 0 }),
    grade: () => Promise.reject(new Error('not in this test')),
    prepare: () => Promise.resolve(outcome),
    atlas: () => Promise.reject(new Error('not in this test')),
    gather: () => Promise.reject(new Error('not in this test')),
    study: () => Promise.reject(new Error('not in this test')),
    lookalikes: () => Promise.reject(new Error('not in this test')),
    diagnose: () => Promise.reject(new Error('not in this test')),
    close: () => Promise.resolve(),
  };
  return createExercises({ db: school.db, files: school.files, runner, now: () => NOON });
}

const revisionsOf = (school: School, number: string): unknown =>
  school.db
    .prepare(
      `SELECT exercise_revisions.number AS revision FROM exercise_revisions
       JOIN exercises ON exercises.id = exercise_revisions.exercise_id WHERE exercises.number = ? ORDER BY 1`,
    )
    .all(number);

describe('saving an exercise', () => {
  it('makes a new exercise with revision 1, and files for reference, sheet and model', async () => {
    const school = await openSchool();
    const saved = await exercisesOf(school, { kind: 'done', value: PREPARED }).save(1, winchDrumExercise);
    expect(saved.ok).toBe(true);
    expect(revisionsOf(school, 'SB-201')).toEqual([{ revision: 1 }]);
    const row = exercisesOf(school, { kind: 'done', value: PREPARED })
      .listFor(1)
      .find((candidate) => candidate.id === (saved.ok ? saved.value.exerciseId : 0));
    expect((await school.files.read(row?.referenceSha256 ?? '')).toString()).toBe(PREPARED.referenceJson);
    expect((await school.files.read(row?.sheetSha256 ?? '')).toString()).toBe(PREPARED.sheetJson);
  });

  it('of a number that exists adds a revision; what was issued keeps the old one', async () => {
    const school = await openSchool();
    await exercisesOf(school, { kind: 'done', value: PREPARED }).save(1, { ...cleatPlateExercise, brief: 'New brief' });
    expect(revisionsOf(school, 'SB-101')).toEqual([{ revision: 1 }, { revision: 2 }]);
    const issued = (await school.request('orla', 'GET', '/api/assignments/1').then((r) => r.json())) as object;
    expect(issued).toMatchObject({ exerciseNumber: 'SB-101', revision: 1 });
    const work = await school.request('ansel', 'GET', '/api/work/1').then((r) => r.text());
    expect(work).not.toContain('New brief');
  });

  it.each([
    [
      'whose reference fails its own plan',
      { kind: 'done', value: { ...PREPARED, failing: ['length', 'bore'] } },
      'reference-fails',
      'length, bore',
    ],
    [
      'whose step cannot be built',
      { kind: 'refused', problem: { code: 'fillet', message: 'Step "Rounds": the radius may be too large.' } },
      'fillet',
      'Step "Rounds"',
    ],
    ['that takes too long', { kind: 'timed-out' }, 'not-prepared', 'simplify the recipe'],
  ] as [string, Outcome<Prepared>, string, string][])(
    '%s is refused and stores nothing',
    async (_name, outcome, code, words) => {
      const school = await openSchool();
      const saved = await exercisesOf(school, outcome).save(1, winchDrumExercise);
      expect(saved.ok ? '' : saved.problem.code).toBe(code);
      expect(saved.ok ? '' : saved.problem.message).toContain(words);
      expect(revisionsOf(school, 'SB-201')).toEqual([]);
    },
  );
});

describe('the list of exercises', () => {
  it('says how often each was issued, for those who teach the course', async () => {
    const school = await openSchool();
    const answer: unknown = await school.request('orla', 'GET', '/api/exercises').then((r) => r.json());
    expect(answer).toMatchObject({
      exercises: [
        {
          number: 'SB-101',
          title: 'Cleat plate',
          unit: 'mm',
          material: 'Aluminum alloy',
          revision: 1,
          steps: 4,
          assignments: 2,
        },
      ],
    });
  });
});
