import { describe, expect, it } from 'vitest';

import type { WorkItem } from '#api';
import { cleatPlateExercise } from '#demo/exercises';

import { openSchool, REFUSED, type School } from '../testing/fixture.ts';

/** The exercise of the school asks a second time, with a longer plate and a sheet of its own. */
async function withStage(school: School): Promise<void> {
  const stages = [{ title: 'A longer plate', brief: 'Make A 140.', values: { A: '140' } }];
  school.db
    .prepare('UPDATE exercise_revisions SET document_json = ?')
    .run(JSON.stringify({ ...cleatPlateExercise, stages }));
  const sheet = await school.files.put(Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" id="second"/>'));
  const reference = await school.files.put(Buffer.from('second reference'));
  school.db.prepare('INSERT INTO revision_parts VALUES (1, -1, 2, ?, ?)').run(reference.sha256, sheet.sha256);
}

const work = async (school: School, query = '') =>
  (await school.request('ansel', 'GET', `/api/work/${String(school.assignmentId)}${query}`).then((r) => r.json())) as {
    stage: number;
    stages: { title: string; open: boolean; bestScore: number | null }[];
    letters: { name: string; value: string }[];
    attempts: unknown[];
    attemptsUsed: number;
    brief: string;
  };
const sheetOf = (school: School, stage: number) =>
  school.request('ansel', 'GET', `/api/work/${String(school.assignmentId)}/sheet.svg?stage=${String(stage)}`);

async function handIn(school: School, stage: number): Promise<Response> {
  const form = new FormData();
  form.append('file', new File(['a model'], 'part.step'));
  form.append('stage', String(stage));
  const answer = await school.app.request(`/api/work/${String(school.assignmentId)}/attempts`, {
    method: 'POST',
    headers: { cookie: await school.cookieOf('ansel'), origin: 'http://localhost' },
    body: form,
  });
  await school.queue.idle();
  return answer;
}

describe('a second stage', () => {
  it('is closed, sheet and all, until the first was measured', async () => {
    const school = await openSchool();
    await withStage(school);
    expect(await work(school)).toMatchObject({ stage: 1, stages: [{ open: true }, { open: false }] });
    expect((await sheetOf(school, 2)).status).toBe(404);
    expect((await handIn(school, 2)).status).toBe(409);
    expect((await school.request('ansel', 'GET', `/api/work/${String(school.assignmentId)}?stage=2`)).status).toBe(404);
  });

  it('stays closed after a file that could not be read', async () => {
    const school = await openSchool(() => REFUSED);
    await withStage(school);
    await handIn(school, 1);
    expect((await work(school)).stage).toBe(1);
  });

  it('then asks with its own letters, words, sheet, reference and number of attempts', async () => {
    const school = await openSchool();
    await withStage(school);
    await handIn(school, 1);
    const second = await work(school);
    expect(second).toMatchObject({ stage: 2, attemptsUsed: 0, attempts: [], brief: 'Make A 140.' });
    expect(second.letters.find(({ name }) => name === 'A')?.value).toBe('140');
    expect(await sheetOf(school, 2).then((r) => r.text())).toContain('id="second"');
    expect(await sheetOf(school, 1).then((r) => r.text())).not.toContain('second');
    expect((await handIn(school, 2)).status).toBe(202);
    expect(await work(school, '?stage=1')).toMatchObject({
      attemptsUsed: 1,
      stages: [{ bestScore: 80 }, { bestScore: 80 }],
    });
    const attempt = await school.request('orla', 'GET', '/api/attempts/2').then((r) => r.json());
    expect(attempt).toMatchObject({ stage: 'A longer plate', number: 1 });
  });

  it('counts half: the score is the mean over the stages', async () => {
    const school = await openSchool();
    await withStage(school);
    await handIn(school, 1);
    const item = async () => {
      const { work: items } = (await school.request('ansel', 'GET', '/api/work').then((r) => r.json())) as {
        work: WorkItem[];
      };
      return items.find(({ id }) => id === school.assignmentId);
    };
    // The list says which stage the attempts are of, and that the score is over both.
    expect(await item()).toMatchObject({ bestScore: 40, stage: 2, stageCount: 2, attemptsUsed: 0 });
    await handIn(school, 2);
    expect(await item()).toMatchObject({ bestScore: 80, stage: 2, stageCount: 2, attemptsUsed: 1 });
    const { assignments } = (await school.request('orla', 'GET', '/api/assignments').then((r) => r.json())) as {
      assignments: { id: number; medianScore: number }[];
    };
    expect(assignments.find(({ id }) => id === school.assignmentId)?.medianScore).toBe(80);
  });
});
