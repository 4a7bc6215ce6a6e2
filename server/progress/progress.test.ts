import { describe, expect, it } from 'vitest';

import type { Progress } from '#api';

import { NOON, openSchool, type School } from '../testing/fixture.ts';

const progressOf = async (school: School, login: string): Promise<Progress> =>
  (await (await school.request(login, 'GET', '/api/my-progress')).json()) as Progress;

describe('the own progress', () => {
  it('has every measured attempt with what its report tells: score, and kinds of causes', async () => {
    const school = await openSchool();
    expect(await progressOf(school, 'ansel')).toEqual({ attempts: [], times: [], reading: [] });
    await school.handIn('ansel', 1, 'a model');
    await school.queue.idle();
    expect((await progressOf(school, 'ansel')).attempts).toMatchObject([
      {
        attemptId: 1,
        exercise: 'SB-101 Cleat plate',
        score: 80,
        causes: [{ kind: 'wrong-size', message: 'Thickness is 9.0 mm where the sheet says 10.0 mm.' }],
      },
    ]);
    expect((await progressOf(school, 'fia')).attempts).toEqual([]);
    expect((await school.request('orla', 'GET', '/api/my-progress')).status).toBe(403);
  });

  it('tells no more than the reports: neither score nor cause before one is released, no cause where only scores are told', async () => {
    const school = await openSchool();
    await school.handIn('ansel', 1, 'a model');
    await school.queue.idle();
    school.db.prepare("UPDATE assignments SET release = 'by-hand'").run();
    expect((await progressOf(school, 'ansel')).attempts).toMatchObject([{ score: null, causes: [] }]);
    school.db.prepare(`UPDATE assignments SET release = 'automatic', feedback_json = '["score"]'`).run();
    expect((await progressOf(school, 'ansel')).attempts).toMatchObject([{ score: 80, causes: [] }]);
  });

  it('puts the own time logs beside their estimates, stages of one exercise together', async () => {
    const school = await openSchool();
    const at = (minutes: number): string => new Date(NOON.getTime() + minutes * 60_000).toISOString();
    const log = (estimateMinutes: number | null, from: number, to: number | null) => ({
      estimateMinutes,
      spans: [{ from: at(from), to: to === null ? null : at(to) }],
    });
    const put = school.db.prepare(
      "INSERT INTO workings VALUES (1, (SELECT id FROM users WHERE login = 'ansel'), ?, 'time', 1, ?, '2026-05-05T12:00:00.000Z')",
    );
    put.run(1, JSON.stringify(log(60, -120, -50)));
    put.run(2, JSON.stringify(log(null, -30, null)));
    // 70 minutes and the 30 that are running at noon.
    expect((await progressOf(school, 'ansel')).times).toEqual([
      { assignmentId: 1, exercise: 'SB-101 Cleat plate', minutes: 100, estimateMinutes: 60 },
    ]);
    expect((await progressOf(school, 'fia')).times).toEqual([]);
  });
});
