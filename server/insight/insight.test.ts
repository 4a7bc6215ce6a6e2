import { describe, expect, it } from 'vitest';

import type { ExerciseInsight, Insight, Wall } from '#api';
import type { Report } from '#core/grade';
import type { Graded, Outcome } from '#server/jobs';

import { GRADED, openSchool, type School } from '../testing/fixture.ts';

const graded = GRADED.kind === 'done' ? GRADED.value : null;
if (graded === null) throw new Error('the fixture has no report');

/** A file "60 bolts" scores 60 with the check of the bolts right; "60" without. */
function grading(content: string): Outcome<Graded> {
  const [score = '0', isRight] = content.split(' ');
  const [line] = graded?.report.lines ?? [];
  if (graded === null || line === undefined) throw new Error('no line');
  const report: Report = {
    ...graded.report,
    score: Number(score),
    lines: [
      { ...line, checkId: 'bolts', label: 'Bolts', credit: isRight === undefined ? 0 : 1, weight: 1 },
      { ...line, checkId: 'width', label: 'Width', credit: 1, weight: 3 },
    ],
  };
  return { kind: 'done', value: { ...graded, report } };
}

const get = async <T>(school: School, path: string, login = 'orla'): Promise<T> =>
  (await (await school.request(login, 'GET', path)).json()) as T;
async function handsIn(school: School, login: string, content: string): Promise<void> {
  await school.handIn(login, 1, content);
  await school.queue.idle();
}

describe('what a class says together', () => {
  it('is how each exercise began and ended, and the mistakes with the attempts behind them', async () => {
    const school = await openSchool(grading);
    await handsIn(school, 'ansel', '40');
    await handsIn(school, 'ansel', '90 bolts');
    await handsIn(school, 'fia', '60');
    const insight = await get<Insight>(school, '/api/courses/1/insight');
    expect(insight.exercises).toHaveLength(1);
    expect(insight.exercises[0]).toMatchObject({
      number: 'SB-101',
      students: 2,
      // First 40 and 60, last 90 and 60.
      firstMedian: 50,
      lastMedian: 75,
      attemptsPerStudent: 1.5,
      gaveUp: 0,
      // It opened an hour before.
      hoursToFirstMedian: 1,
    });
    expect(insight.weeks).toEqual([{ from: '2026-05-04', attempts: 3, students: 2, medianScore: 60 }]);
    expect(insight.mistakes).toMatchObject([{ kind: 'wrong-size', students: 2 }]);
    expect(insight.mistakes[0]?.attempts.map(({ attemptId }) => attemptId)).toEqual([3, 2, 1]);
  });

  it('is who gave up, once nothing can be handed in any more', async () => {
    const school = await openSchool(grading);
    await handsIn(school, 'ansel', '40');
    await handsIn(school, 'fia', '60');
    await handsIn(school, 'fia', '70');
    school.setHour(11);
    school.signOutAll();
    const { exercises } = await get<Insight>(school, '/api/courses/1/insight');
    // Ansel had one of two attempts left; Fia had none.
    expect(exercises[0]?.gaveUp).toBe(1);
    const ansel = school.db.prepare<[], number>("SELECT id FROM users WHERE login = 'ansel'").pluck().get() ?? 0;
    await school.request('orla', 'PUT', `/api/assignments/1/extensions/${String(ansel)}`, {
      dueAt: '2026-05-30T12:00:00.000Z',
      extraAttempts: 0,
      standing: 'owed',
      reason: 'Was ill for a week.',
    });
    // Who still has time has not given up.
    expect((await get<Insight>(school, '/api/courses/1/insight')).exercises[0]?.gaveUp).toBe(0);
  });

  it('is how often each check is right at first, the hardest first, with the attempts on which it is not', async () => {
    const school = await openSchool(grading);
    await handsIn(school, 'ansel', '40');
    await handsIn(school, 'ansel', '90 bolts');
    await handsIn(school, 'fia', '80 bolts');
    const { checks } = await get<ExerciseInsight>(school, '/api/courses/1/insight/1');
    expect(checks.map(({ label, facility, attempts, wrong }) => [label, facility, attempts, wrong])).toEqual([
      ['Bolts', 0.5, 2, [1]],
      ['Width', 1, 2, []],
    ]);
  });

  it('is how a check did in other years: in courses of one’s own that have an exercise of this number', async () => {
    const school = await openSchool(grading);
    await handsIn(school, 'ansel', '40');
    const others = async (login: string) =>
      (await get<ExerciseInsight>(school, '/api/courses/1/insight/1', login)).checks.map(({ elsewhere }) => elsewhere);
    expect(await others('orla')).toEqual([null, null]);
    // The same exercise a year before, in a course that orla taught and tilda did not, where fia had the bolts right.
    school.db.exec(`
      INSERT INTO courses (id, title, school) VALUES (90, 'Fittings, last year', 'School');
      INSERT INTO course_staff (course_id, user_id, role) SELECT 90, id, 'instructor' FROM users WHERE login = 'orla';
      INSERT INTO sections (id, course_id, name) VALUES (90, 90, 'Morning');
      INSERT INTO exercises (id, course_id, number, title) SELECT 90, 90, number, title FROM exercises WHERE id = 1;
      INSERT INTO exercise_revisions (id, exercise_id, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at)
        SELECT 90, 90, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at FROM exercise_revisions WHERE id = 1;`);
    await handsIn(school, 'fia', '80 bolts');
    school.db.exec(`
      UPDATE assignments SET revision_id = 90, section_id = 90 WHERE id = 2;
      UPDATE attempts SET assignment_id = 2 WHERE student_id = (SELECT id FROM users WHERE login = 'fia');`);
    expect(await others('orla')).toEqual([
      { attempts: 1, facility: 1 },
      { attempts: 1, facility: 1 },
    ]);
    expect(await others('tilda')).toEqual([null, null]);
  });

  it('keeps of each check what it earned, and how many of a hundred points that is', async () => {
    const school = await openSchool(grading);
    await handsIn(school, 'ansel', '40');
    const credits = () =>
      school.db.prepare('SELECT check_id AS id, credit, points FROM report_checks ORDER BY check_id').all();
    // Weights 1 and 3: the width is 75 of 100 points.
    expect(credits()).toEqual([
      { id: 'bolts', credit: 0, points: 0 },
      { id: 'width', credit: 1, points: 75 },
    ]);
  });

  it('is for those who teach the course alone', async () => {
    const school = await openSchool(grading);
    for (const path of ['/api/courses/1/insight', '/api/courses/1/insight/1', '/api/courses/1/wall']) {
      expect((await school.request('pim', 'GET', path)).status).toBe(404);
      expect((await school.request('ansel', 'GET', path)).status).toBe(403);
      expect((await school.request('tilda', 'GET', path)).status).toBe(200);
    }
  });
});

describe('the page for the wall', () => {
  it('has the mistakes of the last seven days with one example, and no names', async () => {
    const school = await openSchool(grading);
    await handsIn(school, 'ansel', '40');
    await handsIn(school, 'fia', '60');
    const wall = await get<Wall>(school, '/api/courses/1/wall');
    expect(wall.mistakes).toMatchObject([
      {
        kind: 'wrong-size',
        students: 2,
        exercise: 'SB-101 Cleat plate',
        example: 'Thickness is 9.0 mm where the sheet says 10.0 mm.',
      },
    ]);
    expect(JSON.stringify(wall)).not.toMatch(/ansel|fia/);
    school.setHour(24 * 8);
    school.signOutAll();
    expect((await get<Wall>(school, '/api/courses/1/wall')).mistakes).toEqual([]);
  });
});
