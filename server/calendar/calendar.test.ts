import { describe, expect, it } from 'vitest';

import type { CalendarAnswer } from '#api';

import { openSchool, type School } from '../testing/fixture.ts';

const pathOf = async (school: School, login: string, how: 'GET' | 'POST' = 'GET'): Promise<string> => {
  const answer = await school.request(login, how, how === 'GET' ? '/api/calendar' : '/api/calendar/renew');
  return new URL(((await answer.json()) as CalendarAnswer).address).pathname;
};
/** The lines of a feed, as a calendar program without any session reads it. */
const linesOf = async (school: School, path: string): Promise<readonly string[]> => {
  const answer = await school.request(null, 'GET', path);
  expect(answer.headers.get('Content-Type')).toBe('text/calendar; charset=utf-8');
  // Long lines are folded: what begins with a space goes on (RFC 5545, 3.1).
  return (await answer.text()).replaceAll('\r\n ', '').split('\r\n');
};
const starting = (lines: readonly string[], name: string): readonly string[] =>
  lines.filter((line) => line.startsWith(name));

describe('due dates in a calendar program', () => {
  it('of a student are those of the own section, with a reminder the day before', async () => {
    const school = await openSchool();
    const due = school.db.prepare<[], string>('SELECT due_at FROM assignments WHERE id = 1').pluck().get() ?? '';
    const lines = await linesOf(school, await pathOf(school, 'ansel'));
    expect(starting(lines, 'SUMMARY')).toEqual(expect.arrayContaining(['SUMMARY:SB-101 Cleat plate is due']));
    // 2026-05-04T22:00:00.000Z is written 20260504T220000Z.
    expect(starting(lines, 'DTSTART')).toContain(`DTSTART:${due.replace(/[-:]|\.\d+/g, '')}`);
    expect(starting(lines, 'TRIGGER')[0]).toMatch(/-P(T24H|1D)/);
    expect(starting(lines, 'URL')[0]).toMatch(/\/my\/1$/);
  });

  it('follow an extension, and leave out what somebody is excused from', async () => {
    const school = await openSchool();
    const id = school.db.prepare<[], number>("SELECT id FROM users WHERE login = 'ansel'").pluck().get() ?? 0;
    const extend = (body: object) =>
      school.request('orla', 'PUT', `/api/assignments/1/extensions/${String(id)}`, {
        dueAt: null,
        extraAttempts: 0,
        standing: 'owed',
        reason: 'Was ill.',
        ...body,
      });
    const path = await pathOf(school, 'ansel');
    await extend({ dueAt: '2026-05-06T12:00:00.000Z' });
    expect(starting(await linesOf(school, path), 'DTSTART')).toContain('DTSTART:20260506T120000Z');
    await extend({ standing: 'excused' });
    expect(starting(await linesOf(school, path), 'UID')).not.toContain('UID:assignment-1@zorvet');
  });

  it('of who teaches are those of all own sections, named, without a reminder', async () => {
    const school = await openSchool();
    const lines = await linesOf(school, await pathOf(school, 'orla'));
    expect(starting(lines, 'SUMMARY')).toContain('SUMMARY:SB-101 Cleat plate is due (Morning)');
    expect(starting(lines, 'TRIGGER')).toEqual([]);
    expect(starting(lines, 'URL')[0]).toMatch(/\/assignments\/1$/);
    // Who teaches another school reads nothing of this one.
    expect(starting(await linesOf(school, await pathOf(school, 'pim')), 'UID')).not.toContain(
      'UID:assignment-1@zorvet',
    );
  });

  it('are at the same address until it is changed, and at none that was guessed', async () => {
    const school = await openSchool();
    const path = await pathOf(school, 'ansel');
    expect(await pathOf(school, 'ansel')).toBe(path);
    const renewed = await pathOf(school, 'ansel', 'POST');
    expect(renewed).not.toBe(path);
    for (const wrong of [path, '/api/calendar/x.ics', `/api/calendar/${'a'.repeat(32)}.ics`])
      expect((await school.request(null, 'GET', wrong)).status).toBe(404);
  });
});
