import { describe, expect, it } from 'vitest';

import type { Progress } from '#api';

import { openSchool, type School } from '../testing/fixture.ts';

const progressOf = async (school: School, login: string): Promise<Progress> =>
  (await (await school.request(login, 'GET', '/api/my-progress')).json()) as Progress;

describe('the own progress', () => {
  it('has every measured attempt with what its report tells: score, and kinds of causes', async () => {
    const school = await openSchool();
    expect(await progressOf(school, 'ansel')).toEqual({ attempts: [], reading: [] });
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
});
