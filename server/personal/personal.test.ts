import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';

import { openSchool, type School } from '../testing/fixture.ts';

const idOf = (school: School, login: string): number =>
  school.db.prepare<[string], number>('SELECT id FROM users WHERE login = ?').pluck().get(login) ?? 0;
const entriesOf = async (answer: Response): Promise<Readonly<Record<string, string>>> =>
  Object.fromEntries(
    Object.entries(unzipSync(new Uint8Array(await answer.arrayBuffer()))).map(([name, bytes]) => [
      name,
      strFromU8(bytes, true),
    ]),
  );

describe('what is kept of a student', () => {
  it('is given out as a zip: the account, all hand-ins with their files, and their reports', async () => {
    const school = await openSchool();
    await school.handIn('ansel', 1, 'a model');
    await school.queue.idle();
    await school.request('ansel', 'PUT', '/api/work/1/round', { version: 0, document: { length: ['60'] } });
    const entries = await entriesOf(await school.request('ansel', 'GET', '/api/my-data.zip'));
    expect(Object.keys(entries)).toEqual([
      'about.txt',
      'person.json',
      'work.json',
      'site.json',
      'practice.json',
      'reading.json',
      'questions.json',
      'attempts/1 SB-101/part.step',
      'attempts/1 SB-101/report.json',
      'attempts/1 SB-101/report.pdf',
    ]);
    expect(JSON.parse(entries['person.json'] ?? '')).toMatchObject({ login: 'ansel' });
    expect(JSON.parse(entries['practice.json'] ?? '')).toMatchObject([
      { exercise: 'SB-101', stage: 1, kind: 'round', document: { length: ['60'] } },
    ]);
    expect(entries['attempts/1 SB-101/part.step']).toBe('a model');
    expect(entries['attempts/1 SB-101/report.pdf']).toMatch(/^%PDF/);
  });

  it('has who the student is at the site of the school and what it was sent, until the account is erased', async () => {
    const school = await openSchool();
    const id = idOf(school, 'ansel');
    school.db.exec(`
      INSERT INTO school_sites VALUES (1, 'Campus', 'i', 'c', 'd', 's', 't', 'k', '');
      INSERT INTO site_people VALUES (1, 'campus-7', ${String(id)});
      INSERT INTO sent_grades VALUES (1, ${String(id)}, 80, '2026-05-05T00:00:00.000Z')`);
    const entries = await entriesOf(await school.request('ansel', 'GET', '/api/my-data.zip'));
    expect(JSON.parse(entries['site.json'] ?? '')).toEqual({
      connections: [{ site: 'Campus', subject: 'campus-7' }],
      gradesSent: [{ exercise: 'SB-101', score: 80, at: '2026-05-05T00:00:00.000Z' }],
    });
    expect((await school.request('orla', 'DELETE', `/api/students/${String(id)}`)).status).toBe(200);
    const left = school.db.prepare('SELECT 1 FROM site_people UNION ALL SELECT 1 FROM sent_grades').all();
    expect(left).toEqual([]);
  });

  it('tells a student no more than the pages do, and the instructor all of it', async () => {
    const school = await openSchool();
    await school.handIn('ansel', 1, 'a model');
    await school.queue.idle();
    const page = await (await school.request('ansel', 'GET', '/api/attempts/1')).json();
    const own = await entriesOf(await school.request('ansel', 'GET', '/api/my-data.zip'));
    expect(JSON.parse(own['attempts/1 SB-101/report.json'] ?? '')).toEqual(page);
    const at = `/api/students/${String(idOf(school, 'ansel'))}/data.zip`;
    const seen = await entriesOf(await school.request('orla', 'GET', at));
    expect(JSON.parse(seen['attempts/1 SB-101/report.json'] ?? '')).toEqual(
      await (await school.request('orla', 'GET', '/api/attempts/1')).json(),
    );
    for (const login of ['tilda', 'pim', 'fia', 'ansel'])
      expect([403, 404]).toContain((await school.request(login, 'GET', at)).status);
  });

  it('gives the time log to its student, and to nobody else', async () => {
    const school = await openSchool();
    const document = { estimateMinutes: 45, spans: [] };
    expect((await school.request('ansel', 'PUT', '/api/work/1/time', { version: 0, document })).status).toBe(200);
    const own = await entriesOf(await school.request('ansel', 'GET', '/api/my-data.zip'));
    expect(JSON.parse(own['practice.json'] ?? '')).toMatchObject([{ kind: 'time', document }]);
    const at = `/api/students/${String(idOf(school, 'ansel'))}/data.zip`;
    const seen = await entriesOf(await school.request('orla', 'GET', at));
    expect(JSON.parse(seen['practice.json'] ?? '')).toEqual([]);
  });

  it('says of a file that is gone from the disk that it could not be read, and packs the rest', async () => {
    const school = await openSchool();
    await school.handIn('ansel', 1, 'a model');
    await school.queue.idle();
    const sha256 = school.db.prepare<[], string>('SELECT file_sha256 FROM attempts').pluck().get() ?? '';
    const { rmSync } = await import('node:fs');
    rmSync(school.files.pathOf(sha256));
    const names = Object.keys(await entriesOf(await school.request('ansel', 'GET', '/api/my-data.zip')));
    expect(names).toContain('attempts/1 SB-101/part.step could not be read.txt');
    expect(names).toContain('attempts/1 SB-101/report.pdf');
  });
});

describe('a student is erased', () => {
  it('with all work and reports; who did it stays in the log, without the name', async () => {
    const school = await openSchool();
    await school.handIn('ansel', 1, 'a model of my own');
    await school.handIn('fia', 1, 'another model');
    await school.queue.idle();
    const id = idOf(school, 'ansel');
    const at = `/api/students/${String(id)}`;
    for (const login of ['tilda', 'pim', 'fia', 'ansel'])
      expect([403, 404]).toContain((await school.request(login, 'DELETE', at)).status);
    expect((await school.request('orla', 'DELETE', at)).status).toBe(200);
    const count = (sql: string): unknown => school.db.prepare(sql).pluck().get();
    expect(count("SELECT count(*) FROM users WHERE login = 'ansel'")).toBe(0);
    expect(count('SELECT count(*) FROM attempts')).toBe(1);
    expect(count('SELECT count(*) FROM reports')).toBe(1);
    // The model is not known any more; that of another student is.
    expect(count('SELECT count(*) FROM files JOIN attempts ON file_sha256 = sha256')).toBe(1);
    const { entries } = (await (await school.request('orla', 'GET', '/api/courses/1/log')).json()) as {
      entries: { what: string; subject: string }[];
    };
    expect(entries[0]).toMatchObject({ what: 'a student erased', subject: `account ${String(id)}` });
    expect((await school.request('ansel', 'GET', '/api/work')).status).toBe(401);
  });

  it('but keeps a file that somebody else handed in too', async () => {
    const school = await openSchool();
    await school.handIn('ansel', 1, 'one model');
    await school.handIn('fia', 1, 'one model');
    await school.queue.idle();
    expect((await school.request('orla', 'DELETE', `/api/students/${String(idOf(school, 'ansel'))}`)).status).toBe(200);
    expect((await school.request('fia', 'GET', '/api/attempts/2/file')).status).toBe(200);
  });

  it('not by one who does not manage all courses of the student', async () => {
    const school = await openSchool();
    const id = idOf(school, 'ansel');
    const course = Number(
      school.db.prepare("INSERT INTO courses (title, school) VALUES ('Rigging', 'S')").run().lastInsertRowid,
    );
    const section = Number(
      school.db.prepare("INSERT INTO sections (course_id, name) VALUES (?, 'Noon')").run(course).lastInsertRowid,
    );
    school.db.prepare('INSERT INTO enrollments (section_id, user_id) VALUES (?, ?)').run(section, id);
    const refused = await school.request('orla', 'DELETE', `/api/students/${String(id)}`);
    expect(refused.status).toBe(409);
    expect(((await refused.json()) as { error: { message: string } }).error.message).toMatch(
      /also belongs to "Rigging"/,
    );
  });
});
