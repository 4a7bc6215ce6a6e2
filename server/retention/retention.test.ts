import { existsSync } from 'node:fs';

import { pino } from 'pino';
import { describe, expect, it } from 'vitest';

import type { News } from '#api';
import { createAudit } from '#server/audit';
import { createRetention } from '#server/retention';

import { NOON, openSchool, type School } from '../testing/fixture.ts';

const DAY_MS = 24 * 3_600_000;
const dayAfter = (days: number): string => new Date(NOON.getTime() + days * DAY_MS).toISOString().slice(0, 10);
const courseOf = (school: School): number =>
  school.db.prepare<[], number>("SELECT id FROM courses WHERE title = 'Fittings'").pluck().get() ?? 0;
const keep = (school: School, keepUntil: string | null, login = 'orla') =>
  school.request(login, 'PATCH', `/api/courses/${String(courseOf(school))}`, { keepUntil });
const count = (school: School, table: string): number =>
  school.db.prepare<[], number>(`SELECT count(*) FROM ${table}`).pluck().get() ?? 0;
/** Erases what is due after some days. */
const lookAfter = (school: School, days: number): number => {
  const now = (): Date => new Date(NOON.getTime() + days * DAY_MS);
  const { db } = school;
  return createRetention({ db, audit: createAudit(db, now), log: pino({ level: 'silent' }), now }).look();
};

/** A school with work that is kept for 40 more days. */
async function openKept(): Promise<School> {
  const school = await openSchool();
  await school.handIn('ansel', school.assignmentId, 'a model');
  await school.queue.idle();
  expect((await keep(school, dayAfter(40))).status).toBe(200);
  return school;
}

describe('the work of students', () => {
  it('is kept on its last day, and erased after it with accounts that belong to nothing else', async () => {
    const school = await openKept();
    expect(lookAfter(school, 40)).toBe(0);
    expect(count(school, 'attempts')).toBe(1);
    const file = school.db.prepare<[], string>('SELECT file_sha256 FROM attempts').pluck().get() ?? '';
    expect(lookAfter(school, 41)).toBe(1);
    for (const table of ['attempts', 'reports', 'enrollments', 'extensions', 'assigned_variants'])
      expect(count(school, table), table).toBe(0);
    expect(school.db.prepare("SELECT login FROM users WHERE role = 'student'").all()).toEqual([]);
    expect(school.db.prepare('SELECT 1 FROM files WHERE sha256 = ?').get(file)).toBeUndefined();
    // The content itself goes at the next start, as of everything that no row names.
    expect(existsSync(school.files.pathOf(file))).toBe(true);
  });

  it('leaves exercises, assignments and staff, and is in the log', async () => {
    const school = await openKept();
    lookAfter(school, 41);
    expect([count(school, 'exercises'), count(school, 'assignments')]).toEqual([1, 2]);
    expect((await school.request('orla', 'GET', '/api/assignments/1')).status).toBe(200);
    const note = school.db
      .prepare<[], { by: string; after: string }>(
        "SELECT made_by_name AS by, after_json AS after FROM audit_log WHERE what = 'work of students erased'",
      )
      .get();
    expect(note?.by).toBe('the server');
    expect(JSON.parse(note?.after ?? '')).toEqual({ attempts: 1, accounts: 2 });
    expect(lookAfter(school, 42)).toBe(0);
  });

  it('keeps the account and the work of who belongs to another course too', async () => {
    const school = await openKept();
    const insert = (sql: string, ...values: unknown[]) => Number(school.db.prepare(sql).run(...values).lastInsertRowid);
    const other = school.db.prepare<[], number>("SELECT id FROM courses WHERE title = 'Rigging'").pluck().get();
    const section = insert("INSERT INTO sections (course_id, name) VALUES (?, 'Loft')", other);
    school.db.prepare("INSERT INTO enrollments SELECT ?, id FROM users WHERE login = 'ansel'").run(section);
    lookAfter(school, 41);
    expect(school.db.prepare("SELECT login FROM users WHERE role = 'student'").pluck().all()).toEqual(['ansel']);
    expect(count(school, 'enrollments')).toBe(1);
  });

  it('waits while a file of the course is being measured', async () => {
    const school = await openKept();
    school.db.prepare("UPDATE attempts SET state = 'waiting'").run();
    expect(lookAfter(school, 41)).toBe(0);
    expect(count(school, 'enrollments')).toBe(2);
  });

  it('is announced to those who manage the course, 30 days before', async () => {
    const school = await openKept();
    const news = async (): Promise<string> =>
      ((await (await school.request('orla', 'GET', '/api/news')).json()) as News).items
        .map(({ text }) => text)
        .join(' ');
    school.setHour(24 * 9);
    school.signOutAll();
    expect(await news()).not.toContain('is erased after');
    school.setHour(24 * 11);
    school.signOutAll();
    expect(await news()).toContain(`The work of students of Fittings is erased after ${dayAfter(40)}.`);
  });

  it('is not set to be erased soon, nor by who does not manage the course, and can be kept without end again', async () => {
    const school = await openKept();
    const soon = await keep(school, dayAfter(29));
    expect(soon.status).toBe(400);
    expect(await soon.text()).toContain(`the first day that can be chosen is ${dayAfter(30)}`);
    expect((await keep(school, dayAfter(50), 'pim')).status).toBe(404);
    expect((await keep(school, null)).status).toBe(200);
    expect(lookAfter(school, 400)).toBe(0);
  });
});
