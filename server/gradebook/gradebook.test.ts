import { describe, expect, it } from 'vitest';

import type { GradebookAnswer } from '#api';

import { GRADED, openSchool, REFUSED, type School } from '../testing/fixture.ts';

const bookOf = async (school: School, login = 'orla') =>
  (await (await school.request(login, 'GET', '/api/courses/1/gradebook')).json()) as GradebookAnswer;
const rowOf = async (school: School, name: string) => (await bookOf(school)).rows.find((row) => row.name === name);

describe('the gradebook of a course', () => {
  it('has what counts of each student and assignment, with its state', async () => {
    const school = await openSchool((content) => (content === 'junk' ? REFUSED : GRADED));
    await school.handIn('ansel', 1, 'a model');
    await school.handIn('fia', 1, 'junk');
    await school.queue.idle();
    const book = await bookOf(school);
    expect(book.assignments.map(({ id, number }) => [id, number])).toEqual([
      [1, 'SB-101'],
      [2, 'SB-101'],
    ]);
    expect(await rowOf(school, 'ansel')).toMatchObject({
      section: 'Morning',
      total: 80,
      cells: [
        { state: 'graded', score: 80, attempts: 1, isLate: false },
        { state: 'open', score: null },
      ],
    });
    expect(await rowOf(school, 'fia')).toMatchObject({
      total: null,
      cells: [{ state: 'handed-in', attempts: 0 }, { state: 'open' }],
    });
    // The time of the first is over after ten hours; what was never measured is missing then.
    school.setHour(11);
    school.signOutAll();
    expect(await rowOf(school, 'fia')).toMatchObject({
      total: 0,
      cells: [{ state: 'missing', score: 0 }, { state: 'open' }],
    });
  });

  it('counts nothing of what somebody is excused from, and waits as long as an extension says', async () => {
    const school = await openSchool();
    const id = (login: string) =>
      school.db.prepare<[string], number>('SELECT id FROM users WHERE login = ?').pluck().get(login) ?? 0;
    const extend = (login: string, body: object) =>
      school.request('orla', 'PUT', `/api/assignments/1/extensions/${String(id(login))}`, {
        dueAt: null,
        extraAttempts: 0,
        excused: false,
        reason: 'Was ill.',
        ...body,
      });
    await extend('ansel', { excused: true });
    await extend('fia', { dueAt: '2026-05-06T12:00:00.000Z' });
    school.setHour(11);
    school.signOutAll();
    expect(await rowOf(school, 'ansel')).toMatchObject({ total: null, cells: [{ state: 'excused' }, {}] });
    expect(await rowOf(school, 'fia')).toMatchObject({ total: null, cells: [{ state: 'open' }, {}] });
  });

  it('is a table for a spreadsheet too, for those who teach the course alone', async () => {
    const school = await openSchool();
    await school.handIn('ansel', 1, 'a model');
    await school.queue.idle();
    const csv = await (await school.request('tilda', 'GET', '/api/courses/1/gradebook.csv')).text();
    expect(csv.split('\r\n')[1]).toBe('ansel,ansel,Morning,80,,80');
    for (const login of ['pim', 'ansel', 'bodil'])
      expect([403, 404]).toContain((await school.request(login, 'GET', '/api/courses/1/gradebook.csv')).status);
  });
});

describe('one student of a course', () => {
  it('has all work with every score, extensions, and what went wrong in the newest attempts', async () => {
    const school = await openSchool();
    await school.handIn('ansel', 1, 'first');
    await school.queue.idle();
    await school.handIn('ansel', 1, 'second');
    await school.queue.idle();
    const id = school.db.prepare<[], number>("SELECT id FROM users WHERE login = 'ansel'").pluck().get() ?? 0;
    const body = { dueAt: null, extraAttempts: 1, excused: false, reason: 'Was ill.' };
    await school.request('orla', 'PUT', `/api/assignments/1/extensions/${String(id)}`, body);
    const at = `/api/courses/1/students/${String(id)}`;
    expect(await (await school.request('orla', 'GET', at)).json()).toMatchObject({
      name: 'ansel',
      section: 'Morning',
      total: 80,
      work: [
        {
          assignmentId: 1,
          scores: [
            { attemptId: 1, score: 80 },
            { attemptId: 2, score: 80 },
          ],
          extension: 'Was ill.',
        },
        { assignmentId: 2, scores: [], extension: null },
      ],
      // Of two attempts at one exercise, the newest alone.
      causes: [{ name: expect.any(String) as string, attemptIds: [2] }],
    });
    for (const login of ['pim', 'ansel', 'fia', 'bodil'])
      expect([403, 404]).toContain((await school.request(login, 'GET', at)).status);
  });
});
