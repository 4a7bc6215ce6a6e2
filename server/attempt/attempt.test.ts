import { describe, expect, it } from 'vitest';

import { MAX_FILE_BYTES } from '#api';
import { safeFileName } from '#server/http';

import { GRADED, openSchool, REFUSED, type School } from '../testing/fixture.ts';

const errorOf = async (response: Response) =>
  ((await response.json()) as { error: { code: string; message: string } }).error;

const workOf = async (school: School, login: string) =>
  (await school.request(login, 'GET', `/api/work/${String(school.assignmentId)}`).then((r) => r.json())) as {
    attemptsUsed: number;
    open: boolean;
    attempts: { number: number | null; state: string; score: number | null; finding: string }[];
  };

describe('handing in', () => {
  it('is answered at once; the report follows', async () => {
    const school = await openSchool();
    const response = await school.handIn('ansel', school.assignmentId, 'a model');
    expect(response.status).toBe(202);
    await school.queue.idle();
    expect((await workOf(school, 'ansel')).attempts).toMatchObject([{ number: 1, state: 'graded', score: 80 }]);
  });

  it('ends when the attempts are used up', async () => {
    const school = await openSchool();
    for (let i = 0; i < 2; i++) await school.handIn('ansel', school.assignmentId, `try ${String(i)}`);
    await school.queue.idle();
    const response = await school.handIn('ansel', school.assignmentId, 'one more');
    expect(response.status).toBe(409);
    expect((await errorOf(response)).code).toBe('no-attempts-left');
  });

  it('of a file that cannot be read uses up no attempt, and says why', async () => {
    const school = await openSchool((content) => (content === 'junk' ? REFUSED : GRADED));
    for (let i = 0; i < 3; i++) {
      await school.handIn('ansel', school.assignmentId, 'junk');
      await school.queue.idle();
    }
    const work = await workOf(school, 'ansel');
    expect(work).toMatchObject({ attemptsUsed: 0, open: true });
    expect(work.attempts[0]).toMatchObject({ number: null, state: 'refused', finding: 'This is not a STEP file.' });
    expect((await school.handIn('ansel', school.assignmentId, 'a model')).status).toBe(202);
  });

  it('twice under one name, as after a lost answer, is one attempt', async () => {
    const school = await openSchool();
    const key = 'hand-in-4711';
    const answers = await Promise.all(
      [1, 2, 3].map(() => school.handIn('ansel', school.assignmentId, 'a model', { key })),
    );
    const ids = await Promise.all(
      answers.map(async (answer) => ((await answer.json()) as { attemptId: number }).attemptId),
    );
    expect(new Set(ids).size).toBe(1);
    await school.queue.idle();
    expect(await workOf(school, 'ansel')).toMatchObject({ attemptsUsed: 1 });
    // The same name of somebody else is another hand-in.
    await school.handIn('fia', school.assignmentId, 'a model', { key });
    expect(await workOf(school, 'fia')).toMatchObject({ attemptsUsed: 1 });
  });

  it('of files that take too long is stopped after three within an hour', async () => {
    const school = await openSchool(() => ({ kind: 'timed-out' }));
    for (let i = 0; i < 3; i++) {
      await school.handIn('ansel', school.assignmentId, `endless ${String(i)}`);
      await school.queue.idle();
    }
    const fourth = await school.handIn('ansel', school.assignmentId, 'one more');
    expect([fourth.status, (await errorOf(fourth)).code]).toEqual([429, 'too-many-slow-files']);
    expect((await school.handIn('fia', school.assignmentId, 'another')).status).toBe(202);
    school.setHour(1.1);
    expect((await school.handIn('ansel', school.assignmentId, 'one more')).status).toBe(202);
  });

  it('from two browsers at once does not exceed the number of attempts', async () => {
    const school = await openSchool();
    const answers = await Promise.all(
      Array.from({ length: 6 }, (_, i) => school.handIn('ansel', school.assignmentId, `browser ${String(i)}`)),
    );
    expect(answers.filter((answer) => answer.status === 202)).toHaveLength(2);
    await school.queue.idle();
    expect((await workOf(school, 'ansel')).attemptsUsed).toBe(2);
  });

  it('ends with the due time', async () => {
    const school = await openSchool();
    school.setHour(11);
    const response = await school.handIn('ansel', school.assignmentId, 'late');
    expect(response.status).toBe(409);
    expect((await errorOf(response)).message).toContain('due time has passed');
  });

  it.each([
    [[{ name: 'mass', text: 'heavy', unit: 'g' }], 'not-a-number'],
    [[{ name: 'mass', text: '-3', unit: 'g' }], 'not-positive'],
    [[{ name: 'volume', text: '3 lb', unit: 'mm³' }], 'unknown-unit'],
    [[{ name: 'weight', text: '3', unit: 'g' }], 'bad-input'],
    ['nonsense', 'bad-input'],
  ])('with typed numbers %j is refused as %s and stores nothing', async (typed, code) => {
    const school = await openSchool();
    const response = await school.handIn('ansel', school.assignmentId, 'a model', { typed });
    expect(response.status).toBe(400);
    expect((await errorOf(response)).code).toBe(code);
    expect((await workOf(school, 'ansel')).attempts).toEqual([]);
  });

  it.each([
    ['lots of nonsense', 'log-without-steps'],
    ['Extrude plate\n'.repeat(80_000), 'log-too-long'],
  ])(
    'with a list of build steps that is none, or a megabyte of it, is refused and stores nothing',
    async (log, code) => {
      const school = await openSchool();
      const response = await school.handIn('ansel', school.assignmentId, 'a model', { buildLog: log });
      expect([response.status, (await errorOf(response)).code]).toEqual([400, code]);
      expect((await workOf(school, 'ansel')).attempts).toEqual([]);
    },
  );

  it('keeps the list of build steps as it was written, for student and instructor', async () => {
    const school = await openSchool();
    const log = '1. Extrude plate\n2. Hole 9 through all';
    await school.handIn('ansel', school.assignmentId, 'a model', { buildLog: log });
    await school.queue.idle();
    for (const login of ['ansel', 'orla']) {
      const detail: unknown = await school.request(login, 'GET', '/api/attempts/1').then((r) => r.json());
      expect(detail).toMatchObject({ buildLog: log });
    }
  });

  it('says what the score was made with, to the instructor alone', async () => {
    const school = await openSchool();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    const scored = async (login: string) =>
      ((await school.request(login, 'GET', '/api/attempts/1').then((r) => r.json())) as { scored: unknown }).scored;
    expect(await scored('orla')).toMatchObject({ ownPolicy: false, program: expect.stringMatching(/^\d/) as string });
    expect(await scored('ansel')).toBeNull();
  });

  it('of a file over the limit says how large it may be', async () => {
    const school = await openSchool();
    const response = await school.handIn('ansel', school.assignmentId, 'x'.repeat(MAX_FILE_BYTES + 100_000));
    expect(response.status).toBe(413);
    expect((await errorOf(response)).message).toContain('25 MB');
  });

  it('without a file says what to do', async () => {
    const school = await openSchool();
    const response = await school.app.request(`/api/work/${String(school.assignmentId)}/attempts`, {
      method: 'POST',
      headers: { cookie: await school.cookieOf('ansel'), origin: 'http://localhost' },
      body: new FormData(),
    });
    expect(response.status).toBe(400);
    expect((await errorOf(response)).message).toContain('Choose the file of your model');
  });
});

describe('the report of an attempt', () => {
  it('keeps the answers back until they are released, from the student only', async () => {
    const school = await openSchool();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    const read = (login: string) => school.request(login, 'GET', '/api/attempts/1').then((r) => r.text());
    expect(await read('ansel')).not.toContain('67123');
    expect(await read('orla')).toContain('67123');
    school.setHour(10.5);
    expect(await read('ansel')).toContain('67123');
  });
});

describe('the instructor', () => {
  it('sees attempts, who is missing, and the finding', async () => {
    const school = await openSchool();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    const detail: unknown = await school.request('orla', 'GET', '/api/assignments/1').then((r) => r.json());
    expect(detail).toMatchObject({
      students: 2,
      attempts: [
        {
          student: 'ansel',
          number: 1,
          state: 'graded',
          score: 80,
          finding: 'Thickness is 9.0 mm where the sheet says 10.0 mm.',
        },
      ],
      missing: [{ name: 'fia' }],
    });
  });

  it('has on the desk what is open or ended within a month, and is told how much is older', async () => {
    const school = await openSchool();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    school.db.prepare('UPDATE reports SET score = 60').run();
    school.db.prepare('UPDATE attempts SET score = 60').run();
    const desk = async () =>
      (await school.request('orla', 'GET', '/api/desk').then((r) => r.json())) as {
        assignments: { id: number; medianScore: number | null; graded: number }[];
        older: number;
        needs: { attemptId: number; score: number }[];
      };
    expect(await desk()).toMatchObject({ older: 0, needs: [{ attemptId: 1, score: 60 }] });
    expect((await desk()).assignments.find(({ id }) => id === 1)).toMatchObject({ medianScore: 60, graded: 1 });
    // The first ends after ten hours, the second one a day later.
    school.setHour(10 + 24 * 30);
    school.signOutAll();
    const later = await desk();
    expect([later.older, later.needs, later.assignments.map(({ id }) => id)]).toEqual([1, [], [2]]);
    const all = await school.request('orla', 'GET', '/api/assignments').then((r) => r.json());
    expect(all).toMatchObject({ assignments: [{ id: 2 }, { id: 1 }] });
  });

  it('issues an exercise, but not with a due time before the opening, nor to a section of another course', async () => {
    const school = await openSchool();
    const issue = {
      exerciseId: 1,
      sectionId: 1,
      opensAt: '2026-05-04T12:00:00.000Z',
      dueAt: '2026-05-11T12:00:00.000Z',
      attemptsAllowed: 3,
      answers: 'never',
    };
    expect((await school.request('orla', 'POST', '/api/assignments', issue)).status).toBe(201);
    const backwards = await school.request('orla', 'POST', '/api/assignments', {
      ...issue,
      dueAt: '2026-05-01T12:00:00.000Z',
    });
    expect(backwards.status).toBe(400);
    expect((await errorOf(backwards)).message).toContain('after the opening');
    expect((await school.request('orla', 'POST', '/api/assignments', { ...issue, attemptsAllowed: 0 })).status).toBe(
      400,
    );
    expect((await school.request('pim', 'POST', '/api/assignments', issue)).status).toBe(404);
  });
});

it('is issued to several sections at once, each with dates of its own and late work as long after', async () => {
  const school = await openSchool();
  const noon = Number(
    school.db.prepare("INSERT INTO sections (course_id, name) VALUES (1, 'Noon')").run().lastInsertRowid,
  );
  const issue = {
    exerciseId: 1,
    sectionId: 1,
    opensAt: '2026-05-04T12:00:00.000Z',
    dueAt: '2026-05-11T12:00:00.000Z',
    lateUntil: '2026-05-12T12:00:00.000Z',
    attemptsAllowed: 3,
    answers: 'never',
    alsoTo: [{ sectionId: noon, opensAt: '2026-05-05T12:00:00.000Z', dueAt: '2026-05-13T08:00:00.000Z' }],
  };
  const post = (body: object) => school.request('orla', 'POST', '/api/assignments', body);
  const last = () =>
    school.db.prepare('SELECT section_id, due_at, late_until FROM assignments ORDER BY id DESC LIMIT 2').raw().all();
  expect((await post(issue)).status).toBe(201);
  expect(last()).toEqual([
    [noon, '2026-05-13T08:00:00.000Z', '2026-05-14T08:00:00.000Z'],
    [1, '2026-05-11T12:00:00.000Z', '2026-05-12T12:00:00.000Z'],
  ]);
  // All or none: a section twice, one of another school, a due time before the opening.
  const before = last();
  const [also] = issue.alsoTo;
  expect((await post({ ...issue, alsoTo: [also, also] })).status).toBe(400);
  expect((await post({ ...issue, alsoTo: [{ ...also, sectionId: 99 }] })).status).toBe(404);
  expect((await post({ ...issue, alsoTo: [{ ...also, dueAt: '2026-05-01T12:00:00.000Z' }] })).status).toBe(400);
  expect(last()).toEqual(before);
});

it('makes file names safe for headers and disks', () => {
  expect(safeFileName('../../etc/passwd')).toBe('_.._etc_passwd');
  expect(safeFileName('Größe "1"\r\n.step')).toBe('Größe _1___.step');
  expect(safeFileName('...')).toBe('model.step');
});

describe('missing and extra material', () => {
  const OVERLAY = {
    missingMm3: 8,
    extraMm3: 0,
    pieces: [
      {
        kind: 'missing',
        volumeMm3: 8,
        centerMm: [1, 1, 1],
        bounds: { min: [0, 0, 0], max: [2, 2, 2] },
        referenceFaceIds: [3],
        submissionFaceIds: [],
        positions: [0, 0, 0, 2, 0, 0, 0, 2, 0, 0, 0, 2],
        indices: [0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3],
      },
    ],
  };
  const graded = (): typeof GRADED =>
    GRADED.kind === 'done' ? { ...GRADED, value: { ...GRADED.value, overlayJson: JSON.stringify(OVERLAY) } } : GRADED;

  it('is for the instructor at once, and for the student after the answers are released', async () => {
    const school = await openSchool(graded);
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    const answer = (login: string): Promise<Response> => school.request(login, 'GET', '/api/attempts/1/overlay');
    expect(await (await answer('orla')).json()).toEqual(OVERLAY);
    expect((await answer('ansel')).status).toBe(404);
    expect((await answer('fia')).status).toBe(404);
    expect((await answer('pim')).status).toBe(404);
    school.setHour(11);
    expect((await answer('ansel')).status).toBe(200);
    expect((await answer('fia')).status).toBe(404);
  });

  it('is a 3MF package with a name of its own', async () => {
    const school = await openSchool(graded);
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    const response = await school.request('orla', 'GET', '/api/attempts/1/overlay.3mf');
    expect(response.headers.get('content-disposition')).toContain('difference.3mf');
    const bytes = new Uint8Array(await response.arrayBuffer());
    expect([bytes[0], bytes[1]]).toEqual([0x50, 0x4b]);
  });

  it('is not there where nothing differs', async () => {
    const school = await openSchool();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    expect((await school.request('orla', 'GET', '/api/attempts/1/overlay')).status).toBe(404);
    expect((await school.request('orla', 'GET', '/api/attempts/1/overlay.3mf')).status).toBe(404);
  });
});

it('a unit of the file that is none is refused', async () => {
  const school = await openSchool();
  const form = new FormData();
  form.append('file', new File(['solid x'], 'part.stl'));
  form.append('unit', 'furlong');
  const response = await school.app.request(`/api/work/${String(school.assignmentId)}/attempts`, {
    method: 'POST',
    headers: { cookie: await school.cookieOf('ansel'), origin: 'http://localhost' },
    body: form,
  });
  expect(response.status).toBe(400);
  expect((await errorOf(response)).message).toContain('not one of mm, cm, m, in, ft');
});
