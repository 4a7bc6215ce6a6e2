import { describe, expect, it } from 'vitest';

import type { ExerciseSummary, RevisionSummary } from '#api';

import { openSchool, type School } from '../testing/fixture.ts';

const listOf = async (school: School, login = 'orla') =>
  ((await (await school.request(login, 'GET', '/api/exercises')).json()) as { exercises: ExerciseSummary[] }).exercises;
const make = async (school: School, number: string): Promise<number> => {
  const body = { number, title: 'Cleat', unit: 'mm' };
  const answer = await school.request('orla', 'POST', '/api/exercises', body);
  return ((await answer.json()) as { id: number }).id;
};
const copy = (school: School, id: number, body: object, login = 'orla') =>
  school.request(login, 'POST', `/api/exercises/${String(id)}/copy`, body);

describe('the library', () => {
  it('knows of each exercise what it is looked for by', async () => {
    const school = await openSchool();
    const [plate] = await listOf(school);
    expect(plate).toMatchObject({
      number: 'SB-101',
      course: expect.any(String) as string,
      archivedAt: null,
      tags: [],
      letters: expect.arrayContaining(['A']) as string[],
      operations: expect.arrayContaining(['Extrude', 'Hole']) as string[],
      words: expect.arrayContaining(['slot', 'thickness']) as string[],
    });
  });

  it('knows where each revision was issued, when, and how many handed in, for those who read the course', async () => {
    const school = await openSchool();
    await school.handIn('ansel', 1, 'a model');
    await school.queue.idle();
    const answer = await school.request('tilda', 'GET', '/api/exercises/1/revisions');
    const { revisions } = (await answer.json()) as { revisions: RevisionSummary[] };
    const [first] = revisions;
    expect(first?.number).toBe(1);
    const own = first?.issued.find(({ assignmentId }) => assignmentId === 1);
    expect(own).toMatchObject({ section: 'Morning', withdrawn: false, handedIn: 1 });
    expect(first?.issued.filter(({ handedIn }) => handedIn > 0)).toHaveLength(1);
    expect((await school.request('ansel', 'GET', '/api/exercises/1/revisions')).status).toBe(403);
    expect((await school.request('pim', 'GET', '/api/exercises/1/revisions')).status).toBe(404);
  });

  it('puts an exercise away, takes it out again, and keeps its words', async () => {
    const school = await openSchool();
    const [plate] = await listOf(school);
    const at = `/api/exercises/${String(plate?.id)}`;
    const tags = ['first week', ' symmetry ', 'first week'];
    expect((await school.request('orla', 'PATCH', at, { archived: true, tags })).status).toBe(200);
    const [away] = await listOf(school);
    expect(away?.tags).toEqual(['first week', 'symmetry']);
    expect(away?.archivedAt).not.toBeNull();
    await school.request('orla', 'PATCH', at, { archived: false });
    expect((await listOf(school))[0]).toMatchObject({ archivedAt: null, tags: ['first week', 'symmetry'] });
    // Who reviews alone, who teaches elsewhere, and who learns may not.
    for (const login of ['tilda', 'pim', 'ansel'])
      expect([403, 404]).toContain((await school.request(login, 'PATCH', at, { archived: true })).status);
    expect((await school.request('orla', 'PATCH', at, { tags: ['x'.repeat(31)] })).status).toBe(400);
  });
});

describe('a copy of an exercise', () => {
  it('is a draft of its own, with the steps, checks and files of the other', async () => {
    const school = await openSchool();
    const [plate] = await listOf(school);
    const from = plate?.id ?? 0;
    const { sha256 } = await school.files.put(Buffer.from('a drawing'));
    school.db
      .prepare('INSERT INTO exercise_files (exercise_id, sha256, file_name, uploaded_at) VALUES (?, ?, ?, ?)')
      .run(from, sha256, 'drawing.pdf', '2026-05-01T00:00:00.000Z');
    const answer = await copy(school, from, { courseId: 1, number: 'SB-151', title: 'Long cleat plate' });
    expect(answer.status).toBe(201);
    const { id } = (await answer.json()) as { id: number };
    const made = (await listOf(school)).find((one) => one.id === id);
    expect(made).toMatchObject({
      number: 'SB-151',
      title: 'Long cleat plate',
      revision: null,
      assignments: 0,
      steps: plate?.steps,
      checks: plate?.checks,
    });
    const file = await school.request('orla', 'GET', `/api/exercises/${String(id)}/files/${sha256}`);
    expect(file.status).toBe(200);
  });

  it('needs a number that is free, a course of one’s own, and an exercise that one may read', async () => {
    const school = await openSchool();
    const id = (await listOf(school))[0]?.id ?? 0;
    const free = { courseId: 1, number: 'SB-152', title: 'Cleat' };
    expect((await copy(school, id, { ...free, number: 'SB-101' })).status).toBe(409);
    expect((await copy(school, id, { ...free, courseId: 99 })).status).toBe(404);
    expect((await copy(school, 99, free)).status).toBe(404);
    for (const login of ['pim', 'tilda', 'ansel'])
      expect([403, 404]).toContain((await copy(school, id, free, login)).status);
  });
});

describe('an exercise is deleted', () => {
  it('with all that belongs to it where it was never issued, which the log says', async () => {
    const school = await openSchool();
    const id = await make(school, 'SB-160');
    for (const login of ['tilda', 'pim', 'ansel'])
      expect([403, 404]).toContain((await school.request(login, 'DELETE', `/api/exercises/${String(id)}`)).status);
    expect((await school.request('orla', 'DELETE', `/api/exercises/${String(id)}`)).status).toBe(200);
    expect((await listOf(school)).map((one) => one.id)).not.toContain(id);
    expect(school.db.prepare('SELECT count(*) FROM exercise_drafts WHERE exercise_id = ?').pluck().get(id)).toBe(0);
    const { entries } = (await (await school.request('orla', 'GET', '/api/courses/1/log')).json()) as {
      entries: { what: string; subject: string }[];
    };
    expect(entries[0]).toMatchObject({ what: 'exercise deleted', subject: 'SB-160 Cleat' });
  });

  it('never where attempts belong to it: what to do instead is said', async () => {
    const school = await openSchool();
    const id = (await listOf(school)).find(({ assignments }) => assignments > 0)?.id ?? 0;
    const refused = await school.request('orla', 'DELETE', `/api/exercises/${String(id)}`);
    expect(refused.status).toBe(409);
    expect(((await refused.json()) as { error: { message: string } }).error.message).toMatch(
      /^SB-101 was issued 2 times.*Put it away instead/,
    );
    expect((await listOf(school)).map((one) => one.id)).toContain(id);
  });
});
