import { describe, expect, it } from 'vitest';

import type { AssignmentDetail, GroupDates, News, StudentGroup, WorkDetail } from '#api';

import { NOON, openSchool, type School } from '../testing/fixture.ts';

const hour = (hours: number): string => new Date(NOON.getTime() + hours * 3_600_000).toISOString();
const idOf = (school: School, login: string): number =>
  school.db.prepare<[string], number>('SELECT id FROM users WHERE login = ?').pluck().get(login) ?? 0;
const sectionOf = (school: School): number =>
  school.db.prepare<[], number>('SELECT section_id FROM assignments WHERE id = 1').pluck().get() ?? 0;
const groupsAt = (school: School, id?: number): string =>
  `/api/sections/${String(sectionOf(school))}/groups${id === undefined ? '' : `/${String(id)}`}`;
const makes = (school: School, name: string, logins: readonly string[], login = 'orla') =>
  school.request(login, 'POST', groupsAt(school), { name, studentIds: logins.map((one) => idOf(school, one)) });
const dueFor = (school: School, groupId: number, dueAt: string, login = 'orla') =>
  school.request(login, 'PUT', `/api/assignments/1/groups/${String(groupId)}`, { dueAt });
const dueAtOf = async (school: School, login: string): Promise<string> =>
  ((await (await school.request(login, 'GET', '/api/work/1')).json()) as WorkDetail).dueAt;
const listOf = async (school: School): Promise<StudentGroup[]> =>
  ((await (await school.request('orla', 'GET', groupsAt(school))).json()) as { groups: StudentGroup[] }).groups;
const extension = (dueAt: string) => ({ dueAt, extraAttempts: 0, standing: 'owed', reason: 'Was ill for a week.' });

/** A school in which ansel comes on Tuesdays, and has two days more. */
async function openGrouped(): Promise<School> {
  const school = await openSchool();
  expect((await makes(school, 'Tuesday bench', ['ansel'])).status).toBe(201);
  expect((await dueFor(school, 1, hour(58))).status).toBe(200);
  return school;
}

describe('a group of students with another due time', () => {
  it('has it for its members alone, who hear of it', async () => {
    const school = await openGrouped();
    expect([await dueAtOf(school, 'ansel'), await dueAtOf(school, 'fia')]).toEqual([hour(58), hour(10)]);
    const news = (await (await school.request('ansel', 'GET', '/api/news')).json()) as News;
    expect(news.items.map(({ text }) => text).join(' ')).toContain('You have until Wednesday 6 May, 22:00');
    school.setHour(20);
    school.signOutAll();
    expect((await school.handIn('fia', 1, 'too late')).status).toBe(409);
    expect((await school.handIn('ansel', 1, 'in time')).status).toBe(202);
  });

  it('is told with the group, not as an extension of each', async () => {
    const school = await openGrouped();
    const dates = (await (await school.request('orla', 'GET', '/api/assignments/1/groups')).json()) as GroupDates;
    expect(dates.groups).toEqual([{ groupId: 1, name: 'Tuesday bench', students: 1, dueAt: hour(58), by: 'orla' }]);
    const detail = (await (await school.request('orla', 'GET', '/api/assignments/1')).json()) as AssignmentDetail;
    expect(detail.extensions).toEqual([]);
  });

  it('has it also for who joins the group later, and no more for who leaves it', async () => {
    const school = await openGrouped();
    const set = (logins: readonly string[]) =>
      school.request('orla', 'PUT', groupsAt(school, 1), {
        name: 'Tuesday bench',
        studentIds: logins.map((login) => idOf(school, login)),
      });
    expect((await set(['fia'])).status).toBe(200);
    expect([await dueAtOf(school, 'ansel'), await dueAtOf(school, 'fia')]).toEqual([hour(10), hour(58)]);
  });

  it('gives way to an extension of one student, which comes back to the group when it is taken back', async () => {
    const school = await openGrouped();
    const path = `/api/assignments/1/extensions/${String(idOf(school, 'ansel'))}`;
    await school.request('orla', 'PUT', path, extension(hour(30)));
    expect(await dueAtOf(school, 'ansel')).toBe(hour(30));
    await dueFor(school, 1, hour(80));
    expect(await dueAtOf(school, 'ansel')).toBe(hour(30));
    expect((await school.request('orla', 'DELETE', path)).status).toBe(200);
    expect(await dueAtOf(school, 'ansel')).toBe(hour(80));
  });

  it('counts with the later one for who is in two groups', async () => {
    const school = await openGrouped();
    await makes(school, 'Evening bench', ['ansel', 'fia']);
    await dueFor(school, 2, hour(34));
    expect([await dueAtOf(school, 'ansel'), await dueAtOf(school, 'fia')]).toEqual([hour(58), hour(34)]);
    await school.request('orla', 'DELETE', '/api/assignments/1/groups/1');
    expect(await dueAtOf(school, 'ansel')).toBe(hour(34));
  });

  it('moves with the others when a term is shifted', async () => {
    const school = await openGrouped();
    await school.request('orla', 'POST', '/api/assignments/1/shift', { days: 7 });
    expect([await dueAtOf(school, 'ansel'), await dueAtOf(school, 'fia')]).toEqual([hour(58 + 168), hour(10 + 168)]);
  });

  it('is gone with its group, or with the student who leaves the section', async () => {
    const school = await openGrouped();
    school.db.prepare('DELETE FROM enrollments WHERE user_id = ?').run(idOf(school, 'ansel'));
    expect(await listOf(school)).toEqual([{ id: 1, name: 'Tuesday bench', studentIds: [] }]);
    school.db.prepare('INSERT INTO enrollments VALUES (?, ?)').run(sectionOf(school), idOf(school, 'ansel'));
    expect(await dueAtOf(school, 'ansel')).toBe(hour(10));
    const other = await openGrouped();
    expect((await other.request('orla', 'DELETE', groupsAt(other, 1))).status).toBe(200);
    expect(await dueAtOf(other, 'ansel')).toBe(hour(10));
  });

  it('is refused before the opening, with a name that is taken, and with students of other sections', async () => {
    const school = await openGrouped();
    expect((await dueFor(school, 1, hour(-400))).status).toBe(400);
    expect((await makes(school, 'Tuesday bench', [])).status).toBe(409);
    await makes(school, 'Strangers', ['orla', 'pim']);
    expect((await listOf(school)).find(({ name }) => name === 'Strangers')?.studentIds).toEqual([]);
  });

  it('is for those who manage the course', async () => {
    const school = await openGrouped();
    for (const [login, status] of [
      ['pim', 404],
      ['tilda', 403],
      ['ansel', 403],
    ] as const) {
      expect((await makes(school, 'Another', [], login)).status).toBe(status);
      expect((await dueFor(school, 1, hour(99), login)).status).toBe(status);
    }
    expect(await dueAtOf(school, 'ansel')).toBe(hour(58));
  });
});
