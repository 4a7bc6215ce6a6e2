import { describe, expect, it } from 'vitest';

import type { AssignmentDetail, WorkDetail } from '#api';

import { NOON, openSchool, type School } from '../testing/fixture.ts';
import { openMeasuredSchool } from '../testing/measured.ts';

const hour = (hours: number): string => new Date(NOON.getTime() + hours * 3_600_000).toISOString();
const change = (school: School, body: object, login = 'orla') =>
  school.request(login, 'PATCH', '/api/assignments/1', body);
const idOf = (school: School, login: string) =>
  school.db.prepare<[string], number>('SELECT id FROM users WHERE login = ?').pluck().get(login) ?? 0;
const REASON = 'Was ill for a week.';
const extend = (school: School, student: string, body: object = {}, login = 'orla') =>
  school.request(login, 'PUT', `/api/assignments/1/extensions/${String(idOf(school, student))}`, {
    dueAt: null,
    extraAttempts: 0,
    standing: 'owed',
    reason: REASON,
    ...body,
  });
const workOf = async (school: School, login: string) =>
  (await (await school.request(login, 'GET', '/api/work/1')).json()) as WorkDetail;
const detailOf = async (school: School) =>
  (await (await school.request('orla', 'GET', '/api/assignments/1')).json()) as AssignmentDetail;

describe('an assignment that was issued', () => {
  it('gets other dates and more attempts, which its students see at once, and the log says so', async () => {
    const school = await openSchool();
    expect((await change(school, { dueAt: hour(48), attemptsAllowed: 5 })).status).toBe(200);
    expect(await workOf(school, 'ansel')).toMatchObject({ dueAt: hour(48), attemptsAllowed: 5 });
    school.setHour(20);
    school.signOutAll();
    expect((await school.handIn('ansel', 1, 'later than it was due at first')).status).toBe(202);
    const note = school.db
      .prepare<[], { before: string; after: string }>(
        'SELECT before_json AS before, after_json AS after FROM audit_log',
      )
      .get();
    expect(JSON.parse(note?.before ?? '')).toMatchObject({ dueAt: hour(10), attemptsAllowed: 2 });
    expect(JSON.parse(note?.after ?? '')).toMatchObject({ dueAt: hour(48), attemptsAllowed: 5 });
  });

  it('refuses dates that cannot be, and whoever does not teach it', async () => {
    const school = await openSchool();
    expect((await change(school, { dueAt: hour(-5) })).status).toBe(400);
    expect((await change(school, { lateUntil: hour(9) })).status).toBe(400);
    expect((await change(school, { attemptsAllowed: 0 })).status).toBe(400);
    expect([(await change(school, {}, 'pim')).status, (await change(school, {}, 'tilda')).status]).toEqual([404, 403]);
    expect((await detailOf(school)).dueAt).toBe(hour(10));
  });

  it('is withdrawn: its students do not see it, what was handed in stays, and it comes back', async () => {
    const school = await openSchool();
    await school.handIn('ansel', 1, 'a model');
    await school.queue.idle();
    await change(school, { withdrawn: true });
    expect((await school.request('ansel', 'GET', '/api/work/1')).status).toBe(404);
    expect((await school.handIn('ansel', 1, 'another')).status).toBe(404);
    expect(await detailOf(school)).toMatchObject({ withdrawnAt: NOON.toISOString(), attempts: [{ state: 'graded' }] });
    await change(school, { withdrawn: false });
    expect((await school.request('ansel', 'GET', '/api/work/1')).status).toBe(200);
  });

  it('of a course in the archive is closed for students', async () => {
    const school = await openSchool();
    await school.request('orla', 'PATCH', '/api/courses/1', { archived: true });
    expect((await school.request('ansel', 'GET', '/api/work/1')).status).toBe(404);
    expect((await detailOf(school)).id).toBe(1);
  });
});

describe('an extension', () => {
  it('gives one student other dates and more attempts, with a reason that staff read', async () => {
    const school = await openSchool();
    await extend(school, 'ansel', { dueAt: hour(48), extraAttempts: 2 });
    expect(await workOf(school, 'ansel')).toMatchObject({ dueAt: hour(48), attemptsAllowed: 4 });
    expect(await workOf(school, 'fia')).toMatchObject({ dueAt: hour(10), attemptsAllowed: 2 });
    expect((await detailOf(school)).extensions).toMatchObject([
      { student: 'ansel', dueAt: hour(48), extraAttempts: 2, standing: 'owed', reason: REASON, by: 'orla' },
    ]);
    school.setHour(20);
    school.signOutAll();
    expect((await school.handIn('ansel', 1, 'in time for me')).status).toBe(202);
    expect((await school.handIn('fia', 1, 'late')).status).toBe(409);
  });

  it('needs a reason, and somebody of the section', async () => {
    const school = await openSchool();
    expect((await extend(school, 'ansel', { reason: '' })).status).toBe(400);
    expect((await extend(school, 'pim')).status).toBe(404);
    expect((await extend(school, 'ansel', {}, 'pim')).status).toBe(404);
    expect((await detailOf(school)).extensions).toEqual([]);
  });

  it('takes off points for lateness again, also of what was graded before, and back when it is taken back', async () => {
    const school = await openMeasuredSchool();
    await change(school, { lateUntil: hour(60) });
    school.setHour(12);
    school.signOutAll();
    await school.handIn('ansel', 1, 'late');
    await school.queue.idle();
    const { policy } = (await (await school.request('orla', 'GET', '/api/assignments/1/policy')).json()) as {
      policy: object;
    };
    await school.request('orla', 'POST', '/api/assignments/1/policy', {
      policy: { ...policy, late: { amount: 10, of: 'points', each: 'day', graceMinutes: 0, most: 50 } },
      apply: true,
    });
    const scores = async () => (await detailOf(school)).attempts.map(({ score }) => score ?? 0);
    const [late = 0, inTime = 0] = await scores();
    expect(inTime - late).toBeCloseTo(10, 6);
    await extend(school, 'ansel', { dueAt: hour(30) });
    expect(await scores()).toEqual([inTime, inTime]);
    await school.request('orla', 'DELETE', `/api/assignments/1/extensions/${String(idOf(school, 'ansel'))}`);
    expect(await scores()).toEqual([late, inTime]);
  });
});

describe('a series', () => {
  const issueOf = (opens: number, due: number, more: object = {}) => ({
    exerciseId: 1,
    sectionId: 1,
    opensAt: hour(opens),
    dueAt: hour(due),
    attemptsAllowed: 3,
    answers: 'after-due',
    ...more,
  });
  const count = (school: School): number =>
    school.db.prepare<[], number>('SELECT count(*) FROM assignments').pluck().get() ?? 0;

  it('is issued as a whole, or not at all', async () => {
    const school = await openSchool();
    const before = count(school);
    const bad = await school.request('orla', 'POST', '/api/schedules', {
      issues: [issueOf(30, 60), issueOf(60, 90, { sectionId: 99 })],
    });
    expect(bad.status).toBe(404);
    expect(count(school)).toBe(before);
    const good = await school.request('orla', 'POST', '/api/schedules', {
      issues: [issueOf(30, 60), issueOf(60, 90)],
    });
    expect(good.status).toBe(201);
    expect(((await good.json()) as { ids: number[] }).ids).toHaveLength(2);
    expect(count(school)).toBe(before + 2);
    expect((await school.request('pim', 'POST', '/api/schedules', { issues: [issueOf(30, 60)] })).status).toBe(404);
    expect((await school.request('orla', 'POST', '/api/schedules', { issues: [] })).status).toBe(400);
  });

  it('is shifted from one on: what is open ends later, what comes opens later, what has ended stays', async () => {
    const school = await openSchool();
    // The first ends at 22:00, the second opens the next morning; at 23:00 the first has ended.
    const shift = (id: number, days: number, login = 'orla') =>
      school.request(login, 'POST', `/api/assignments/${String(id)}/shift`, { days });
    const datesOf = () =>
      school.db.prepare('SELECT opens_at AS opens, due_at AS due FROM assignments ORDER BY id').all();
    expect((await shift(1, 7)).status).toBe(200);
    const week = 7 * 24;
    expect(datesOf()).toEqual([
      { opens: hour(-1), due: hour(10 + week) },
      { opens: hour(20 + week), due: hour(30 + week) },
    ]);
    expect((await shift(1, -7)).status).toBe(200);
    school.setHour(11);
    school.signOutAll();
    expect(await (await shift(2, 1)).json()).toMatchObject({ shifted: [{ id: 2, dueAt: hour(54) }] });
    expect(datesOf()).toEqual([
      { opens: hour(-1), due: hour(10) },
      { opens: hour(44), due: hour(54) },
    ]);
    expect((await shift(2, -60)).status).toBe(400);
    expect((await shift(2, 0)).status).toBe(400);
    expect((await shift(2, 1, 'pim')).status).toBe(404);
    expect((await shift(2, 1, 'tilda')).status).toBe(403);
    expect(datesOf()).toContainEqual({ opens: hour(44), due: hour(54) });
  });
});
