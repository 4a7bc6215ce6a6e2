import { describe, expect, it } from 'vitest';

import type { Course, Roster, RosterPreview } from '#api';

import { openSchool, type School } from '../testing/fixture.ts';

const LIST = 'Name\tMail\nansel\t\nGil Hesper\tgil@x.org\nHanne Isley\t\n';
const at = '/api/sections/1/students';
const post = (school: School, login: string, path: string, body: object) => school.request(login, 'POST', path, body);
const rosterOf = async (school: School) => (await (await school.request('orla', 'GET', at)).json()) as Roster;
const namesOf = async (school: School) => (await rosterOf(school)).students.map(({ name }) => name);
const apply = (school: School, more: object = {}) =>
  post(school, 'orla', at, { text: LIST, sameLines: [], remove: [], ...more });
const idOf = (school: School, login: string) =>
  school.db.prepare<[string], number>('SELECT id FROM users WHERE login = ?').pluck().get(login) ?? 0;
const logOf = (school: School) => school.db.prepare<[], string>('SELECT what FROM audit_log ORDER BY id').pluck().all();

describe('a list of students', () => {
  it('is looked at first, and changes nothing then', async () => {
    const school = await openSchool();
    const preview = (await (await post(school, 'orla', `${at}/preview`, { text: LIST })).json()) as RosterPreview;
    expect(preview.entries.map(({ kind }) => kind)).toEqual(['same', 'new', 'new']);
    expect(preview.gone.map(({ name }) => name)).toEqual(['fia']);
    expect(await namesOf(school)).toEqual(['ansel', 'fia']);
    expect((await post(school, 'orla', `${at}/preview`, { text: '1\t2' })).status).toBe(400);
  });

  it('adds who is new and takes out who is gone where that is said; attempts stay', async () => {
    const school = await openSchool();
    await school.handIn('fia', school.assignmentId, 'a model');
    const change = await apply(school, { remove: [idOf(school, 'fia')] });
    expect(await change.json()).toMatchObject({ created: 2, enrolled: 2, changed: 0, removed: 1, by: 'orla' });
    expect(await namesOf(school)).toEqual(['Gil Hesper', 'Hanne Isley', 'ansel']);
    expect(school.db.prepare('SELECT count(*) FROM attempts').pluck().get()).toBe(1);
    expect((await school.request('fia', 'GET', '/api/work/1')).status).toBe(404);
    expect(logOf(school)).toEqual(['list of students']);
  });

  it('is taken back: who was added goes, unless there is something of them, and who was taken out returns', async () => {
    const school = await openSchool();
    const change = (await (await apply(school, { remove: [idOf(school, 'fia')] })).json()) as { id: number };
    school.db.prepare("UPDATE users SET signed_in_at = 'x' WHERE login = 'gil'").run();
    expect((await post(school, 'orla', `${at}/undo`, { changeId: change.id })).status).toBe(200);
    expect(await namesOf(school)).toEqual(['ansel', 'fia']);
    expect([idOf(school, 'gil') > 0, idOf(school, 'hanne') > 0]).toEqual([true, false]);
    expect((await post(school, 'orla', `${at}/undo`, { changeId: change.id })).status).toBe(409);
  });

  it('is taken back also where something was issued to the new ones meanwhile', async () => {
    const school = await openSchool();
    const change = (await (await apply(school)).json()) as { id: number };
    school.db
      .prepare('INSERT INTO assigned_variants (assignment_id, student_id, variant) VALUES (1, ?, 0)')
      .run(idOf(school, 'gil'));
    expect((await post(school, 'orla', `${at}/undo`, { changeId: change.id })).status).toBe(200);
    expect(await namesOf(school)).toEqual(['ansel', 'fia']);
  });

  it('leaves to a person whether a namesake elsewhere is the same', async () => {
    const school = await openSchool();
    school.db.exec(
      "INSERT INTO users (login, name, role, password_hash, created_at) VALUES ('ivo', 'Ivo Jarrow', 'student', 'x', '')",
    );
    const text = 'Ivo Jarrow\n';
    const preview = (await (await post(school, 'orla', `${at}/preview`, { text })).json()) as RosterPreview;
    expect(preview.entries[0]).toMatchObject({ kind: 'doubtful', login: 'ivo.j' });
    await apply(school, { text, sameLines: [1] });
    expect((await rosterOf(school)).students.map(({ login }) => login)).toContain('ivo');
    expect(idOf(school, 'ivo.j')).toBe(0);
  });

  it('gets nobody at the account of a colleague, and renames nobody who comes from elsewhere', async () => {
    const school = await openSchool();
    school.db.exec(
      "INSERT INTO users (login, name, email, role, password_hash, created_at) VALUES ('ivo', 'Ivo Jarrow', 'ivo@x.org', 'student', 'x', '')",
    );
    const text = 'Name\tMail\tLogin\nPim Adder\t\tpim\nSomebody Else\tother@x.org\tivo\n';
    await apply(school, { text });
    const { students } = await rosterOf(school);
    expect(students.find(({ login }) => login === 'ivo')).toMatchObject({ name: 'Ivo Jarrow', email: 'ivo@x.org' });
    expect(students.find(({ name }) => name === 'Pim Adder')?.login).toBe('pim.a');
    expect(students.map(({ login }) => login)).not.toContain('pim');
    const code = await post(school, 'orla', `${at}/${String(idOf(school, 'pim'))}/code`, {});
    expect(code.status).toBe(404);
  });

  it('is for instructors of the course alone', async () => {
    const school = await openSchool();
    for (const login of ['pim', 'tilda', 'ansel', 'bodil']) {
      expect([403, 404]).toContain((await school.request(login, 'GET', at)).status);
      expect([403, 404]).toContain((await post(school, login, at, { text: LIST, sameLines: [], remove: [] })).status);
    }
    expect(await namesOf(school)).toEqual(['ansel', 'fia']);
  });
});

describe('slips for first sign-ins', () => {
  it('are a PDF for all who never signed in, with a code each', async () => {
    const school = await openSchool();
    await apply(school);
    const answer = await post(school, 'orla', '/api/sections/1/slips.pdf', { studentIds: null });
    expect(
      Buffer.from(await answer.arrayBuffer())
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
    expect(school.db.prepare('SELECT count(*) FROM sign_in_codes').pluck().get()).toBe(4);
    school.db.exec("UPDATE users SET signed_in_at = 'x'");
    expect((await post(school, 'orla', '/api/sections/1/slips.pdf', { studentIds: null })).status).toBe(409);
  });
});

describe('a course', () => {
  const coursesOf = async (school: School, login = 'orla') =>
    ((await (await school.request(login, 'GET', '/api/courses')).json()) as { courses: Course[] }).courses;

  it('is made by an instructor, gets sections, and is archived', async () => {
    const school = await openSchool();
    const made = await post(school, 'orla', '/api/courses', {
      title: 'Rigging',
      term: 'Autumn',
      timeZone: 'Europe/London',
    });
    const { id } = (await made.json()) as { id: number };
    await post(school, 'orla', `/api/courses/${String(id)}/sections`, { name: 'Evening' });
    expect((await post(school, 'orla', `/api/courses/${String(id)}/sections`, { name: 'Evening' })).status).toBe(409);
    await school.request('orla', 'PATCH', `/api/courses/${String(id)}`, { archived: true });
    const [first, second] = await coursesOf(school);
    expect([first?.title, second?.title]).toEqual(['Fittings', 'Rigging']);
    expect(second).toMatchObject({
      term: 'Autumn',
      archivedAt: expect.any(String) as string,
      sections: [{ name: 'Evening', students: 0 }],
    });
    expect((await school.request('pim', 'PATCH', `/api/courses/${String(id)}`, { title: 'Mine' })).status).toBe(404);
    expect((await post(school, 'orla', '/api/courses', { title: 'X', term: '', timeZone: 'Mars' })).status).toBe(400);
  });

  it('says how files are to be called, which its students and staff read, until it does not', async () => {
    const school = await openSchool();
    const rule = (fileNameRule: string) => school.request('orla', 'PATCH', '/api/courses/1', { fileNameRule });
    const told = async (): Promise<unknown> =>
      ((await (await school.request('ansel', 'GET', '/api/work/1')).json()) as { fileNameRule: unknown }).fileNameRule;
    expect(await told()).toBeNull();
    expect((await rule('{number}-{surname}')).status).toBe(200);
    expect(await told()).toBe('{number}-{surname}');
    const odd = await rule('{number}-{family}');
    expect(await odd.json()).toMatchObject({ error: { code: 'bad-input' } });
    // Another change leaves it as it is.
    await school.request('orla', 'PATCH', '/api/courses/1', { term: 'Spring' });
    expect((await coursesOf(school))[0]).toMatchObject({ term: 'Spring', fileNameRule: '{number}-{surname}' });
    await rule('');
    expect(await told()).toBeNull();
  });

  it('keeps a section that somebody belongs to', async () => {
    const school = await openSchool();
    expect((await school.request('orla', 'DELETE', '/api/sections/1')).status).toBe(409);
    const made = await post(school, 'orla', '/api/courses/1/sections', { name: 'Empty' });
    const { id } = (await made.json()) as { id: number };
    expect((await school.request('orla', 'DELETE', `/api/sections/${String(id)}`)).status).toBe(200);
  });

  it('gets staff, who sign in by a code the first time; the last instructor stays', async () => {
    const school = await openSchool();
    const added = await post(school, 'orla', '/api/courses/1/staff', {
      name: 'Wim Dunn',
      login: 'wim',
      role: 'assistant',
    });
    expect(await added.json()).toMatchObject({ login: 'wim', code: expect.stringMatching(/^\w{4}-/) as string });
    expect(
      (await post(school, 'orla', '/api/courses/1/staff', { name: 'x', login: 'ansel', role: 'assistant' })).status,
    ).toBe(409);
    const wim = String(idOf(school, 'wim'));
    school.db.exec(
      "UPDATE users SET password_hash = (SELECT password_hash FROM users WHERE login = 'orla') WHERE login = 'wim'",
    );
    expect((await school.request('wim', 'PATCH', '/api/courses/1', { term: 'Spring' })).status).toBe(403);
    await school.request('orla', 'PATCH', `/api/courses/1/staff/${wim}`, { role: 'instructor' });
    expect((await school.request('wim', 'PATCH', '/api/courses/1', { term: 'Spring' })).status).toBe(200);
    await school.request('orla', 'PATCH', `/api/courses/1/staff/${wim}`, { role: 'assistant' });
    const orla = String(idOf(school, 'orla'));
    expect((await school.request('orla', 'DELETE', `/api/courses/1/staff/${orla}`)).status).toBe(409);
    expect((await school.request('orla', 'PATCH', `/api/courses/1/staff/${orla}`, { role: 'assistant' })).status).toBe(
      409,
    );
    const pim = await post(school, 'orla', '/api/courses/1/staff', { name: 'Pim', login: 'pim', role: 'instructor' });
    expect(await pim.json()).toEqual({ login: 'pim', code: null });
    expect((await coursesOf(school, 'pim')).map(({ title }) => title)).toEqual(['Rigging', 'Fittings']);
    expect((await school.request('orla', 'DELETE', `/api/courses/1/staff/${orla}`)).status).toBe(200);
    expect((await school.request('orla', 'GET', '/api/assignments/1')).status).toBe(404);
  });
});

it('the log of a course cannot be edited, and is read by its staff', async () => {
  const school = await openSchool();
  await apply(school);
  expect(() => school.db.exec("UPDATE audit_log SET what = 'nothing'")).toThrow('cannot be edited');
  expect(() => school.db.exec('DELETE FROM audit_log')).toThrow('cannot be edited');
  const log = (await (await school.request('orla', 'GET', '/api/courses/1/log')).json()) as { entries: object[] };
  expect(log.entries).toMatchObject([{ by: 'orla', what: 'list of students', subject: 'Morning' }]);
  expect((await school.request('pim', 'GET', '/api/courses/1/log')).status).toBe(404);
});
