import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';

import type { Sheet } from '#core/sheet';
import { cleatPlateExercise } from '#demo/exercises';

import { openSchool, type School } from '../testing/fixture.ts';

const SHEET: Sheet = {
  title: 'SB-101 Cleat plate',
  scale: 1,
  pages: [
    {
      widthMm: 420,
      heightMm: 297,
      entities: [
        { kind: 'line', layer: 'visible', from: [10, 10], to: [130, 10], viewId: 'front' },
        { kind: 'text', text: 'A', at: [70, 20], heightMm: 3.5, anchor: 'middle', checkId: 'length' },
        { kind: 'text', text: '', at: [300, 20], heightMm: 3, anchor: 'start', field: 'student' },
        { kind: 'text', text: '', at: [300, 30], heightMm: 3, anchor: 'start', field: 'course' },
      ],
    },
  ],
  views: [],
  dimensions: [],
  warnings: ['Nothing says the radius of a round of 8 mm.'],
};

async function withSheet(school: School, sheet: Sheet = SHEET): Promise<void> {
  const { sha256 } = await school.files.put(Buffer.from(JSON.stringify(sheet)));
  school.db.prepare('UPDATE exercise_revisions SET sheet_sha256 = ?').run(sha256);
}
const get = (school: School, login: string, path: string) => school.request(login, 'GET', `/api/${path}`);
const text = (answer: Promise<Response>) => answer.then((one) => one.text());

describe('the sheet of a revision', () => {
  it('is drawn for its student with name and course, and for nobody else with theirs', async () => {
    const school = await openSchool();
    await withSheet(school);
    const work = `work/${String(school.assignmentId)}/sheet.svg`;
    const svg = await text(get(school, 'ansel', work));
    expect(svg).toContain('>ansel<');
    expect(svg).toContain('>Fittings<');
    expect(svg).toContain('data-check="length"');
    expect(await text(get(school, 'fia', work))).not.toContain('ansel');
    expect((await get(school, 'ansel', 'exercises/1/sheet.svg')).status).toBe(403);
  });

  it('goes out as PDF and DXF', async () => {
    const school = await openSchool();
    await withSheet(school);
    expect(await text(get(school, 'orla', 'exercises/1/sheet.pdf'))).toMatch(/^%PDF/);
    expect(await text(get(school, 'orla', 'exercises/1/sheet.dxf'))).toContain('ENTITIES');
    const own = await get(school, 'ansel', `work/${String(school.assignmentId)}/sheet.pdf`);
    expect(own.headers.get('content-disposition')).toContain('SB-101');
    expect((await get(school, 'ansel', `work/${String(school.futureAssignmentId)}/sheet.pdf`)).status).toBe(404);
  });

  it('is there for every student of the section in the print pack of those who teach it', async () => {
    const school = await openSchool();
    await withSheet(school);
    const path = `assignments/${String(school.assignmentId)}/sheets.pdf`;
    const pack = await text(get(school, 'orla', path));
    expect(pack.match(/\/Type \/Page\b(?!s)/g)).toHaveLength(2);
    expect((await get(school, 'pim', path)).status).toBe(404);
    expect((await get(school, 'ansel', path)).status).toBe(403);
  });

  it('of an attempt is for its student and those who teach', async () => {
    const school = await openSchool();
    await withSheet(school);
    await school.handIn('ansel', school.assignmentId, 'a model');
    await school.queue.idle();
    expect(await text(get(school, 'orla', 'attempts/1/sheet.svg'))).toContain('>ansel<');
    expect((await get(school, 'fia', 'attempts/1/sheet.svg')).status).toBe(404);
  });

  it('that was made elsewhere is shown with its picture, has it once in a print pack, and is no DXF', async () => {
    const school = await openSchool();
    const png = new PNG({ width: 42, height: 30 });
    png.data.fill(255);
    const picture = PNG.sync.write(png, { colorType: 2, inputColorType: 6 });
    const { sha256 } = await school.files.put(picture);
    const page = { kind: 'picture', sha256, at: [0, 12], widthMm: 420, heightMm: 297 } as const;
    const [first] = SHEET.pages;
    const drawn: Sheet = {
      ...SHEET,
      pages: [{ widthMm: 420, heightMm: 309, entities: [page, ...(first?.entities.slice(2) ?? [])] }],
    };
    await withSheet(school, drawn);
    const svg = await text(get(school, 'ansel', `work/${String(school.assignmentId)}/sheet.svg`));
    expect(svg).toContain(`href="data:image/png;base64,${picture.toString('base64')}"`);
    expect(svg).toContain('>ansel<');
    const pack = await text(get(school, 'orla', `assignments/${String(school.assignmentId)}/sheets.pdf`));
    expect(pack.match(/\/Subtype \/Image/g)).toHaveLength(1);
    const dxf = await get(school, 'orla', 'exercises/1/sheet.dxf');
    expect(await dxf.json()).toMatchObject({ error: { code: 'uploaded-drawing' } });
  });

  it('that an earlier program stored as a picture is shown, but cannot be printed', async () => {
    const school = await openSchool();
    expect(await text(get(school, 'orla', 'exercises/1/sheet.svg'))).toMatch(/^<svg/);
    const refused = await get(school, 'orla', 'exercises/1/sheet.pdf');
    expect(refused.status).toBe(409);
    expect(await refused.json()).toMatchObject({ error: { code: 'old-sheet' } });
  });
});

describe('what the sheets of variants and stages fail to say', () => {
  /** A revision whose variants and stages have sheets with these warnings. */
  async function withParts(school: School, parts: readonly [variant: number, stage: number, ...warnings: string[]][]) {
    await withSheet(school);
    const variants = ['red', 'blue'].map((name) => ({ name, values: {} }));
    school.db
      .prepare('UPDATE exercise_revisions SET document_json = ?')
      .run(JSON.stringify({ ...cleatPlateExercise, variants }));
    for (const [variant, stage, ...warnings] of parts) {
      const sheet = await school.files.put(Buffer.from(JSON.stringify({ ...SHEET, warnings })));
      const reference = await school.files.put(Buffer.from(`part ${String(variant)} ${String(stage)}`));
      school.db
        .prepare('INSERT INTO revision_parts VALUES (1, ?, ?, ?, ?)')
        .run(variant, stage, reference.sha256, sheet.sha256);
    }
  }
  const warningsFor = (school: School, login: string) => get(school, login, 'exercises/1/warnings');

  it('is told for each of them, where it is not said of the part as drawn already', async () => {
    const school = await openSchool();
    await withParts(school, [
      [-1, 2, 'Nothing says how deep the pocket is.'],
      [0, 1, ...SHEET.warnings],
      [1, 1, ...SHEET.warnings, 'Nothing says where a face lies.'],
      [1, 2, 'Nothing says where a face lies.'],
    ]);
    expect(await (await warningsFor(school, 'orla')).json()).toEqual({
      parts: [
        { part: 'Variant blue', warnings: ['Nothing says where a face lies.'] },
        { part: 'Stage 2', warnings: ['Nothing says how deep the pocket is.'] },
        { part: 'Variant blue, stage 2', warnings: ['Nothing says where a face lies.'] },
      ],
    });
  });

  it('is nothing for an exercise without them, and nobody else may ask', async () => {
    const school = await openSchool();
    await withSheet(school);
    expect(await (await warningsFor(school, 'orla')).json()).toEqual({ parts: [] });
    expect((await warningsFor(school, 'pim')).status).toBe(404);
    expect((await warningsFor(school, 'ansel')).status).toBe(403);
  });
});
