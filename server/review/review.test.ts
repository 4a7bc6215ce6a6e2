import { describe, expect, it } from 'vitest';

import type {
  AttemptDetail,
  AssignmentDetail,
  AuditEntry,
  CollectedRemark,
  Desk,
  GradebookAnswer,
  Review,
  ReviewAction,
} from '#api';

import { openSchool, REFUSED, type School } from '../testing/fixture.ts';
import { openMeasuredSchool } from '../testing/measured.ts';

const read = async <T>(school: School, login: string, path: string): Promise<T> =>
  (await (await school.request(login, 'GET', path)).json()) as T;
const attemptOf = (school: School, login: string, id = 1) =>
  read<AttemptDetail>(school, login, `/api/attempts/${String(id)}`);
const changeAt = (school: School, version: number, action: ReviewAction, login = 'orla') =>
  school.request(login, 'POST', '/api/attempts/1/review', { version, action });
/** Makes a change on the review as it is now. */
async function change(school: School, action: ReviewAction): Promise<Review> {
  const { review } = await attemptOf(school, 'orla');
  const response = await changeAt(school, review.version, action);
  expect(response.status).toBe(200);
  return (await response.json()) as Review;
}
const errorOf = async (response: Response) =>
  ((await response.json()) as { error: { code: string; message: string } }).error;
const setRelease = (school: School, release: string, feedback: readonly string[] = ['overlay']) =>
  school.db.prepare('UPDATE assignments SET release = ?, feedback_json = ?').run(release, JSON.stringify(feedback));
const OVERRIDE = { kind: 'override', lineId: 'thickness', credit: 1, reason: 'The print was smudged here.' } as const;

describe('an override', () => {
  it('changes the score, and says who decided and why, to the student too', async () => {
    const school = await openMeasuredSchool();
    const before = (await attemptOf(school, 'orla')).report?.score ?? 0;
    const toldBefore = (await attemptOf(school, 'ansel')).report?.score ?? 0;
    await change(school, OVERRIDE);
    expect((await attemptOf(school, 'orla')).report?.score).toBeGreaterThan(before);
    const { report } = await attemptOf(school, 'ansel');
    expect(report?.score).toBeGreaterThan(toldBefore);
    expect(report?.lines.find(({ checkId }) => checkId === 'thickness')?.override).toEqual({
      credit: 1,
      reason: 'The print was smudged here.',
      by: 'orla',
    });
    await change(school, { kind: 'restore', lineId: 'thickness' });
    expect((await attemptOf(school, 'orla')).report?.score).toBe(before);
  });

  it('survives another scoring, and a new measuring', async () => {
    const school = await openMeasuredSchool();
    await change(school, OVERRIDE);
    const { policy } = await read<{ policy: object }>(school, 'orla', '/api/assignments/1/policy');
    await school.request('orla', 'POST', '/api/assignments/1/policy', {
      policy: { ...policy, partialReach: 1 },
      apply: true,
    });
    const overridden = async () =>
      (await attemptOf(school, 'orla')).report?.lines.find(({ checkId }) => checkId === 'thickness')?.override?.credit;
    expect(await overridden()).toBe(1);
    school.db.exec("UPDATE attempts SET state = 'waiting'; INSERT INTO jobs (attempt_id, queued_at) VALUES (1, '')");
    school.queue.wake();
    await school.queue.idle();
    expect(await overridden()).toBe(1);
  });

  it('of two instructors at once: the second is told of the first, and nothing is lost', async () => {
    const school = await openMeasuredSchool();
    school.db
      .prepare(
        "INSERT INTO course_staff (course_id, user_id, role) SELECT 1, id, 'instructor' FROM users WHERE login = ?",
      )
      .run('pim');
    const { version } = (await attemptOf(school, 'orla')).review;
    const [first, second] = await Promise.all([
      changeAt(school, version, OVERRIDE),
      changeAt(school, version, { ...OVERRIDE, credit: 0.5 }, 'pim'),
    ]);
    const refused = [first, second].find(({ status }) => status === 409);
    expect([first.status, second.status].sort()).toEqual([200, 409]);
    expect(refused && (await errorOf(refused))).toMatchObject({
      code: 'review-changed',
      message: expect.stringMatching(/^(orla|pim) has changed this review meanwhile/) as string,
    });
    expect(school.db.prepare('SELECT count(*) AS count FROM overrides').get()).toEqual({ count: 1 });
  });

  it.each([
    [{ ...OVERRIDE, lineId: 'no-such' }, 409, 'no-such-line'],
    [{ ...OVERRIDE, reason: '  ' }, 400, 'bad-input'],
    [{ ...OVERRIDE, credit: 1.5 }, 400, 'bad-input'],
  ])('that makes no sense is refused', async (action, status, code) => {
    const school = await openMeasuredSchool();
    const response = await changeAt(school, 0, action);
    expect([response.status, (await errorOf(response)).code]).toEqual([status, code]);
  });

  it('is not for students, nor for instructors of another course', async () => {
    const school = await openMeasuredSchool();
    expect((await changeAt(school, 0, OVERRIDE, 'ansel')).status).toBe(403);
    expect((await changeAt(school, 0, OVERRIDE, 'pim')).status).toBe(404);
  });
});

describe('a report that waits for release', () => {
  it('tells its student neither score nor finding, until it is released', async () => {
    const school = await openMeasuredSchool();
    setRelease(school, 'by-hand');
    await change(school, { kind: 'remark', text: 'Look at the section again.', pin: null });
    const { score = 0, scoreBeforeRelease = 0 } = (await attemptOf(school, 'orla')).report ?? {};
    for (const path of ['/api/attempts/1', '/api/work', '/api/work/1']) {
      const text = await school.request('ansel', 'GET', path).then((r) => r.text());
      for (const held of [score, scoreBeforeRelease]) expect(text).not.toContain(`"score":${String(held)}`);
      expect(text).not.toContain('10.3');
      expect(text).not.toContain('Look at the section');
    }
    for (const path of ['report.pdf', 'overlay'])
      expect((await school.request('ansel', 'GET', `/api/attempts/1/${path}`)).status).toBe(404);
    await change(school, { kind: 'release' });
    expect((await attemptOf(school, 'ansel')).report?.score).toBe(scoreBeforeRelease);
    expect((await attemptOf(school, 'ansel')).review.remarks).toHaveLength(1);
    await change(school, { kind: 'hold-back' });
    expect((await attemptOf(school, 'ansel')).report).toBeNull();
  });

  it('is released by accepting it where the assignment says so', async () => {
    const school = await openMeasuredSchool();
    setRelease(school, 'accepted');
    const before = await read<Desk>(school, 'orla', '/api/desk');
    expect(before.assignments.find(({ id }) => id === 1)?.toReview).toBe(1);
    const review = await change(school, { kind: 'accept' });
    expect(review).toMatchObject({ acceptedBy: 'orla', released: true });
    expect((await attemptOf(school, 'ansel')).report).not.toBeNull();
    const after = await read<Desk>(school, 'orla', '/api/desk');
    expect(after.assignments.find(({ id }) => id === 1)?.toReview).toBe(0);
  });
});

describe('how much a report tells', () => {
  it('grows from attempt to attempt, through the API too', async () => {
    const school = await openMeasuredSchool();
    setRelease(school, 'automatic', ['checks', 'causes']);
    const first = await attemptOf(school, 'ansel');
    expect(first.report).toMatchObject({ detail: 'checks', causes: [] });
    expect(JSON.stringify(first.report?.lines)).not.toMatch(/10\.3|"advice":"/);
    const rows = await school.request('ansel', 'GET', '/api/work/1').then((r) => r.text());
    expect(rows).toContain('"finding":null');
    // With the second attempt used, nothing more can be handed in, and all reports tell what the last one does.
    await school.handIn('ansel', school.assignmentId, 'another');
    await school.queue.idle();
    expect((await attemptOf(school, 'ansel', 2)).report?.causes.length).toBeGreaterThan(0);
    expect((await attemptOf(school, 'ansel', 1)).report?.detail).toBe('causes');
    expect((await attemptOf(school, 'orla', 1)).report?.detail).toBe('overlay');
  });
});

describe('remarks', () => {
  it('point to a place, and are taken back', async () => {
    const school = await openMeasuredSchool();
    const pin = { on: 'model', at: [1, 2, 3] } as const;
    const { remarks } = await change(school, { kind: 'remark', text: 'Here.', pin });
    expect(remarks).toMatchObject([{ text: 'Here.', pin, by: 'orla' }]);
    const after = await change(school, { kind: 'remove-remark', remarkId: remarks[0]?.id ?? 0 });
    expect(after.remarks).toEqual([]);
  });

  it('are collected for a course, each once, by whoever teaches it', async () => {
    const school = await openMeasuredSchool();
    const add = (text: string, login = 'orla') => school.request(login, 'POST', '/api/courses/1/remarks', { text });
    await add('{check}: measure it again.');
    await add('{check}: measure it again.');
    const { remarks } = await read<{ remarks: CollectedRemark[] }>(school, 'orla', '/api/courses/1/remarks');
    expect(remarks.map(({ text }) => text)).toEqual(['{check}: measure it again.']);
    expect((await add('mine', 'pim')).status).toBe(404);
    await school.request('orla', 'DELETE', `/api/courses/1/remarks/${String(remarks[0]?.id)}`);
    expect(await read(school, 'orla', '/api/courses/1/remarks')).toEqual({ remarks: [] });
  });

  it('go to a group at once, with the fields filled for each', async () => {
    const school = await openMeasuredSchool();
    await school.handIn('fia', school.assignmentId, 'a model');
    await school.queue.idle();
    const group = (attemptIds: readonly number[], login = 'orla') =>
      school.request(login, 'POST', '/api/assignments/1/reviews', {
        attemptIds,
        action: { kind: 'remark', text: '{student}: {check} is {measured}.' },
      });
    expect(await (await group([1, 2])).json()).toEqual({ changed: 2 });
    expect((await attemptOf(school, 'fia', 2)).review.remarks[0]?.text).toBe('fia: Thickness is 10.30 mm.');
    expect((await attemptOf(school, 'ansel', 1)).review.remarks[0]?.text).toContain('ansel: ');
  });

  it('of a group are for all or for none', async () => {
    const school = await openMeasuredSchool();
    const response = await school.request('orla', 'POST', '/api/assignments/1/reviews', {
      attemptIds: [1, 99],
      action: { kind: 'accept' },
    });
    expect(response.status).toBe(404);
    expect((await attemptOf(school, 'orla')).review.acceptedAt).toBeNull();
  });
});

describe('an attempt that went wrong', () => {
  const needsOf = async (school: School) => (await read<Desk>(school, 'orla', '/api/desk')).needs;
  const accept = (school: School, id: number) =>
    school.request('orla', 'POST', '/api/assignments/1/reviews', { attemptIds: [id], action: { kind: 'accept' } });

  it('is on the desk until it is accepted, refused ones as well', async () => {
    const school = await openMeasuredSchool();
    school.db.prepare('UPDATE attempts SET score = 40').run();
    expect(await needsOf(school)).toMatchObject([{ attemptId: 1, student: 'ansel', score: 40, section: 'Morning' }]);
    expect((await accept(school, 1)).status).toBe(200);
    expect(await needsOf(school)).toEqual([]);

    const unread = await openSchool(() => REFUSED);
    await unread.handIn('fia', 1, 'no model');
    await unread.queue.idle();
    expect(await needsOf(unread)).toMatchObject([{ student: 'fia', state: 'refused', score: null }]);
    expect((await accept(unread, 1)).status).toBe(200);
    expect(await needsOf(unread)).toEqual([]);
  });
});

describe('a student’s reply', () => {
  const reply = (school: School, text: string, login = 'ansel') =>
    school.request(login, 'POST', '/api/attempts/1/replies', { text, wantsLook: true });

  it('reaches the desk, and leaves it with the answer', async () => {
    const school = await openMeasuredSchool();
    expect((await reply(school, 'The sheet says 10.3 on my print.')).status).toBe(201);
    const { requests } = await read<Desk>(school, 'orla', '/api/desk');
    expect(requests).toMatchObject([{ student: 'ansel', text: 'The sheet says 10.3 on my print.', attemptId: 1 }]);
    await change(school, { kind: 'answer', replyId: requests[0]?.replyId ?? 0, text: 'It says 10.0; look again.' });
    expect((await read<Desk>(school, 'orla', '/api/desk')).requests).toEqual([]);
    expect((await attemptOf(school, 'ansel')).review.replies).toMatchObject([
      { answer: 'It says 10.0; look again.', answeredBy: 'orla' },
    ]);
    expect((await read<Desk>(school, 'pim', '/api/desk')).requests).toEqual([]);
  });

  it('is for the own attempt only, and not without end', async () => {
    const school = await openMeasuredSchool();
    expect((await reply(school, 'Me too!', 'fia')).status).toBe(404);
    for (let i = 0; i < 10; i++) await reply(school, `Please ${String(i)}`);
    const response = await reply(school, 'Please!');
    expect([response.status, (await errorOf(response)).code]).toEqual([409, 'too-many-replies']);
    expect((await reply(school, '   ')).status).toBe(400);
  });
});

describe('late work', () => {
  it('is taken until the end that the assignment names, with the points off that the scoring says', async () => {
    const school = await openMeasuredSchool();
    const { policy } = await read<{ policy: object }>(school, 'orla', '/api/assignments/1/policy');
    await school.request('orla', 'POST', '/api/assignments/1/policy', {
      policy: { ...policy, late: { amount: 10, of: 'points', each: 'day', graceMinutes: 0, most: 50 } },
      apply: true,
    });
    school.db
      .prepare('UPDATE assignments SET late_until = ? WHERE id = 1')
      .run(new Date('2026-05-08T12:00:00Z').toISOString());
    const inTime = (await attemptOf(school, 'orla')).report?.score ?? 0;
    // Due at 22:00 of the first day; a day and two hours later, the second day has begun.
    school.setHour(36);
    school.signOutAll();
    expect((await school.handIn('ansel', school.assignmentId, 'late')).status).toBe(202);
    await school.queue.idle();
    const scores = await read<AssignmentDetail>(school, 'orla', '/api/assignments/1');
    expect(scores.attempts).toHaveLength(2);
    await school.request('orla', 'POST', '/api/assignments/1/policy', {
      policy: { ...policy, late: { amount: 10, of: 'points', each: 'day', graceMinutes: 0, most: 50 }, counts: 'last' },
      apply: true,
    });
    const late = (await attemptOf(school, 'orla', 2)).report;
    expect(late?.deductions).toEqual([{ reason: '2 days late', points: 20 }]);
    expect(late?.score).toBeCloseTo(inTime - 20, 6);
    school.setHour(24 * 5);
    school.signOutAll();
    expect((await school.handIn('fia', school.assignmentId, 'far too late')).status).toBe(409);
    const work = await read<{ work: { bestScore: number }[] }>(school, 'ansel', '/api/work');
    expect(work.work[0]?.bestScore).toBe(late?.score);
  });
});

describe('the report as PDF', () => {
  it('is for the student and the instructor, and for nobody else', async () => {
    const school = await openMeasuredSchool();
    for (const login of ['ansel', 'orla']) {
      const response = await school.request(login, 'GET', '/api/attempts/1/report.pdf');
      expect(response.headers.get('content-type')).toBe('application/pdf');
      expect(
        Buffer.from(await response.arrayBuffer())
          .subarray(0, 5)
          .toString(),
      ).toBe('%PDF-');
    }
    expect((await school.request('fia', 'GET', '/api/attempts/1/report.pdf')).status).toBe(404);
  });
});

describe('an attempt that is given back', () => {
  const REASON = 'The sheet was unclear.';
  const workOf = (school: School) =>
    read<{ attempts: { state: string; number: number | null; score: number | null }[]; attemptsUsed: number }>(
      school,
      'ansel',
      '/api/work/1',
    );
  const gradeOf = async (school: School) =>
    (await read<GradebookAnswer>(school, 'orla', '/api/courses/1/gradebook')).rows.find(
      ({ login }) => login === 'ansel',
    );

  it('counts nothing and uses no attempt, says why, and can count again as before', async () => {
    const school = await openMeasuredSchool();
    const before = await workOf(school);
    const total = (await gradeOf(school))?.total;
    await change(school, { kind: 'give-back', reason: REASON });
    expect(await workOf(school)).toMatchObject({
      attemptsUsed: before.attemptsUsed - 1,
      attempts: [{ state: 'given-back', number: null, score: null }],
    });
    expect(await gradeOf(school)).toMatchObject({ total: null });
    const seen = await attemptOf(school, 'ansel');
    const { items } = await read<{ items: { text: string; to: string }[] }>(school, 'ansel', '/api/news');
    expect(items.find(({ text }) => text.startsWith('An attempt at SB-101'))?.to).toBe('/my/attempts/1');
    expect(seen).toMatchObject({ report: null, refusal: { message: 'Given back by orla: The sheet was unclear.' } });
    // Another scoring of the class does not let it count by the way.
    const { policy } = await read<{ policy: object }>(school, 'orla', '/api/assignments/1/policy');
    await school.request('orla', 'POST', '/api/assignments/1/policy', { policy, apply: true });
    expect(await gradeOf(school)).toMatchObject({ total: null });
    await change(school, { kind: 'count-again' });
    expect(await workOf(school)).toEqual(before);
    expect((await gradeOf(school))?.total).toBe(total);
  });

  it('is not on the desk, and cannot be judged until it counts again', async () => {
    const school = await openMeasuredSchool();
    school.db.prepare('UPDATE attempts SET score = 40').run();
    await change(school, { kind: 'give-back', reason: REASON });
    expect((await read<Desk>(school, 'orla', '/api/desk')).needs).toEqual([]);
    const { version } = (await attemptOf(school, 'orla')).review;
    for (const action of [OVERRIDE, { kind: 'accept' }, { kind: 'give-back', reason: REASON }] as const)
      expect((await errorOf(await changeAt(school, version, action))).code).toBe('not-measured');
  });

  it('is passed over where the whole class is accepted', async () => {
    const school = await openMeasuredSchool();
    await change(school, { kind: 'give-back', reason: REASON });
    const group = { attemptIds: [1], action: { kind: 'accept' } };
    const answer = await school.request('orla', 'POST', '/api/assignments/1/reviews', group);
    expect(await answer.json()).toEqual({ changed: 0 });
    expect((await attemptOf(school, 'ansel')).state).toBe('given-back');
  });

  it('is in the log that nobody edits, as every line that was counted otherwise', async () => {
    const school = await openMeasuredSchool();
    await change(school, OVERRIDE);
    await change(school, { kind: 'give-back', reason: REASON });
    const { entries } = await read<{ entries: AuditEntry[] }>(school, 'orla', '/api/courses/1/log');
    expect(entries.slice(0, 2).map(({ what, by, subject }) => [what, by, subject])).toEqual([
      ['attempt given back', 'orla', 'SB-101 Cleat plate, ansel, attempt 1'],
      ['a line of a report', 'orla', 'SB-101 Cleat plate, ansel, attempt 1'],
    ]);
  });
});
