import { strToU8, zipSync } from 'fflate';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';

import { blankExercise, parseExercise } from '#core/exercise';
import { cleatPlateExercise } from '#demo/exercises';
import { packExercise, unpackExercise } from '#server/archive';

import { openSchool, type School } from '../testing/fixture.ts';

const json = async (response: Promise<Response>): Promise<{ status: number; body: Record<string, unknown> }> => {
  const answer = await response;
  return { status: answer.status, body: (await answer.json()) as Record<string, unknown> };
};
const create = (school: School, number: string) =>
  json(school.request('orla', 'POST', '/api/exercises', { number, title: 'New part', unit: 'mm' }));

const codeOf = async (bytes: Uint8Array): Promise<string> => {
  const unpacked = await unpackExercise(bytes);
  return unpacked.ok ? '' : unpacked.problem.code;
};

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
    for (let i = 0; i < 90; i++) deep = { of: deep };
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

it('a new exercise belongs to the course that it is made in, which its author teaches', async () => {
  const school = await openSchool();
  const made = await json(
    school.request('orla', 'POST', '/api/courses', { title: 'Rigging', term: '', timeZone: 'UTC' }),
  );
  const courseId = Number(made.body['id']);
  const start = { number: 'SB-777', title: 'New part', unit: 'mm' };
  const exercise = await json(school.request('orla', 'POST', '/api/exercises', { ...start, courseId }));
  const courseOf = (id: unknown) =>
    school.db.prepare('SELECT course_id FROM exercises WHERE id = ?').pluck().get(Number(id));
  expect(courseOf(exercise.body['id'])).toBe(courseId);
  expect(courseOf((await create(school, 'SB-778')).body['id'])).toBe(1);
  // The course of somebody else.
  expect((await json(school.request('orla', 'POST', '/api/exercises', { ...start, courseId: 2 }))).status).toBe(409);
});

describe('archives', () => {
  const zipped = (files: Record<string, string>) =>
    zipSync(Object.fromEntries(Object.entries(files).map(([name, text]) => [name, strToU8(text)])));

  it('come back as they went', async () => {
    const unpacked = await unpackExercise(packExercise(cleatPlateExercise, new Uint8Array([1])));
    expect(unpacked).toEqual({ ok: true, value: { exercise: cleatPlateExercise, attached: [] } });
  });

  it('of an earlier version are brought up to date', async () => {
    const { variants: _v, stages: _s, rules: _r, material, ...rest } = cleatPlateExercise;
    const turned = { id: 'turn', op: 'revolve', mode: 'add', plane: { base: 'XZ' }, axis: 'v' };
    const outline = { shape: 'circle', center: ['20', '0'], diameter: '4' };
    const old = {
      ...rest,
      version: 1,
      material: material.id,
      recipe: { ...rest.recipe, version: 1, steps: [...rest.recipe.steps, { ...turned, outline }] },
    };
    const unpacked = await unpackExercise(zipped({ 'exercise.json': JSON.stringify(old) }));
    if (!unpacked.ok) throw new Error(unpacked.problem.message);
    expect(unpacked.value.exercise).toMatchObject({ version: 3, material: { densityGPerCm3: 2.7 }, variants: [] });
    expect(unpacked.value.exercise.recipe.steps.at(-1)).toMatchObject({ op: 'revolve', outlines: [outline] });
  });

  it('that are damaged, hostile, empty or newer are refused with the reason', async () => {
    expect(await codeOf(strToU8('no zip at all'))).toBe('bad-archive');
    expect(await codeOf(zipped({ 'exercise.json': JSON.stringify(cleatPlateExercise) }).subarray(0, 300))).toBe(
      'bad-archive',
    );
    expect(await codeOf(zipped({ 'other.json': '{}' }))).toBe('bad-archive');
    expect(await codeOf(zipped({ 'exercise.json': '{' }))).toBe('bad-archive');
    expect(await codeOf(zipped({ 'exercise.json': ' '.repeat(5 * 1024 * 1024) }))).toBe('bad-archive');
    const many = Object.fromEntries(Array.from({ length: 50 }, (_, i) => [`${String(i)}.txt`, 'x']));
    expect(await codeOf(zipped(many))).toBe('bad-archive');
    expect(await codeOf(zipped({ 'exercise.json': '{"format":"zorvet-exercise","version":1}' }))).toBe('bad-exercise');
    expect(await codeOf(zipped({ 'exercise.json': '{"version":99}' }))).toBe('newer-version');
    const parsed = parseExercise({ ...cleatPlateExercise, title: '' });
    expect(parsed.ok ? '' : parsed.problem.message).toContain('title');
  });
});

describe('a model file as the reference', () => {
  const upload = async (school: School, id: number, name: string, content: string | Uint8Array, login = 'orla') =>
    json(
      Promise.resolve(
        school.app.request(`/api/exercises/${String(id)}/models?name=${encodeURIComponent(name)}`, {
          method: 'POST',
          headers: { cookie: await school.cookieOf(login), origin: 'http://localhost' },
          body: content as BodyInit,
        }),
      ),
    );
  const cube = 'solid x\nendsolid x\n';

  it('is stored with its exercise, is had back by those who teach it, and can be used by its draft alone', async () => {
    const school = await openSchool();
    const id = Number((await create(school, 'SB-710')).body['id']);
    const other = Number((await create(school, 'SB-711')).body['id']);
    const { status, body: model } = await upload(school, id, '../my part.step', 'ISO-10303-21;\n');
    expect(status).toBe(201);
    expect(model).toMatchObject({ fileName: expect.not.stringContaining('/') as string, unit: null });
    const path = `files/${String(model['sha256'])}`;
    expect((await school.request('orla', 'GET', `/api/exercises/${String(id)}/${path}`)).status).toBe(200);
    expect((await school.request('pim', 'GET', `/api/exercises/${String(id)}/${path}`)).status).toBe(404);
    expect((await school.request('orla', 'GET', `/api/exercises/${String(other)}/${path}`)).status).toBe(404);
    const save = (exercise: number, number: string) =>
      json(
        school.request('orla', 'PUT', `/api/exercises/${String(exercise)}/draft`, {
          version: 1,
          document: { ...blankExercise(number, 'x', 'mm'), model },
        }),
      );
    expect((await save(id, 'SB-710')).status).toBe(200);
    expect((await save(other, 'SB-711')).body).toMatchObject({ error: { code: 'no-file' } });
  });

  it('that is none is refused, and so is a stranger', async () => {
    const school = await openSchool();
    const id = Number((await create(school, 'SB-712')).body['id']);
    expect((await upload(school, id, 'letter.txt', 'Dear all')).body).toMatchObject({
      error: { code: 'unknown-format' },
    });
    expect((await upload(school, id, 'cube.stl', cube, 'pim')).status).toBe(404);
    expect((await upload(school, id, 'cube.stl', cube, 'ansel')).status).toBe(403);
  });

  it('makes no revision until its unit is confirmed', async () => {
    const school = await openSchool();
    const id = Number((await create(school, 'SB-713')).body['id']);
    const { body: model } = await upload(school, id, 'part.step', 'ISO-10303-21;\n');
    const checks = [{ id: 'body', kind: 'single-body', label: 'One body', weight: 1 }];
    const document = { ...blankExercise('SB-713', 'x', 'mm'), model, checks };
    const at = `/api/exercises/${String(id)}`;
    await school.request('orla', 'PUT', `${at}/draft`, { version: 1, document });
    const made = await json(school.request('orla', 'POST', `${at}/revisions`, { version: 2 }));
    expect(made.body).toMatchObject({ error: { code: 'unit-unconfirmed' } });
  });

  it('travels with the archive, and an archive whose file was changed is refused', async () => {
    const school = await openSchool();
    const id = Number((await create(school, 'SB-714')).body['id']);
    const { body: model } = await upload(school, id, 'part.step', 'ISO-10303-21;\nhello');
    const document = { ...blankExercise('SB-714', 'x', 'mm'), model };
    await school.request('orla', 'PUT', `/api/exercises/${String(id)}/draft`, { version: 1, document });
    const answer = await school.request('orla', 'GET', `/api/exercises/${String(id)}/export.zip`);
    const unpacked = await unpackExercise(new Uint8Array(await answer.arrayBuffer()));
    if (!unpacked.ok) throw new Error(unpacked.problem.message);
    expect(new TextDecoder().decode(unpacked.value.attached[0]?.content)).toBe('ISO-10303-21;\nhello');
    const forged = packExercise(unpacked.value.exercise, null, [strToU8('something else')]);
    expect(await codeOf(forged)).toBe('bad-archive');
    const own = unpacked.value.attached.map(({ content }) => content);
    const copy = packExercise({ ...unpacked.value.exercise, number: 'SB-715' }, null, own);
    const imported = await json(
      Promise.resolve(
        school.app.request('/api/exercises/import', {
          method: 'POST',
          headers: { cookie: await school.cookieOf('orla'), origin: 'http://localhost' },
          body: copy as BodyInit,
        }),
      ),
    );
    const again = `/api/exercises/${String(imported.body['id'])}/files/${String(model['sha256'])}`;
    expect((await school.request('orla', 'GET', again)).status).toBe(200);
  });
});

describe('a drawing made elsewhere', () => {
  const post = async (school: School, path: string, content: Uint8Array) =>
    json(
      Promise.resolve(
        school.app.request(`/api/exercises/${path}`, {
          method: 'POST',
          headers: { cookie: await school.cookieOf('orla'), origin: 'http://localhost' },
          body: content as BodyInit,
        }),
      ),
    );
  /** A white picture, as the page makes one of a drawing: three bytes a pixel, none for transparency. */
  const picture = (colorType: 2 | 6 = 2): Buffer => {
    const png = new PNG({ width: 42, height: 30, colorType });
    png.data.fill(255);
    return PNG.sync.write(png, { colorType, inputColorType: 6 });
  };

  it('takes the place of the sheet, travels with the archive, and belongs to its exercise', async () => {
    const school = await openSchool();
    const id = String((await create(school, 'SB-720')).body['id']);
    const { status, body: drawing } = await post(school, `${id}/drawings?name=plate.pdf`, strToU8('%PDF-1.7 ...'));
    expect(status).toBe(201);
    const { body: page } = await post(school, `${id}/pages`, picture());
    const pages = [{ sha256: page['sha256'], widthMm: 420, heightMm: 297 }];
    const document = (number: string) => ({
      ...blankExercise(number, 'x', 'mm'),
      sheet: { paper: 'A3', views: [], drawing: { ...drawing, pages } },
    });
    const save = (exercise: string, number: string) =>
      json(
        school.request('orla', 'PUT', `/api/exercises/${exercise}/draft`, { version: 1, document: document(number) }),
      );
    expect((await save(id, 'SB-720')).status).toBe(200);
    const other = String((await create(school, 'SB-721')).body['id']);
    expect((await save(other, 'SB-721')).body).toMatchObject({ error: { code: 'no-file' } });
    const shown = await school.request('orla', 'GET', `/api/exercises/${id}/files/${String(page['sha256'])}`);
    expect(shown.headers.get('content-type')).toBe('image/png');

    const archive = await school.request('orla', 'GET', `/api/exercises/${id}/export.zip`);
    const unpacked = await unpackExercise(new Uint8Array(await archive.arrayBuffer()));
    if (!unpacked.ok) throw new Error(unpacked.problem.message);
    expect(unpacked.value.attached.map(({ fileName }) => fileName)).toEqual(['plate.pdf', 'drawing-page-1.png']);
  });

  it('that is none, or has a page that cannot be printed, is refused', async () => {
    const school = await openSchool();
    const id = String((await create(school, 'SB-722')).body['id']);
    const code = async (path: string, content: Uint8Array) =>
      (await post(school, `${id}/${path}`, content)).body as { error?: { code: string; message: string } };
    expect(await code('drawings?name=x.pdf', strToU8('hello'))).toMatchObject({ error: { code: 'unknown-format' } });
    expect(await code('drawings?name=x.svg', strToU8('<?xml version="1.0"?><svg/>'))).not.toHaveProperty('error');
    expect((await code('pages', strToU8('no picture'))).error?.message).toContain('not a PNG');
    expect((await code('pages', picture(6))).error?.message).toContain('transparent');
    expect((await code('pages', picture().subarray(0, 70))).error?.code).toBe('bad-picture');
    const huge = picture();
    huge.writeUInt32BE(100_000, 16);
    expect((await code('pages', huge)).error?.message).toContain('larger than 5000 pixels');
  });
});
