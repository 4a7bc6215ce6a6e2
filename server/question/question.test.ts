import { describe, expect, it } from 'vitest';

import type { AssignmentQuestions, Desk, News, WorkQuestions } from '#api';

import { NOON, openSchool, type School } from '../testing/fixture.ts';

const PLACE = { page: 1, at: [120, 80] };
const workAt = (school: School, rest = 'questions'): string => `/api/work/${String(school.assignmentId)}/${rest}`;
const courseAt = (school: School, rest = 'questions'): string =>
  `/api/assignments/${String(school.assignmentId)}/${rest}`;
const json = async <T>(answer: Promise<Response>): Promise<T> => (await (await answer).json()) as T;
const asks = (school: School, login: string, text: string, place: typeof PLACE | null = PLACE) =>
  school.request(login, 'POST', workAt(school), { stage: 1, text, place });
const readBy = (school: School, login: string) => json<WorkQuestions>(school.request(login, 'GET', workAt(school)));
const staffReads = (school: School, login = 'orla') =>
  json<AssignmentQuestions>(school.request(login, 'GET', courseAt(school)));
const answers = (school: School, id: number, toAll: boolean, login = 'orla') =>
  school.request(login, 'PUT', `/api/questions/${String(id)}/answer`, {
    answer: 'Both slots, as the count says.',
    toAll,
  });
const newsOf = async (school: School, login: string): Promise<string[]> =>
  (await json<News>(school.request(login, 'GET', '/api/news'))).items.map(({ text }) => text);

/** A school in which ansel has asked about a place of the sheet. */
async function openAsked(): Promise<School> {
  const school = await openSchool();
  expect((await asks(school, 'ansel', 'Is the radius of both slots 6?')).status).toBe(201);
  return school;
}

describe('a question about a sheet, before anything is handed in', () => {
  it('is read by those who review the work, with its place on the sheet of whoever asked', async () => {
    const school = await openAsked();
    const { assignment, questions } = await staffReads(school);
    expect(assignment).toMatchObject({ exercise: 'SB-101 Cleat plate', stages: 1 });
    expect(questions).toMatchObject([
      { text: 'Is the radius of both slots 6?', place: PLACE, answer: null, at: NOON.toISOString() },
    ]);
    expect(questions[0]?.student).toBe('ansel');
    const sheet = await school.request('tilda', 'GET', `/api/questions/${String(questions[0]?.id)}/sheet.svg`);
    expect(sheet.headers.get('content-type')).toBe('image/svg+xml');
    expect((await staffReads(school, 'tilda')).questions).toHaveLength(1);
  });

  it('is nobody else’s as long as it is not answered for all', async () => {
    const school = await openAsked();
    expect((await readBy(school, 'ansel')).questions).toMatchObject([{ own: true, place: PLACE, answer: null }]);
    expect((await readBy(school, 'fia')).questions).toEqual([]);
    expect((await school.request('pim', 'GET', courseAt(school))).status).toBe(404);
    expect((await answers(school, 1, false, 'pim')).status).toBe(404);
    expect((await school.request('fia', 'DELETE', `${workAt(school)}/1`)).status).toBe(404);
  });

  it('is on the desk of those who may answer it, until somebody has', async () => {
    const school = await openAsked();
    await asks(school, 'fia', 'How deep is the slot?');
    const deskOf = async (login: string) => (await json<Desk>(school.request(login, 'GET', '/api/desk'))).questions;
    expect(await deskOf('orla')).toMatchObject([{ exerciseNumber: 'SB-101', section: 'Morning', count: 2 }]);
    expect(await deskOf('pim')).toEqual([]);
    await answers(school, 1, false);
    await answers(school, 2, true);
    expect(await deskOf('orla')).toEqual([]);
  });

  it('answered for one, is read by that one', async () => {
    const school = await openAsked();
    school.setHour(1);
    expect((await answers(school, 1, false)).status).toBe(200);
    expect((await readBy(school, 'ansel')).questions).toMatchObject([
      {
        answer: 'Both slots, as the count says.',
        toAll: false,
        answeredAt: new Date(NOON.getTime() + 3_600_000).toISOString(),
      },
    ]);
    expect((await readBy(school, 'fia')).questions).toEqual([]);
    expect(await newsOf(school, 'ansel')).toContain('Your question about SB-101 Cleat plate is answered.');
    expect((await newsOf(school, 'fia')).join(' ')).not.toContain('question');
  });

  it('answered for all, is read by all without the name of who asked', async () => {
    const school = await openAsked();
    expect(await newsOf(school, 'orla')).toContain('ansel asks about the sheet of SB-101 Cleat plate.');
    school.setHour(1);
    await answers(school, 1, true);
    const answer = await (await school.request('fia', 'GET', workAt(school))).text();
    expect((JSON.parse(answer) as WorkQuestions).questions).toMatchObject([{ own: false, place: PLACE, toAll: true }]);
    expect(answer).not.toContain('ansel');
    expect(await newsOf(school, 'fia')).toContain('A question about SB-101 Cleat plate is answered.');
    expect((await newsOf(school, 'orla')).join(' ')).not.toContain('asks about');
  });

  it('is told without its place to whoever has another sheet', async () => {
    const school = await openAsked();
    await answers(school, 1, true);
    const other = await school.files.put(Buffer.from('<svg>another sheet</svg>'));
    school.db.prepare('UPDATE exercise_revisions SET sheet_sha256 = ?').run(other.sha256);
    expect((await readBy(school, 'fia')).questions).toMatchObject([{ place: null, toAll: true }]);
    expect((await staffReads(school)).questions).toMatchObject([{ place: PLACE }]);
  });

  it('is taken back by its student until somebody has answered', async () => {
    const school = await openAsked();
    expect((await school.request('ansel', 'DELETE', `${workAt(school)}/1`)).status).toBe(200);
    expect((await staffReads(school)).questions).toEqual([]);
    await asks(school, 'ansel', 'Once more?', null);
    const [again] = (await staffReads(school)).questions;
    expect(again?.place).toBeNull();
    await answers(school, again?.id ?? 0, false);
    expect((await school.request('ansel', 'DELETE', `${workAt(school)}/${String(again?.id)}`)).status).toBe(404);
  });

  it('is refused empty, about a stage that is not open, and as the eleventh without an answer', async () => {
    const school = await openSchool();
    expect((await asks(school, 'ansel', '   ')).status).toBe(400);
    const ofStage = { stage: 2, text: 'And this?', place: null };
    expect((await school.request('ansel', 'POST', workAt(school), ofStage)).status).toBe(404);
    for (let i = 0; i < 10; i++) expect((await asks(school, 'ansel', `Question ${String(i)}?`)).status).toBe(201);
    expect((await asks(school, 'ansel', 'One more?')).status).toBe(429);
    expect((await asks(school, 'fia', 'And mine?')).status).toBe(201);
  });

  it('stays without a name where it was answered for all, and goes with its student where it was not', async () => {
    const school = await openAsked();
    await asks(school, 'ansel', 'Which way is the grain?');
    await answers(school, 1, true);
    const id = school.db.prepare("SELECT id FROM users WHERE login = 'ansel'").pluck().get() as number;
    expect((await school.request('orla', 'DELETE', `/api/students/${String(id)}`, {})).status).toBeLessThan(300);
    expect((await staffReads(school)).questions).toMatchObject([{ id: 1, student: null }]);
  });
});

describe('an erratum', () => {
  const erratum = { stage: 1, text: 'The slot is 12 long, not 21.', place: PLACE };

  it('is read by everybody who has the sheet, is news, and is in the log', async () => {
    const school = await openSchool();
    school.setHour(1);
    expect((await school.request('orla', 'POST', courseAt(school, 'errata'), erratum)).status).toBe(201);
    for (const login of ['ansel', 'fia'])
      expect((await readBy(school, login)).errata).toMatchObject([{ text: erratum.text, place: PLACE }]);
    expect((await newsOf(school, 'fia'))[0]).toContain('The sheet of SB-101 Cleat plate is corrected');
    expect(school.db.prepare("SELECT count(*) FROM audit_log WHERE what = 'erratum'").pluck().get()).toBe(1);
  });

  it('is not for students to write, and is withdrawn by those who teach', async () => {
    const school = await openSchool();
    await school.request('orla', 'POST', courseAt(school, 'errata'), erratum);
    expect((await school.request('ansel', 'POST', courseAt(school, 'errata'), erratum)).status).toBe(403);
    expect((await school.request('pim', 'DELETE', courseAt(school, 'errata/1'))).status).toBe(404);
    expect((await school.request('orla', 'DELETE', courseAt(school, 'errata/1'))).status).toBe(200);
    expect((await readBy(school, 'ansel')).errata).toEqual([]);
  });

  it('is told as one of the sheet before, once a corrected revision is in its place', async () => {
    const school = await openSchool();
    await school.request('orla', 'POST', courseAt(school, 'errata'), erratum);
    expect((await readBy(school, 'ansel')).errata).toMatchObject([{ isEarlier: false }]);
    school.db
      .prepare(
        `INSERT INTO exercise_revisions (exercise_id, number, document_json, reference_sha256, sheet_sha256, part_sha256, created_at)
         SELECT exercise_id, 2, document_json, reference_sha256, sheet_sha256, part_sha256, created_at FROM exercise_revisions`,
      )
      .run();
    school.setHour(1);
    const correction = { revision: 2, reason: 'The slot was 21 long.' };
    expect((await school.request('orla', 'POST', courseAt(school, 'correct'), correction)).status).toBe(202);
    school.setHour(2);
    await school.request('orla', 'POST', courseAt(school, 'errata'), { ...erratum, text: 'And the date is wrong.' });
    expect((await readBy(school, 'ansel')).errata.map(({ isEarlier }) => isEarlier)).toEqual([true, false]);
  });
});
