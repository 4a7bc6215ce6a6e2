import { describe, expect, it } from 'vitest';

import { cleatPlateExercise } from '#demo/exercises';

import { NOON, openSchool, type School } from '../testing/fixture.ts';

const HOUR_MS = 3_600_000;
const at = (hours: number): string => new Date(NOON.getTime() + hours * HOUR_MS).toISOString();

/** The revision of the school with two variants, each with a sheet of its own. */
async function withVariants(school: School): Promise<void> {
  const variants = [
    { name: 'red', values: { A: '110' } },
    { name: 'blue', values: { A: '130' } },
  ];
  school.db
    .prepare('UPDATE exercise_revisions SET document_json = ?')
    .run(JSON.stringify({ ...cleatPlateExercise, variants }));
  for (const [i, { name }] of variants.entries()) {
    const sheet = await school.files.put(Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" id="${name}"/>`));
    const reference = await school.files.put(Buffer.from(`reference ${name}`));
    school.db.prepare('INSERT INTO revision_parts VALUES (1, ?, 1, ?, ?)').run(i, reference.sha256, sheet.sha256);
  }
}

const issue = async (school: School): Promise<number> => {
  const answer = await school.request('orla', 'POST', '/api/assignments', {
    exerciseId: 1,
    sectionId: 1,
    opensAt: at(-2),
    dueAt: at(5),
    attemptsAllowed: 2,
    answers: 'after-due',
  });
  return ((await answer.json()) as { id: number }).id;
};

const work = async (school: School, login: string, id: number) =>
  (await school.request(login, 'GET', `/api/work/${String(id)}`).then((r) => r.json())) as {
    variant: string | null;
    letters: { name: string; value: string }[];
  };

describe('variants of an issued exercise', () => {
  it('differ between two students, in letters and sheet; a retake swaps them', async () => {
    const school = await openSchool();
    await withVariants(school);
    const id = await issue(school);
    const [ansel, fia] = [await work(school, 'ansel', id), await work(school, 'fia', id)];
    expect([ansel.variant, fia.variant].sort()).toEqual(['blue', 'red']);
    const length = ({ letters }: typeof ansel) => letters.find(({ name }) => name === 'A')?.value;
    expect(length(ansel)).toBe(ansel.variant === 'red' ? '110' : '130');
    const sheet = await school.request('ansel', 'GET', `/api/work/${String(id)}/sheet.svg`).then((r) => r.text());
    expect(sheet).toContain(`id="${ansel.variant ?? ''}"`);
    expect((await work(school, 'ansel', id)).variant).toBe(ansel.variant);
    const again = await issue(school);
    expect((await work(school, 'ansel', again)).variant).toBe(fia.variant);
  });

  it('are graded against their own reference, and named to the instructor', async () => {
    const school = await openSchool();
    await withVariants(school);
    const id = await issue(school);
    const { variant } = await work(school, 'ansel', id);
    await school.handIn('ansel', id, 'a model');
    await school.queue.idle();
    const attempt = await school.request('orla', 'GET', '/api/attempts/1').then((r) => r.json());
    expect(attempt).toMatchObject({ variant, state: 'graded' });
  });

  it('a student who comes later gets the rarest', async () => {
    const school = await openSchool();
    await withVariants(school);
    const id = await issue(school);
    const { variant } = await work(school, 'ansel', id);
    school.db
      .prepare('DELETE FROM assigned_variants WHERE student_id = (SELECT id FROM users WHERE login = ?)')
      .run('fia');
    expect((await work(school, 'fia', id)).variant).not.toBe(variant);
  });

  it('an exercise without variants names none', async () => {
    const school = await openSchool();
    expect((await work(school, 'ansel', school.assignmentId)).variant).toBeNull();
  });
});
