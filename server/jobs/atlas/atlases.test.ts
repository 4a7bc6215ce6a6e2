import { setImmediate } from 'node:timers/promises';

import { beforeAll, describe, expect, it, vi } from 'vitest';

import { prepareExercise } from '#core/attempt';
import { blankExercise, type Exercise } from '#core/exercise';
import type { Report } from '#core/grade';
import { NO_DIAGNOSIS, type Diagnosis, type MadeMistake, type Mistake } from '#core/mistake';
import { unwrap } from '#core/problem';
import { cleatPlateExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';
import type { AtlasChunk, Outcome, Runner } from '#server/jobs';

import { openSchool, type School, PATIENCE } from '../../testing/fixture.ts';

const MISTAKE: Mistake = {
  id: 'radius-for-diameter:bolts/diameter=4.5',
  kind: 'radius-for-diameter',
  prior: 9,
  edits: [{ kind: 'set', stepId: 'bolts', path: ['diameter'], value: '4.5' }],
  expression: '9',
  stepIds: ['bolts'],
  message: 'Bolt holes: the diameter is 4.5 mm where the sheet gives 9.0 mm.',
  summary: 'radius typed for a diameter: Bolt holes',
};
const MADE: MadeMistake = { kind: 'unbuilt', id: 'x' };
const FOUND: Diagnosis = {
  hypotheses: [
    { mistakes: [MISTAKE], certainty: 0.98, fit: 'complete', checks: [], roots: [], same: [], inPlace: false },
  ],
};
const EMPTY_ATLAS = JSON.stringify({
  version: 1,
  reference: { fingerprint: Array.from({ length: 11 }, () => 1), sizeMm: [1, 1, 1] },
  entries: [],
  unchanged: ['a'],
  unbuilt: ['x'],
});

interface Asked {
  readonly chunks: number[];
  gathered: number;
  diagnosed: number;
}

/** A runner whose parts have twelve mistakes, and whose attempts all show one. */
function making(asked: Asked, chunk: () => Outcome<AtlasChunk> | null = () => null): Partial<Runner> {
  return {
    atlas: ({ from }) => {
      asked.chunks.push(from);
      return Promise.resolve(chunk() ?? { kind: 'done', value: { total: 12, made: [MADE] } });
    },
    gather: () => {
      asked.gathered++;
      return Promise.resolve({ kind: 'done', value: { atlasJson: EMPTY_ATLAS, proposals: [] } });
    },
    diagnose: () => {
      asked.diagnosed++;
      return Promise.resolve({ kind: 'done', value: FOUND });
    },
  };
}
const fresh = (): Asked => ({ chunks: [], gathered: 0, diagnosed: 0 });
const revisionOf = (school: School): number =>
  (school.db.prepare('SELECT id FROM exercise_revisions').get() as { id: number }).id;
function reportOf(school: School): { readonly diagnosis: unknown; readonly causes: readonly string[] } {
  const row = school.db
    .prepare('SELECT report_json AS reportJson, diagnosis_json AS diagnosisJson FROM reports')
    .get() as {
    reportJson: string;
    diagnosisJson: string | null;
  };
  const { causes } = JSON.parse(row.reportJson) as Report;
  return {
    diagnosis: row.diagnosisJson === null ? null : (JSON.parse(row.diagnosisJson) as unknown),
    causes: causes.map(({ id }) => id),
  };
}

/** Another revision of the exercise of the school, with another document and the same files. */
const addRevision = (school: School, document: Exercise): number =>
  Number(
    school.db
      .prepare(
        `INSERT INTO exercise_revisions
           (exercise_id, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at)
         SELECT exercise_id, max(number) + 1, ?, reference_sha256, sheet_sha256, part_sha256, created_at
         FROM exercise_revisions`,
      )
      .run(JSON.stringify(document)).lastInsertRowid,
  );

let referenceJson: string;
beforeAll(async () => {
  referenceJson = JSON.stringify(unwrap(prepareExercise(await loadKernel(), cleatPlateExercise)).reference);
});

/** A school whose part has a real reference, by which attempts can be scored anew. */
async function openWith(own: Partial<Runner>): Promise<School> {
  const school = await openSchool(undefined, 1, own);
  const { sha256 } = await school.files.put(Buffer.from(referenceJson));
  school.db.prepare('UPDATE exercise_revisions SET reference_sha256 = ?').run(sha256);
  return school;
}

describe('the atlas of a revision', () => {
  it('is built a few mistakes at a time, each once, and then kept', async () => {
    const asked = fresh();
    const school = await openSchool(undefined, 1, making(asked));
    const revision = revisionOf(school);
    expect(school.atlases.stateOf(revision)).toMatchObject({ state: 'none', atlasSha256: null });
    await school.atlases.make(revision);
    expect(asked).toMatchObject({ chunks: [0, 5, 10], gathered: 1 });
    const { state, atlasSha256 } = school.atlases.stateOf(revision);
    expect(state).toBe('done');
    expect((await school.files.read(atlasSha256 ?? '')).toString()).toBe(EMPTY_ATLAS);
  });

  it('of a part that was read from a file is built with that file', async () => {
    const paths: unknown[] = [];
    const school = await openSchool(undefined, 1, {
      ...making(fresh()),
      atlas: ({ modelPath }) => {
        paths.push(modelPath);
        return Promise.resolve({ kind: 'done', value: { total: 1, made: [MADE] } });
      },
    });
    const { sha256 } = await school.files.put(Buffer.from('a model'));
    const model = { sha256, fileName: 'plate.step', unit: 'mm' } as const;
    const document: Exercise = { ...blankExercise('SB-900', 'Plate', 'mm'), model };
    school.db.prepare('UPDATE exercise_revisions SET document_json = ?').run(JSON.stringify(document));
    await school.atlases.make(revisionOf(school));
    expect(paths).toEqual([school.files.pathOf(sha256)]);
    expect(school.atlases.stateOf(revisionOf(school)).state).toBe('done');
  });

  it('is shared by a revision that has the same part and plan', async () => {
    const asked = fresh();
    const school = await openSchool(undefined, 1, making(asked));
    await school.atlases.make(revisionOf(school));
    const second = addRevision(school, cleatPlateExercise);
    await school.atlases.make(second);
    expect(asked.gathered).toBe(1);
    expect(school.atlases.stateOf(second).state).toBe('done');
  });

  it('that was made of other mistakes is made anew when the server starts', async () => {
    const asked = fresh();
    const school = await openSchool(undefined, 1, making(asked));
    const revision = revisionOf(school);
    await school.atlases.make(revision);
    const stored = () => school.db.prepare('SELECT inputs_sha256 AS inputs FROM atlases').get();
    const inputs = stored();
    school.db.exec("UPDATE atlases SET inputs_sha256 = 'of another catalogue'");
    school.atlases.start();
    await vi.waitFor(() => {
      expect(asked.gathered).toBe(2);
    }, PATIENCE);
    expect(stored()).toEqual(inputs);
    // Started again, nothing has changed: it stays as it is.
    school.atlases.start();
    await setImmediate();
    expect(school.atlases.stateOf(revision).state).toBe('done');
    expect(asked.gathered).toBe(2);
  });

  it('goes on without mistakes that end their worker', async () => {
    const asked = fresh();
    let call = 0;
    const school = await openSchool(
      undefined,
      1,
      making(asked, () => (++call === 2 ? { kind: 'crashed', reason: 'trap' } : null)),
    );
    await school.atlases.make(revisionOf(school));
    expect(school.atlases.stateOf(revisionOf(school)).state).toBe('done');
  });

  it('that cannot be begun is said to have failed, why, and when it is tried again; in the end not by itself', async () => {
    const school = await openSchool(
      undefined,
      1,
      making(fresh(), () => ({ kind: 'timed-out' })),
    );
    const after: (string | null)[] = [];
    for (let i = 0; i < 4; i++) {
      await school.atlases.make(revisionOf(school));
      const { state, reason, retryAt } = school.atlases.stateOf(revisionOf(school));
      expect([state, reason]).toEqual(['failed', 'Building the part with a mistake took too long.']);
      after.push(retryAt);
    }
    // The clock stands at noon: 5 and 30 minutes, then four hours later.
    expect(after.map((time) => time?.slice(11, 16))).toEqual(['12:05', '12:30', '16:00', undefined]);
  });

  it('that failed is made at the next try, which an author can ask for', async () => {
    let isBusy = true;
    const school = await openSchool(
      undefined,
      1,
      making(fresh(), () => (isBusy ? { kind: 'timed-out' } : null)),
    );
    await school.atlases.make(revisionOf(school));
    isBusy = false;
    for (const login of ['tilda', 'ansel', 'pim'])
      expect((await school.request(login, 'POST', '/api/exercises/1/coverage/retry', {})).ok).toBe(false);
    expect(school.atlases.stateOf(revisionOf(school)).state).toBe('failed');
    expect((await school.request('orla', 'POST', '/api/exercises/1/coverage/retry', {})).status).toBe(202);
    expect(school.atlases.stateOf(revisionOf(school)).state).toBe('waiting');
  });

  it('gives way to a grade, and goes on where it was', async () => {
    const asked = fresh();
    let isFirst = true;
    const school = await openSchool(
      undefined,
      1,
      making(asked, () => {
        if (!isFirst) return null;
        isFirst = false;
        return { kind: 'gave-way' };
      }),
    );
    await school.atlases.make(revisionOf(school));
    expect(asked.chunks).toEqual([0, 0, 5, 10]);
    expect(school.atlases.stateOf(revisionOf(school)).state).toBe('done');
  });

  it('is not made anew for another label or weight of a check, but for another tolerance', async () => {
    const asked = fresh();
    const school = await openSchool(undefined, 1, making(asked));
    await school.atlases.make(revisionOf(school));
    const revised = (change: object) => {
      const checks = cleatPlateExercise.checks.map((check, i) => (i === 0 ? { ...check, ...change } : check));
      return addRevision(school, { ...cleatPlateExercise, checks });
    };
    await school.atlases.make(revised({ label: 'Another name', weight: 3 }));
    expect(asked.gathered).toBe(1);
    await school.atlases.make(revised({ tolerance: '0.4' }));
    expect(asked.gathered).toBe(2);
  });

  it('is begun anew when its server ended in the middle', async () => {
    const asked = fresh();
    const school = await openSchool(undefined, 1, making(asked));
    school.atlases.plan(revisionOf(school));
    school.db.exec("UPDATE atlases SET state = 'running', done = 5, total = 12");
    // What a new process does first.
    school.db.exec("UPDATE atlases SET state = 'waiting', done = 0 WHERE state = 'running'");
    await school.atlases.make(revisionOf(school));
    expect(asked.chunks).toEqual([0, 5, 10]);
  });

  it('is told to those who teach the course, with what the plan catches', async () => {
    const school = await openSchool(undefined, 1, making(fresh()));
    const ask = (login: string) => school.request(login, 'GET', '/api/exercises/1/coverage');
    expect(await (await ask('orla')).json()).toMatchObject({ state: 'none', coverage: null });
    await school.atlases.make(revisionOf(school));
    expect(await (await ask('orla')).json()).toMatchObject({
      state: 'done',
      coverage: { score: 1, counts: { entries: 0, unchanged: 1, unbuilt: 1 } },
    });
    expect((await ask('pim')).status).toBe(404);
    expect((await ask('ansel')).status).toBe(403);
  });
});

describe('the atlases of variants', () => {
  it('tell which values make a mistake hard to tell', async () => {
    const volumes = [1.2, 1.001, 1.2];
    const atlasWith = (volume: number): string =>
      JSON.stringify({
        ...(JSON.parse(EMPTY_ATLAS) as object),
        entries: [
          {
            mistake: MISTAKE,
            fingerprint: [volume, ...Array.from({ length: 10 }, () => 1)],
            sizeMm: [1, 1, 1],
            bodies: 1,
            checks: [],
            failing: [],
            roots: [],
            same: [],
          },
        ],
      });
    const school = await openSchool(undefined, 1, {
      ...making(fresh()),
      gather: () =>
        Promise.resolve({ kind: 'done', value: { atlasJson: atlasWith(volumes.shift() ?? 1), proposals: [] } }),
    });
    const document: Exercise = {
      ...cleatPlateExercise,
      variants: ['150', '160', '170'].map((value, i) => ({ name: `V${String(i + 1)}`, values: { A: value } })),
    };
    school.db.prepare('UPDATE exercise_revisions SET document_json = ?').run(JSON.stringify(document));
    const ask = async (login: string) => school.request(login, 'GET', '/api/exercises/1/coverage/variants');
    expect(await (await ask('orla')).json()).toEqual({ variants: 3, tested: 0, waiting: 0, blurs: [] });
    await school.atlases.make(revisionOf(school));
    await school.atlases.make(revisionOf(school), 0);
    await school.atlases.make(revisionOf(school), 1);
    expect(await (await ask('orla')).json()).toEqual({
      variants: 3,
      tested: 2,
      waiting: 1,
      blurs: [{ name: 'V1', keepVolume: [MISTAKE.summary], alike: [] }],
    });
    expect((await ask('ansel')).status).toBe(403);
  });
});

describe('attempts', () => {
  it('that were graded before there was an atlas are looked up in it afterwards, and scored with what was found', async () => {
    const asked = fresh();
    const school = await openWith(making(asked));
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    expect(reportOf(school)).toEqual({ diagnosis: null, causes: ['wrong-size'] });
    await school.atlases.make(revisionOf(school));
    expect(asked.diagnosed).toBe(1);
    expect(reportOf(school)).toEqual({ diagnosis: FOUND, causes: ['radius-for-diameter'] });
  });

  it('that no single mistake explains are looked at again, once', async () => {
    const asked = fresh();
    const school = await openWith(making(asked));
    await school.atlases.make(revisionOf(school));
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    await school.atlases.lookAgain();
    await school.atlases.lookAgain();
    expect(asked.diagnosed).toBe(1);
    expect(reportOf(school).causes).toEqual(['radius-for-diameter']);
  });

  it('that could not be looked up for want of time are looked up later', async () => {
    const asked = fresh();
    let isBusy = true;
    const school = await openWith({
      ...making(asked),
      diagnose: () => Promise.resolve(isBusy ? { kind: 'timed-out' } : { kind: 'done', value: FOUND }),
    });
    await school.atlases.make(revisionOf(school));
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    await school.atlases.lookAgain();
    isBusy = false;
    await school.atlases.lookAgain();
    expect(reportOf(school).diagnosis).toBeNull();
    school.setHour(0.1);
    await school.atlases.lookAgain();
    expect(reportOf(school).causes).toEqual(['radius-for-diameter']);
  });

  it('that cannot be looked up keep their report, and are not tried for ever', async () => {
    const asked = fresh();
    let tries = 0;
    const school = await openWith({
      ...making(asked),
      diagnose: () => {
        tries++;
        return Promise.resolve({ kind: 'crashed', reason: 'trap' });
      },
    });
    await school.atlases.make(revisionOf(school));
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    for (const hour of [0, 1, 2, 8, 16, 24]) {
      school.setHour(hour);
      await school.atlases.lookAgain();
    }
    expect(tries).toBe(4);
    expect(reportOf(school)).toEqual({ diagnosis: NO_DIAGNOSIS, causes: ['wrong-size'] });
  });
});
