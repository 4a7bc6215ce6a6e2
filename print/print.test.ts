import { getDocument, OPS } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { describe, expect, it } from 'vitest';

import type { Sheet, SheetEntity } from '#core/sheet';
import { renderPdf, renderRecord, renderReport } from '#print';

const sheetWith = (...entities: SheetEntity[]): Sheet => ({
  title: 'SB-1 Plate',
  scale: 1,
  pages: [{ widthMm: 420, heightMm: 297, entities }],
  views: [],
  dimensions: [],
  warnings: [],
});
const MM = 72 / 25.4;

/** The pages of a PDF by an independent reader: size in points, words, and the operators that draw. */
async function read(bytes: Uint8Array) {
  const pdf = await getDocument({ data: new Uint8Array(bytes), useSystemFonts: false, verbosity: 0 }).promise;
  return Promise.all(
    Array.from({ length: pdf.numPages }, async (_, i) => {
      const page = await pdf.getPage(i + 1);
      const { items } = await page.getTextContent();
      const { fnArray, argsArray } = await page.getOperatorList();
      return {
        size: page.view,
        words: items.flatMap((item) => ('str' in item && item.str.trim() !== '' ? item.str : [])),
        operators: fnArray.map((fn, k) => ({ fn, args: argsArray[k] as unknown[] })),
        /** Letters run to the right and up, none is mirrored. */
        upright: items.every((item) => !('transform' in item) || (item.transform[0] > 0 && item.transform[3] > 0)),
        /** Base lines above the lower edge, mm. */
        base: items.flatMap((item) => ('transform' in item ? (item.transform[5] as number) / MM : [])),
      };
    }),
  );
}

/** Corner points of the paths of a page, in points of the page, with the matrices that are in force. */
function pathPoints(operators: { fn: number; args: unknown[] }[]): number[][] {
  let matrix = [1, 0, 0, 1, 0, 0];
  const stack: number[][] = [];
  const points: number[][] = [];
  const times = (m: number[], [a = 1, b = 0, c = 0, d = 1, e = 0, f = 0]: number[]): number[] => {
    const [p = 1, q = 0, r = 0, s = 1, t = 0, u = 0] = m;
    return [p * a + r * b, q * a + s * b, p * c + r * d, q * c + s * d, p * e + r * f + t, q * e + s * f + u];
  };
  for (const { fn, args } of operators) {
    if (fn === OPS.save) stack.push(matrix);
    else if (fn === OPS.restore) matrix = stack.pop() ?? matrix;
    else if (fn === OPS.transform) matrix = times(matrix, args as number[]);
    else if (fn === OPS.constructPath) {
      const coordinates = args[1] as number[];
      for (let i = 0; i + 1 < coordinates.length; i += 2) {
        const [a = 1, b = 0, c = 0, d = 1, e = 0, f = 0] = matrix;
        const [x = 0, y = 0] = [coordinates[i], coordinates[i + 1]];
        points.push([a * x + c * y + e, b * x + d * y + f]);
      }
    }
  }
  return points;
}

describe('a sheet as PDF', () => {
  it('is true to scale: a line of 100 mm is 100 mm long on paper', async () => {
    const sheet = sheetWith({ kind: 'line', layer: 'visible', from: [50, 60], to: [150, 60] });
    const [page] = await read(await renderPdf([{ sheet, fields: {} }]));
    expect(page?.size.map((value) => Math.round((value / MM) * 100) / 100)).toEqual([0, 0, 420, 297]);
    const [from, to] = pathPoints(page?.operators ?? []);
    const length = Math.hypot((to?.[0] ?? 0) - (from?.[0] ?? 0), (to?.[1] ?? 0) - (from?.[1] ?? 0));
    expect(length / MM).toBeCloseTo(100, 3);
    expect((from?.[1] ?? 0) / MM).toBeCloseTo(60, 3);
  });

  it('holds its words as text, upright, with the names of the person it is for', async () => {
    const sheet = sheetWith(
      { kind: 'text', text: '4 x ⌀8 through', at: [20, 20], heightMm: 3.5, anchor: 'start' },
      { kind: 'text', text: '', at: [20, 40], heightMm: 3, anchor: 'start', field: 'student' },
      { kind: 'text', text: '', at: [20, 50], heightMm: 3, anchor: 'start', field: 'date' },
    );
    const pages = await read(
      await renderPdf([
        { sheet, fields: { student: 'Ansel Brody' } },
        { sheet, fields: { student: 'Дагны Элм' } },
      ]),
    );
    expect(pages[0]?.words).toEqual(['4 x', '8 through', 'Ansel Brody']);
    expect(pages[0]?.upright).toBe(true);
    expect(pages[0]?.base[0]).toBeCloseTo(20, 2);
    expect(pages[1]?.words.join('')).toContain('Дагны');
  });

  it('draws a character that no font has as an empty box instead of failing', async () => {
    const sheet = sheetWith({ kind: 'text', text: '船 A', at: [20, 20], heightMm: 3, anchor: 'start' });
    const [page] = await read(await renderPdf([{ sheet, fields: {} }]));
    expect(page?.words.join('').trim()).toBe('A');
    expect(pathPoints(page?.operators ?? []).length).toBeGreaterThan(0);
  });
});

describe('a report as PDF', () => {
  const LINE = {
    checkId: 'thickness',
    kind: 'distance',
    label: 'Thickness',
    group: 'dimensions',
    quantity: 'length',
    nominal: 10,
    measured: 12,
    deviation: 2,
    tolerance: 0.05,
    limits: null,
    uncertainty: 0,
    reason: null,
    nominalPoint: null,
    measuredPoint: null,
    verdict: 'wrong',
    credit: 0,
    weight: 1,
    faceIds: [],
    advice: null,
    followOn: false,
    override: null,
  } as const;
  const REPORT = {
    score: 68.5,
    cap: null,
    lines: [LINE],
    typed: [],
    causes: [],
    rules: [],
    questions: [],
    deductions: [{ reason: '2 days late', points: 20 }],
    unit: 'mm',
    decimals: 1,
    warnings: [],
    detail: 'overlay',
  };
  const printed = async (changes: object, remarks: readonly { text: string; by: string }[] = []) =>
    (
      await read(
        await renderReport({
          title: 'SB-1 Plate: report for Ansel',
          facts: [['Student', 'Ansel']],
          report: { ...REPORT, ...changes } as never,
          remarks,
        }),
      )
    ).map(({ words }) => words.join(' '));

  it('says the score, what was taken off, each check with its values, and remarks', async () => {
    const [text = ''] = await printed({}, [{ text: 'Look at section A-A.', by: 'Orla' }]);
    for (const part of [
      '68.5 of 100',
      '2 days late: 20 points off',
      'WRONG',
      'Thickness',
      '10.00 mm',
      '12.00 mm',
      'Look at section A-A. (Orla)',
    ])
      expect(text).toContain(part);
  });

  it('says what an instructor decided of a line, and why', async () => {
    const override = { credit: 0.5, reason: 'The print was smudged.', by: 'Orla' };
    const [text] = await printed({ lines: [{ ...LINE, override }] });
    expect(text).toContain('Thickness (counted as 50 %: The print was smudged.)');
  });

  it('tells no number where the report tells none', async () => {
    const [text = ''] = await printed({ detail: 'checks' });
    expect(text).toContain('WRONG');
    expect(text).not.toMatch(/10\.00|12\.00/);
  });

  it('goes on over as many pages as it needs, each with its number', async () => {
    const pages = await printed({
      lines: Array.from({ length: 120 }, (_, i) => ({ ...LINE, label: `Check ${String(i)}` })),
    });
    expect(pages.length).toBeGreaterThan(1);
    pages.forEach((text, i) => {
      expect(text).toContain(`page ${String(i + 1)} of ${String(pages.length)}`);
    });
    expect(pages.join(' ')).toContain('Check 119');
  });

  it('writes names in any script that the fonts have, and a box for what they lack', async () => {
    const [text] = await printed({}, [{ text: 'Προσοχή, Ørjan 木', by: 'Åse' }]);
    for (const part of ['Προσοχή', 'Ørjan', 'Åse']) expect(text).toContain(part);
  });
});

describe('the work of a student', () => {
  const line = (i: number) => ({
    counts: '80',
    exercise: `SB-${String(100 + i)} Part`,
    due: '2026-05-04 22:00',
    scores: '60.0, 80.0',
    extension: i === 0 ? 'Was ill' : '',
  });
  const record = {
    title: 'Ansel Brody: work in Fittings 1',
    facts: [['Section', 'Morning bench']] as const,
    shares: ['Parts: 80.0, the mean of 2, counts 100 % of the grade.'],
    causes: [
      { name: 'Wrong edge', exercises: 4 },
      { name: 'Other unit', exercises: 1 },
    ],
  };

  it('is printed with its head, each exercise, and how often a mistake comes back', async () => {
    const [page] = await read(await renderRecord({ ...record, work: [line(0), line(1)] }));
    const text = page?.words.join(' ') ?? '';
    for (const words of [
      'Ansel Brody: work in Fittings 1',
      'Section: Morning bench',
      'the mean of 2',
      'SB-100 Part (other dates: Was ill)',
      'Wrong edge: in 4 exercises',
      'Other unit: in 1 exercise',
      'page 1 of 1',
    ])
      expect(text).toContain(words);
    expect(page?.upright).toBe(true);
  });

  it('goes on over pages, and says so where there is nothing', async () => {
    const pages = await read(await renderRecord({ ...record, work: Array.from({ length: 90 }, (_, i) => line(i)) }));
    expect(pages.length).toBeGreaterThan(1);
    expect(pages.flatMap(({ words }) => words).filter((word) => /^SB-\d+ Part/.test(word))).toHaveLength(90);
    const [empty] = await read(await renderRecord({ ...record, work: [], causes: [] }));
    expect(empty?.words.join(' ')).toContain('Nothing was issued yet.');
    expect(empty?.words.join(' ')).toContain('No cause of a mistake is known.');
  });
});
