import readExcelFile from 'read-excel-file/node';
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
        standing: 'owed',
        reason: 'Was ill.',
        ...body,
      });
    await extend('ansel', { standing: 'excused' });
    await extend('fia', { dueAt: '2026-05-06T12:00:00.000Z' });
    school.setHour(11);
    school.signOutAll();
    expect(await rowOf(school, 'ansel')).toMatchObject({ total: null, cells: [{ state: 'excused' }, {}] });
    expect(await rowOf(school, 'fia')).toMatchObject({ total: null, cells: [{ state: 'open' }, {}] });
  });

  it('counts nothing of whoever was absent, until the time to make it up is over', async () => {
    const school = await openSchool();
    const absent = (login: string, dueAt: string | null) => {
      const id = school.db.prepare<[string], number>('SELECT id FROM users WHERE login = ?').pluck().get(login) ?? 0;
      const body = { dueAt, extraAttempts: 0, standing: 'absent', reason: 'Was at sea.' };
      return school.request('orla', 'PUT', `/api/assignments/1/extensions/${String(id)}`, body);
    };
    expect((await absent('fia', null)).status).toBe(200);
    await absent('ansel', '2026-05-05T12:00:00.000Z');
    school.setHour(11);
    school.signOutAll();
    for (const login of ['fia', 'ansel'])
      expect(await rowOf(school, login)).toMatchObject({ total: null, cells: [{ state: 'absent', score: null }, {}] });
    const book = await school.request('orla', 'GET', '/api/courses/1/gradebook.xlsx');
    const [grades] = await readExcelFile(Buffer.from(await book.arrayBuffer()));
    expect(grades?.data.find(([name]) => name === 'fia')?.[3]).toBe('absent');
    school.setHour(60);
    school.signOutAll();
    expect(await rowOf(school, 'ansel')).toMatchObject({ cells: [{ state: 'missing', score: 0 }, {}] });
    expect(await rowOf(school, 'fia')).toMatchObject({ cells: [{ state: 'absent' }, {}] });
  });

  it('counts what somebody who was absent has made up', async () => {
    const school = await openSchool();
    const id = school.db.prepare<[string], number>('SELECT id FROM users WHERE login = ?').pluck().get('ansel') ?? 0;
    const body = { dueAt: null, extraAttempts: 0, standing: 'absent', reason: 'Was at sea.' };
    await school.request('orla', 'PUT', `/api/assignments/1/extensions/${String(id)}`, body);
    await school.handIn('ansel', 1, 'a model');
    await school.queue.idle();
    expect(await rowOf(school, 'ansel')).toMatchObject({ total: 80, cells: [{ state: 'graded', score: 80 }, {}] });
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

const SCHEME = {
  groups: [
    { id: 'weekly', name: 'Weekly', weight: 60, dropLowest: 1 },
    { id: 'test', name: 'Test', weight: 40, dropLowest: 0 },
  ],
  letters: [
    { letter: 'A', from: 80 },
    { letter: 'B', from: 0 },
  ],
};
const setGrading = (school: School, body: object, login = 'orla') =>
  school.request(login, 'PUT', '/api/courses/1/grading', body);

describe('how grades come about', () => {
  it('is set by those who manage the course, and written down with what it was', async () => {
    const school = await openSchool();
    await school.handIn('ansel', 1, 'a model');
    await school.queue.idle();
    for (const login of ['ansel', 'pim', 'tilda'])
      expect([403, 404]).toContain((await setGrading(school, { scheme: SCHEME, groupOf: [] }, login)).status);
    const groupOf = [{ assignmentId: 1, groupId: 'test' }];
    expect((await setGrading(school, { scheme: SCHEME, groupOf })).status).toBe(200);
    expect(await bookOf(school)).toMatchObject({
      scheme: SCHEME,
      assignments: [
        { id: 1, groupId: 'test' },
        { id: 2, groupId: null },
      ],
    });
    expect(await rowOf(school, 'ansel')).toMatchObject({
      total: 80,
      letter: 'A',
      shares: ['Weekly: nothing counts yet.', 'Test: 80.0, the mean of 1, counts 100 % of the grade.'],
    });
    const { entries } = (await (await school.request('orla', 'GET', '/api/courses/1/log')).json()) as {
      entries: { what: string; before: string; after: string }[];
    };
    const note = entries.find(({ what }) => what === 'how grades come about');
    expect(JSON.parse(note?.before ?? '')).toMatchObject({ scheme: { groups: [] }, groups: { 1: null } });
    expect(JSON.parse(note?.after ?? '')).toMatchObject({ scheme: SCHEME, groups: { 1: 'test' } });
  });

  it('is refused with an assignment of another course, or a group that is not there', async () => {
    const school = await openSchool();
    for (const groupOf of [[{ assignmentId: 99, groupId: 'test' }], [{ assignmentId: 1, groupId: 'gone' }]])
      expect((await setGrading(school, { scheme: SCHEME, groupOf })).status).toBe(400);
    expect(await bookOf(school)).toMatchObject({ scheme: { groups: [], letters: [] } });
  });
});

describe('the workbook of a course', () => {
  it('has scores as numbers, totals as formulas over them, and how they come about', async () => {
    const school = await openSchool();
    await school.handIn('ansel', 1, 'a model');
    await school.queue.idle();
    await setGrading(school, { scheme: SCHEME, groupOf: [] });
    const answer = await school.request('orla', 'GET', '/api/courses/1/gradebook.xlsx');
    const bytes = Buffer.from(await answer.arrayBuffer());
    const sheets = await readExcelFile(bytes);
    expect(sheets.map(({ sheet }) => sheet)).toEqual(['Grades', 'How it counts']);
    const rows = sheets[0]?.data ?? [];
    expect(rows[1]?.slice(0, 4)).toEqual(['Name', 'Sign-in name', 'Section', 'SB-101 Cleat plate (Morning)']);
    expect(rows.find(([name]) => name === 'ansel')?.[3]).toBe(80);
    expect(sheets[1]?.data.flat()).toEqual(expect.arrayContaining(['Weekly', 60, 'Test', 40, 'A', 80, 'B', 0]));
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
    const body = { dueAt: null, extraAttempts: 1, standing: 'owed', reason: 'Was ill.' };
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
