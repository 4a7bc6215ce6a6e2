import { describe, expect, it } from 'vitest';

import type { OpenInWords } from '#api';
import type { Outcome } from '#server/jobs';

import { openSchool, type School } from '../../testing/fixture.ts';

const OPEN: OpenInWords = { undetermined: ['the place of Bolts along X'], unchecked: ['the place of Bolts along X'] };
const CLOSED: OpenInWords = { undetermined: [], unchecked: [] };

/** A school whose studies end as they are told, and what was asked. */
async function openStudied(outcome: () => Outcome<OpenInWords>): Promise<{ school: School; asked: number[] }> {
  const asked: number[] = [];
  const school = await openSchool(undefined, 1, {
    study: ({ stage }) => {
      asked.push(stage);
      return Promise.resolve(outcome());
    },
  });
  return { school, asked };
}
const revisionOf = (school: School): number =>
  (school.db.prepare('SELECT id FROM exercise_revisions').get() as { id: number }).id;

async function studied(outcome: () => Outcome<OpenInWords>) {
  const { school, asked } = await openStudied(outcome);
  school.studies.plan(revisionOf(school));
  await school.studies.finish();
  return { school, asked };
}
const done = (value: OpenInWords) => (): Outcome<OpenInWords> => ({ kind: 'done', value });

describe('the study of a revision', () => {
  it('is worked out once, and told to those who teach the course', async () => {
    const { school, asked } = await studied(done(OPEN));
    school.studies.plan(revisionOf(school));
    await school.studies.finish();
    expect(asked).toEqual([1]);
    const answer = await school.request('orla', 'GET', '/api/exercises/1/open');
    expect(await answer.json()).toEqual({ stages: [{ stage: 1, state: 'done', open: OPEN }] });
    expect((await school.request('pim', 'GET', '/api/exercises/1/open')).status).toBe(404);
    expect((await school.request('ansel', 'GET', '/api/exercises/1/open')).status).toBe(403);
  });

  it('is shared by a revision of the same part, plan and notes', async () => {
    const { school, asked } = await studied(done(CLOSED));
    school.db.exec(`INSERT INTO exercise_revisions
      (exercise_id, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at)
      SELECT exercise_id, 2, document_json, reference_sha256, sheet_sha256, part_sha256, created_at FROM exercise_revisions`);
    school.studies.plan(revisionOf(school) + 1);
    await school.studies.finish();
    expect(asked).toEqual([1]);
    expect(school.studies.of(revisionOf(school) + 1)).toEqual([{ stage: 1, state: 'done', open: CLOSED }]);
  });

  it('that ends its worker is said to have failed, and holds nothing up', async () => {
    const { school } = await studied(() => ({ kind: 'crashed', reason: 'trap' }));
    expect(school.studies.of(revisionOf(school))).toEqual([{ stage: 1, state: 'failed', open: null }]);
    expect((await issue(school)).status).toBe(201);
  });

  it('of a document that cannot be read fails alone: the next one is worked out', async () => {
    const { school, asked } = await openStudied(done(CLOSED));
    school.studies.plan(revisionOf(school));
    school.db.exec(`INSERT INTO exercise_revisions
      (exercise_id, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at)
      SELECT exercise_id, 2, '{}', reference_sha256, sheet_sha256, part_sha256, created_at FROM exercise_revisions`);
    const broken = revisionOf(school) + 1;
    school.db.prepare("INSERT INTO studies VALUES (?, 1, 'broken', 'waiting', NULL)").run(broken);
    await school.studies.finish();
    expect(school.studies.of(broken)).toEqual([{ stage: 1, state: 'failed', open: null }]);
    expect(school.studies.of(revisionOf(school))[0]?.state).toBe('done');
    expect(asked).toEqual([1]);
  });

  it('that was broken off is begun anew', async () => {
    const { school } = await openStudied(done(CLOSED));
    school.studies.plan(revisionOf(school));
    school.db.exec("UPDATE studies SET state = 'running'");
    // What a new process does first.
    school.db.exec("UPDATE studies SET state = 'waiting' WHERE state = 'running'");
    await school.studies.finish();
    expect(school.studies.of(revisionOf(school))[0]?.state).toBe('done');
  });
});

const issue = (school: School, openReason?: string) =>
  school.request('orla', 'POST', '/api/assignments', {
    exerciseId: 1,
    sectionId: 1,
    opensAt: '2026-11-30T08:00:00Z',
    dueAt: '2026-12-07T18:00:00Z',
    attemptsAllowed: 3,
    answers: 'after-due',
    ...(openReason === undefined ? {} : { openReason }),
  });

describe('issuing a sheet that leaves a size open', () => {
  it('asks why, and names the size', async () => {
    const { school } = await studied(done(OPEN));
    for (const reason of [undefined, '   ']) {
      const refused = await issue(school, reason);
      expect(refused.status).toBe(409);
      expect(await refused.json()).toMatchObject({
        error: { code: 'reason-needed', message: expect.stringContaining('the place of Bolts along X') as string },
      });
    }
  });

  it('is done with a reason, which those who teach can read, and students cannot', async () => {
    const { school } = await studied(done(OPEN));
    const answer = await issue(school, 'They are to ask for it.');
    expect(answer.status).toBe(201);
    const { id } = (await answer.json()) as { id: number };
    const page = await school.request('orla', 'GET', `/api/assignments/${String(id)}`);
    expect(await page.json()).toMatchObject({ openReason: 'They are to ask for it.' });
    const work = await school.request('ansel', 'GET', '/api/work');
    expect(await work.text()).not.toContain('They are to ask');
  });

  it('needs none where every size is said, or nobody knows yet', async () => {
    const { school } = await studied(done(CLOSED));
    expect((await issue(school)).status).toBe(201);
    const unknown = await openStudied(done(OPEN));
    expect((await issue(unknown.school)).status).toBe(201);
  });
});
