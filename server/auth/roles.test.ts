import { describe, expect, it } from 'vitest';

import { may, ROLE_NAMES, rolesThatMay } from '#api';

import { openMeasuredSchool } from '../testing/measured.ts';

/** A school whose reports reach students as `release` says. */
async function openWith(release: string) {
  const school = await openMeasuredSchool();
  school.db.prepare('UPDATE assignments SET release = ?').run(release);
  return school;
}

describe('the table of roles', () => {
  it('lets students do nothing but their own work, and administrators nothing with grades', () => {
    expect(ROLE_NAMES.filter((role) => may(role, 'work'))).toEqual(['student']);
    for (const action of ['read-course', 'review', 'release', 'edit-exercises', 'issue', 'score'] as const) {
      expect(may('student', action)).toBe(false);
      expect(may('administrator', action)).toBe(false);
    }
  });

  it('lets assistants review, and neither edit keys nor release by themselves', () => {
    expect(rolesThatMay('review')).toEqual(['instructor', 'assistant']);
    expect(rolesThatMay('edit-exercises')).toEqual(['instructor']);
    expect(rolesThatMay('release')).toEqual(['instructor']);
  });
});

describe('an assistant of a course', () => {
  const act = (
    school: Awaited<ReturnType<typeof openMeasuredSchool>>,
    login: string,
    action: object,
    version: number,
  ) => school.request(login, 'POST', '/api/attempts/1/review', { version, action });

  it('writes remarks and accepts, but does not release a report', async () => {
    const school = await openWith('by-hand');
    expect((await act(school, 'tilda', { kind: 'remark', text: 'Look at the bolts.', pin: null }, 0)).status).toBe(200);
    expect((await act(school, 'tilda', { kind: 'accept' }, 1)).status).toBe(200);
    const refused = await act(school, 'tilda', { kind: 'release' }, 2);
    expect(refused.status).toBe(403);
    expect(await refused.json()).toMatchObject({ error: { code: 'not-allowed' } });
    expect((await act(school, 'orla', { kind: 'release' }, 2)).status).toBe(200);
  });

  it('whose accepting would release leaves that to an instructor, unless the course allows it', async () => {
    const school = await openWith('accepted');
    const released = async () =>
      ((await (await school.request('orla', 'GET', '/api/attempts/1')).json()) as { review: { released: boolean } })
        .review.released;
    expect((await act(school, 'tilda', { kind: 'accept' }, 0)).status).toBe(200);
    expect(await released()).toBe(false);
    school.db.prepare('UPDATE course_staff SET may_release = 1 WHERE role = ?').run('assistant');
    expect((await act(school, 'tilda', { kind: 'accept' }, 1)).status).toBe(200);
    expect(await released()).toBe(true);
  });

  it('is an assistant there even with the account of an instructor', async () => {
    const school = await openWith('by-hand');
    const pim = school.db.prepare<[], { id: number }>("SELECT id FROM users WHERE login = 'pim'").get()?.id ?? 0;
    school.db.prepare("INSERT INTO course_staff (course_id, user_id, role) VALUES (1, ?, 'assistant')").run(pim);
    expect((await school.request('pim', 'GET', '/api/exercises/1/draft')).status).toBe(200);
    const draft = (await (await school.request('pim', 'GET', '/api/exercises/1/draft')).json()) as {
      version: number;
      document: object;
    };
    const saved = await school.request('pim', 'PUT', '/api/exercises/1/draft', {
      version: draft.version,
      document: draft.document,
    });
    expect(saved.status).toBe(404);
    expect(
      (await school.request('pim', 'POST', '/api/assignments/1/policy', { policy: null, apply: true })).status,
    ).toBe(404);
    expect((await act(school, 'pim', { kind: 'release' }, 0)).status).toBe(403);
  });
});
