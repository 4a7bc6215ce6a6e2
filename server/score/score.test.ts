import { describe, expect, it } from 'vitest';

import type { PolicyAnswer, Rescored } from '#api';
import type { Report } from '#core/grade';
import { cleatPlateExercise } from '#demo/exercises';

import { openSchool, type School } from '../testing/fixture.ts';
import { openMeasuredSchool, thickPlate } from '../testing/measured.ts';

const KEY = { dimensions: 0, features: 0, properties: 100, 'model-quality': 0 };
const policy = { ...cleatPlateExercise.scoring, shares: KEY };

const path = ({ assignmentId }: School): string => `/api/assignments/${String(assignmentId)}/policy`;
const ask = async (school: School, body: unknown): Promise<Rescored> =>
  (await (await school.request('orla', 'POST', path(school), body)).json()) as Rescored;
const scoreOf = (school: School) =>
  school.db.prepare('SELECT score, policy_json AS policyJson, program FROM reports').get() as {
    score: number;
    policyJson: string;
    program: string;
  };

describe('another policy', () => {
  it('is looked at without changing anything', async () => {
    const school = await openMeasuredSchool();
    const before = scoreOf(school).score;
    const { changes, applied } = await ask(school, { policy, apply: false });
    expect(applied).toBe(false);
    expect(changes).toHaveLength(1);
    expect(changes[0]).toMatchObject({ student: 'ansel', before });
    expect(changes[0]?.after).toBeLessThan(before);
    expect(scoreOf(school).score).toBe(before);
  });

  it('holds from its confirmation on, and says what each score was made with', async () => {
    const school = await openMeasuredSchool();
    const { changes } = await ask(school, { policy, apply: true });
    const { score, policyJson, program } = scoreOf(school);
    expect(score).toBe(changes[0]?.after);
    expect(JSON.parse(policyJson)).toEqual(policy);
    expect(program).toMatch(/^\d+\.\d+/);
    const answer = (await (await school.request('orla', 'GET', path(school))).json()) as PolicyAnswer;
    expect(answer).toMatchObject({ policy, own: true });
  });

  it('is given up for that of the exercise', async () => {
    const school = await openMeasuredSchool();
    const before = scoreOf(school).score;
    await ask(school, { policy, apply: true });
    await ask(school, { policy: null, apply: true });
    expect(scoreOf(school).score).toBe(before);
    const answer = (await (await school.request('orla', 'GET', path(school))).json()) as PolicyAnswer;
    expect(answer).toMatchObject({ policy: cleatPlateExercise.scoring, own: false });
  });

  it('and what is decided of a line in the same moment both hold', async () => {
    const school = await openMeasuredSchool();
    const override = (version: number) => ({
      version,
      action: { kind: 'override', lineId: 'volume', credit: 1, reason: 'The print was smudged.' },
    });
    const decide = (version: number) => school.request('orla', 'POST', '/api/attempts/1/review', override(version));
    await Promise.all([ask(school, { policy, apply: true }), decide(0)]);
    const together = scoreOf(school);
    expect(JSON.parse(together.policyJson)).toEqual(policy);
    // One after the other gives the same.
    await ask(school, { policy, apply: true });
    expect(scoreOf(school).score).toBe(together.score);
    const { report } = (await (await school.request('orla', 'GET', '/api/attempts/1')).json()) as { report: Report };
    expect(report.lines.find(({ checkId }) => checkId === 'volume')?.override?.credit).toBe(1);
  });

  it('takes points for dimensions that were not measured, where that counted at the hand-in', async () => {
    const school = await openMeasuredSchool();
    const before = scoreOf(school).score;
    school.db.prepare('UPDATE attempts SET round_open = 3, round_all = 12').run();
    // A quarter of 20 points.
    await ask(school, { policy: { ...cleatPlateExercise.scoring, roundPoints: 20 }, apply: true });
    expect(scoreOf(school).score).toBeCloseTo(before - 5, 6);
  });

  it('scores what is handed in later, too', async () => {
    const school = await openMeasuredSchool();
    await ask(school, { policy, apply: true });
    await school.handIn('fia', school.assignmentId, 'a model');
    await school.queue.idle();
    const policies = school.db.prepare('SELECT policy_json AS policyJson FROM reports').all() as {
      policyJson: string;
    }[];
    expect(policies.map(({ policyJson }) => JSON.parse(policyJson) as unknown)).toEqual([policy, policy]);
  });

  it('that is set while an attempt is being graded holds for that one as well', async () => {
    let release: () => void = () => undefined;
    const held = new Promise<void>((resolve) => {
      release = resolve;
    });
    const { reference, wrong } = await thickPlate();
    const { measurement, report } = wrong;
    const school = await openSchool(async () => {
      await held;
      return { kind: 'done', value: { measurement, report, diagnosis: null, modelJson: '{}', overlayJson: null } };
    });
    const { sha256 } = await school.files.put(Buffer.from(JSON.stringify(reference)));
    school.db.prepare('UPDATE exercise_revisions SET reference_sha256 = ?').run(sha256);
    await school.handIn('ansel', school.assignmentId, 'a model');
    await ask(school, { policy, apply: true });
    release();
    await school.queue.idle();
    expect(JSON.parse(scoreOf(school).policyJson)).toEqual(policy);
    expect(scoreOf(school).score).toBeLessThan(report.score);
  });

  it('is for those who teach the course, and has to be one', async () => {
    const school = await openMeasuredSchool();
    const status = async (login: string, body: unknown) =>
      (await school.request(login, 'POST', path(school), body)).status;
    expect(await status('pim', { policy, apply: true })).toBe(404);
    expect(await status('ansel', { policy, apply: true })).toBe(403);
    expect(await status('orla', { policy: { ...policy, toleranceFactor: 0 }, apply: true })).toBe(400);
    expect(await status('orla', { policy: {}, apply: true })).toBe(400);
  });
});
