import { describe, expect, it } from 'vitest';

import type { AssignmentDetail, AttemptDetail, GradebookAnswer, News, WorkDetail } from '#api';
import { cleatPlateExercise } from '#demo/exercises';
import type { Graded, Outcome } from '#server/jobs';

import { GRADED, NOON, openSchool, type Grading, type School } from '../testing/fixture.ts';

/** A grading that ends with another score each time it is asked. */
function scoresOneAfterTheOther(...scores: readonly (number | 'too-long')[]): Grading {
  let place = 0;
  return (): Outcome<Graded> => {
    const score = scores[Math.min(place++, scores.length - 1)] ?? 0;
    if (score === 'too-long' || GRADED.kind !== 'done') return { kind: 'timed-out' };
    const { report } = GRADED.value;
    return { kind: 'done', value: { ...GRADED.value, report: { ...report, score, scoreBeforeRelease: score } } };
  };
}

/** Makes revision 2 of the exercise, with another document where one is given. */
function revise(school: School, change: object = {}): void {
  school.db
    .prepare(
      `INSERT INTO exercise_revisions (exercise_id, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at)
       SELECT exercise_id, 2, ?, reference_sha256, sheet_sha256, part_sha256, ? FROM exercise_revisions WHERE number = 1`,
    )
    .run(JSON.stringify({ ...cleatPlateExercise, ...change }), NOON.toISOString());
}
const correct = (school: School, body: object = {}, login = 'orla') =>
  school.request(login, 'POST', '/api/assignments/1/correct', {
    revision: 2,
    reason: 'The slot was 21 long.',
    ...body,
  });
const detailOf = async (school: School): Promise<AssignmentDetail> =>
  (await (await school.request('orla', 'GET', '/api/assignments/1')).json()) as AssignmentDetail;

/** A school where two have handed in what was scored 60 and 80, and a revision 2. */
async function openRevised(...later: readonly (number | 'too-long')[]): Promise<School> {
  const school = await openSchool(scoresOneAfterTheOther(60, 80, ...later));
  for (const login of ['ansel', 'fia']) {
    await school.handIn(login, 1, 'a model');
    await school.queue.idle();
  }
  revise(school);
  return school;
}

describe('an assignment whose key was wrong', () => {
  it('is told that there is a newer revision, and what would be measured anew', async () => {
    const school = await openRevised();
    expect((await detailOf(school)).newer).toEqual({ revision: 2, attempts: 2, students: 2 });
  });

  it('gets the newer revision, is measured anew, and says whose score is another one', async () => {
    const school = await openRevised(90, 80);
    expect((await correct(school)).status).toBe(202);
    expect((await detailOf(school)).corrections).toMatchObject([{ from: 1, to: 2, pending: 2, changed: [] }]);
    await school.queue.idle();
    const detail = await detailOf(school);
    expect(detail).toMatchObject({ revision: 2, newer: null });
    expect(detail.corrections).toMatchObject([
      { pending: 0, kept: 0, same: 1, changed: [{ student: 'ansel', before: 60, after: 90 }], by: 'orla' },
    ]);
    const report = (await (await school.request('ansel', 'GET', '/api/attempts/1')).json()) as AttemptDetail;
    expect(report.report?.score).toBe(90);
  });

  it('costs no attempt, and its students hear of it', async () => {
    const school = await openRevised(90, 80);
    school.setHour(1);
    await correct(school);
    await school.queue.idle();
    const work = (await (await school.request('ansel', 'GET', '/api/work/1')).json()) as WorkDetail;
    expect(work).toMatchObject({ attemptsUsed: 1, revision: 2, attempts: [{ state: 'graded' }] });
    const news = (await (await school.request('ansel', 'GET', '/api/news')).json()) as News;
    expect(news.items[0]?.text).toBe(
      'SB-101 Cleat plate was corrected: look at the sheet again. What you have handed in is measured anew.',
    );
  });

  it('counts as before while it is measured anew', async () => {
    const school = await openRevised(90, 80);
    await correct(school);
    const course = (await detailOf(school)).courseId;
    const book = (await (
      await school.request('orla', 'GET', `/api/courses/${String(course)}/gradebook`)
    ).json()) as GradebookAnswer;
    expect(book.rows.map(({ login, total }) => [login, total])).toEqual([
      ['ansel', 60],
      ['fia', 80],
    ]);
  });

  it('is news of the sheet alone for whoever has handed in nothing', async () => {
    const school = await openSchool();
    revise(school);
    school.setHour(1);
    await correct(school);
    const news = (await (await school.request('fia', 'GET', '/api/news')).json()) as News;
    expect(news.items[0]?.text).toBe('SB-101 Cleat plate was corrected: look at the sheet again.');
  });

  it('keeps the report of what cannot be measured anew', async () => {
    const school = await openRevised('too-long', 85);
    await correct(school);
    await school.queue.idle();
    const { corrections, attempts } = await detailOf(school);
    expect(corrections).toMatchObject([{ pending: 0, kept: 1, changed: [{ student: 'fia', after: 85 }] }]);
    expect(attempts.map(({ state, score }) => [state, score]).sort()).toEqual([
      ['graded', 60],
      ['graded', 85],
    ]);
  });

  it('is in the log with the scores before', async () => {
    const school = await openRevised(90, 80);
    await correct(school);
    const before = school.db
      .prepare<[], string>("SELECT before_json FROM audit_log WHERE what = 'corrected revision'")
      .pluck()
      .get();
    expect(JSON.parse(before ?? '')).toEqual({ revision: 1, scores: { '1': 60, '2': 80 } });
  });

  it('is not corrected by another kind of part, a revision that nobody looked at, without a reason, or by who may not', async () => {
    const school = await openRevised();
    expect((await correct(school, { revision: 1 })).status).toBe(409);
    expect((await correct(school, { reason: ' ' })).status).toBe(400);
    expect((await correct(school, {}, 'tilda')).status).toBe(403);
    expect((await correct(school, {}, 'pim')).status).toBe(404);
    school.db
      .prepare('UPDATE exercise_revisions SET document_json = ? WHERE number = 2')
      .run(JSON.stringify({ ...cleatPlateExercise, variants: [{ name: 'A', values: {} }] }));
    const other = await correct(school);
    expect([other.status, await other.text()]).toEqual([409, expect.stringContaining('other variants') as string]);
    school.db.prepare("UPDATE attempts SET state = 'running'").run();
    expect((await detailOf(school)).revision).toBe(1);
  });
});
