import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';

import type { ResultsReadiness, StudentRecord } from '#api';
import { printedRecord } from './printed.ts';

import { openSchool, type School } from '../testing/fixture.ts';

const idOf = (school: School, login: string): number =>
  school.db.prepare<[string], number>('SELECT id FROM users WHERE login = ?').pluck().get(login) ?? 0;
const courseOf = (school: School): number =>
  school.db.prepare<[], number>('SELECT course_id FROM sections LIMIT 1').pluck().get() ?? 0;
const at = (school: School, rest = '', student = 'ansel'): string =>
  `/api/courses/${String(courseOf(school))}/students/${String(idOf(school, student))}${rest}`;
const recordOf = async (school: School, login = 'orla'): Promise<StudentRecord> =>
  (await (await school.request(login, 'GET', at(school))).json()) as StudentRecord;
const notes = (school: School, text: string, login = 'orla', student = 'ansel') =>
  school.request(login, 'POST', at(school, '/notes', student), { text });

describe('what staff notes of a student', () => {
  it('is read by staff, the newest first, with who wrote it, and taken away again', async () => {
    const school = await openSchool();
    expect((await notes(school, 'Works from the wrong edge.')).status).toBe(201);
    expect((await notes(school, 'Talked about datums.', 'tilda')).status).toBe(201);
    expect((await recordOf(school, 'tilda')).notes).toMatchObject([
      { text: 'Talked about datums.', by: 'tilda' },
      { text: 'Works from the wrong edge.', by: 'orla' },
    ]);
    expect((await school.request('orla', 'DELETE', at(school, '/notes/1'))).status).toBe(200);
    expect((await recordOf(school)).notes).toHaveLength(1);
  });

  it('is for nobody else, and of nobody outside the course', async () => {
    const school = await openSchool();
    await notes(school, 'Works from the wrong edge.');
    expect((await notes(school, 'I see', 'ansel')).status).toBe(403);
    expect((await notes(school, 'I see', 'pim')).status).toBe(404);
    expect((await notes(school, 'Of a colleague', 'orla', 'pim')).status).toBe(404);
    expect((await school.request('pim', 'DELETE', at(school, '/notes/1'))).status).toBe(404);
    // Neither in the student's own bundle.
    const bundle = Buffer.from(await (await school.request('ansel', 'GET', '/api/my-data.zip')).arrayBuffer());
    expect(bundle.includes('wrong edge')).toBe(false);
    const staff = await school.request('orla', 'GET', `/api/students/${String(idOf(school, 'ansel'))}/data.zip`);
    expect(Buffer.from(await staff.arrayBuffer()).includes('wrong edge')).toBe(true);
  });
});

describe('the page of a student for a talk', () => {
  it('is a PDF for whoever teaches the course', async () => {
    const school = await openSchool();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    const pdf = await school.request('orla', 'GET', at(school, '/record.pdf'));
    expect(pdf.headers.get('content-type')).toBe('application/pdf');
    expect(
      Buffer.from(await pdf.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
    expect((await school.request('pim', 'GET', at(school, '/record.pdf'))).status).toBe(404);
  });

  it('says what counts, all scores, other dates and causes, and no note for the staff', async () => {
    const school = await openSchool();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    await notes(school, 'Works from the wrong edge.');
    const printed = printedRecord(await recordOf(school));
    expect(printed.title).toMatch(/^ansel: work in /);
    expect(printed.facts).toContainEqual(['Grade', '80.0 of 100']);
    // Two are issued: one is due ten hours after noon, the other one the day after; both in UTC.
    const exercise = 'SB-101 Cleat plate';
    expect(printed.work).toEqual([
      { counts: '80', exercise, due: '2026-05-04', scores: '80.0', extension: '' },
      { counts: '', exercise, due: '2026-05-05', scores: '', extension: '' },
    ]);
    expect(printed.causes).toEqual([{ name: expect.any(String) as string, exercises: 1 }]);
    expect(JSON.stringify(printed)).not.toContain('wrong edge');
  });
});

describe('grades for the records of the school', () => {
  const sectionOf = (school: School): number =>
    school.db.prepare<[], number>('SELECT section_id FROM assignments WHERE id = 1').pluck().get() ?? 0;
  const packageAt = (school: School, query = '?period=term-2'): string =>
    `/api/courses/${String(courseOf(school))}/results.zip${query}`;

  it('name students and class as the class list of the school named them', async () => {
    const school = await openSchool();
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    const text = 'Name\tUsername\tSchool id\nansel\tansel\tu-17';
    const list = { text, sameLines: [], remove: [], classId: 'c-4' };
    await school.request('orla', 'POST', `/api/sections/${String(sectionOf(school))}/students`, list);
    const zip = await school.request('orla', 'GET', packageAt(school));
    const files = unzipSync(new Uint8Array(await zip.arrayBuffer()));
    expect(Object.keys(files).sort()).toEqual(['categories.csv', 'lineItems.csv', 'manifest.csv', 'results.csv']);
    const results = strFromU8(files['results.csv'] ?? new Uint8Array());
    expect(results).toMatch(/zorvet-assignment-1,u-17,fully graded,80,2026-05-04,,,c-4,/);
    expect(strFromU8(files['lineItems.csv'] ?? new Uint8Array())).toContain('term-2');
  });

  it('say who has no id of the school, and are refused without a grading period', async () => {
    const school = await openSchool();
    const readiness = (await (
      await school.request('orla', 'GET', `/api/courses/${String(courseOf(school))}/results`)
    ).json()) as ResultsReadiness;
    expect(readiness.unnamed).toHaveLength(readiness.students);
    expect(readiness.unnamedSections.length).toBeGreaterThan(0);
    expect((await school.request('orla', 'GET', packageAt(school, '?period=%20'))).status).toBe(400);
    expect((await school.request('pim', 'GET', packageAt(school))).status).toBe(404);
  });
});
