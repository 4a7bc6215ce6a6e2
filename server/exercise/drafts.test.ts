import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';

import { blankExercise, parseExercise } from '#core/exercise';
import { cleatPlateExercise } from '#demo/exercises';
import { packExercise, unpackExercise } from '#server/exercise';

import { openSchool, type School } from '../testing/fixture.ts';

const json = async (response: Promise<Response>): Promise<{ status: number; body: Record<string, unknown> }> => {
  const answer = await response;
  return { status: answer.status, body: (await answer.json()) as Record<string, unknown> };
};
const create = (school: School, number: string) =>
  json(school.request('orla', 'POST', '/api/exercises', { number, title: 'New part', unit: 'mm' }));

describe('drafts', () => {
  it('begin blank, are saved with a version, and refuse a save that is behind', async () => {
    const school = await openSchool();
    const { status, body } = await create(school, 'SB-700');
    expect(status).toBe(201);
    const path = `/api/exercises/${String(body['id'])}/draft`;
    const draft = await json(school.request('orla', 'GET', path));
    expect(draft.body).toMatchObject({ version: 1, revision: null, document: { number: 'SB-700', checks: [] } });
    const document = { ...blankExercise('SB-700', 'New part', 'mm'), title: 'Better name' };
    const saved = await json(school.request('orla', 'PUT', path, { version: 1, document }));
    expect(saved.body).toMatchObject({ version: 2 });
    const behind = await json(school.request('orla', 'PUT', path, { version: 1, document }));
    expect(behind.status).toBe(409);
    expect(behind.body).toMatchObject({
      error: { code: 'conflict' },
      version: 2,
      updatedBy: expect.any(String) as string,
    });
    const list = await json(school.request('orla', 'GET', '/api/exercises'));
    expect(list.body['exercises']).toEqual(
      expect.arrayContaining([expect.objectContaining({ title: 'Better name', revision: null })]),
    );
  });

  it('cannot take a number twice, nor change it, nor hold what is no exercise', async () => {
    const school = await openSchool();
    expect((await create(school, 'SB-101')).body).toMatchObject({ error: { code: 'number-taken' } });
    const { body } = await create(school, 'SB-701');
    const path = `/api/exercises/${String(body['id'])}/draft`;
    const put = (document: unknown) => json(school.request('orla', 'PUT', path, { version: 1, document }));
    const blank = blankExercise('SB-701', 'x', 'mm');
    expect((await put({ ...blank, number: 'SB-702' })).body).toMatchObject({ error: { code: 'number-fixed' } });
    expect((await put({ ...blank, recipe: { ...blank.recipe, steps: [{ op: 'melt' }] } })).status).toBe(400);
    expect((await put('nothing')).body).toMatchObject({ error: { code: 'bad-exercise' } });
    let deep: unknown = 'x';
    for (let i = 0; i < 500; i++) deep = { of: deep };
    expect((await put({ ...blank, recipe: deep })).body).toMatchObject({ error: { code: 'bad-exercise' } });
  });

  it('without checks make no revision', async () => {
    const school = await openSchool();
    const { body } = await create(school, 'SB-703');
    const made = await json(
      school.request('orla', 'POST', `/api/exercises/${String(body['id'])}/revisions`, { version: 1 }),
    );
    expect(made.status).toBe(422);
  });

  it('of an exercise that has revisions start from the newest', async () => {
    const school = await openSchool();
    const draft = await json(school.request('orla', 'GET', '/api/exercises/1/draft'));
    expect(draft.body).toMatchObject({ version: 0, revision: 1, document: { number: 'SB-101' } });
    const revision = await json(school.request('orla', 'GET', '/api/exercises/1/revisions/1'));
    expect(revision.body).toMatchObject({ document: { number: 'SB-101' } });
    expect((await school.request('orla', 'GET', '/api/exercises/1/revisions/9')).status).toBe(404);
  });
});

describe('archives', () => {
  const codeOf = (bytes: Uint8Array): string => {
    const unpacked = unpackExercise(bytes);
    return unpacked.ok ? '' : unpacked.problem.code;
  };
  const zipped = (files: Record<string, string>) =>
    zipSync(Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)])));

  it('come back as they went', () => {
    const unpacked = unpackExercise(packExercise(cleatPlateExercise, new Uint8Array([1])));
    expect(unpacked).toEqual({ ok: true, value: cleatPlateExercise });
  });

  it('of an earlier version are brought up to date', () => {
    const { variants: _v, stages: _s, rules: _r, material, ...rest } = cleatPlateExercise;
    const turned = { id: 'turn', op: 'revolve', mode: 'add', plane: { base: 'XZ' }, axis: 'v' };
    const outline = { shape: 'circle', center: ['20', '0'], diameter: '4' };
    const old = {
      ...rest,
      version: 1,
      material: material.id,
      recipe: { ...rest.recipe, version: 1, steps: [...rest.recipe.steps, { ...turned, outline }] },
    };
    const unpacked = unpackExercise(zipped({ 'exercise.json': JSON.stringify(old) }));
    if (!unpacked.ok) throw new Error(unpacked.problem.message);
    expect(unpacked.value).toMatchObject({ version: 2, material: { densityGPerCm3: 2.7 }, variants: [] });
    expect(unpacked.value.recipe.steps.at(-1)).toMatchObject({ op: 'revolve', outlines: [outline] });
  });

  it('that are damaged, hostile, empty or newer are refused with the reason', () => {
    expect(codeOf(strToU8('no zip at all'))).toBe('bad-archive');
    expect(codeOf(zipped({ 'exercise.json': JSON.stringify(cleatPlateExercise) }).subarray(0, 300))).toBe(
      'bad-archive',
    );
    expect(codeOf(zipped({ 'other.json': '{}' }))).toBe('bad-archive');
    expect(codeOf(zipped({ 'exercise.json': '{' }))).toBe('bad-archive');
    expect(codeOf(zipped({ 'exercise.json': ' '.repeat(5 * 1024 * 1024) }))).toBe('bad-archive');
    const many = Object.fromEntries(Array.from({ length: 30 }, (_, i) => [`${String(i)}.txt`, 'x']));
    expect(codeOf(zipped(many))).toBe('bad-archive');
    expect(codeOf(zipped({ 'exercise.json': '{"format":"zorvet-exercise","version":1}' }))).toBe('bad-exercise');
    expect(codeOf(zipped({ 'exercise.json': '{"version":99}' }))).toBe('newer-version');
    const parsed = parseExercise({ ...cleatPlateExercise, title: '' });
    expect(parsed.ok ? '' : parsed.problem.message).toContain('title');
  });
});
