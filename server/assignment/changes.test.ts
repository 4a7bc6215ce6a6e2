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
    excused: false,
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
      { student: 'ansel', dueAt: hour(48), extraAttempts: 2, excused: false, reason: REASON, by: 'orla' },
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
      policy: { ...policy, late: { perDay: 10, most: 50 } },
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
