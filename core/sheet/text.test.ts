import { describe, expect, it } from 'vitest';

import { degreesText, fractionText, renderSvg, stretchesOf, textWidth, wrapped, type Sheet } from '#core/sheet';

const INCH = { unit: 'in', decimals: 3 } as const;

describe('numbers of an inch sheet as fractions', () => {
  it.each([
    [25.4 * 1.75, '1 3/4'],
    [25.4 / 64, '1/64'],
    [25.4 * 3, '3'],
    [25.4 * 0.3125, '5/16'],
    // No sixty-fourth: the decimal stays.
    [25.4 * 0.3, '.300'],
  ])('%d mm is %s', (mm, text) => {
    expect(fractionText(mm, INCH)).toBe(text);
  });
});

it('degrees have no trailing zeros', () => {
  expect([degreesText(45), degreesText(22.5), degreesText(59.9996)]).toEqual(['45°', '22.5°', '60°']);
});

describe('lettering', () => {
  it('is as wide as its stretches together, words and drawn signs', () => {
    const text = '4 x ⌀8 ↧12';
    const stretches = stretchesOf(text);
    expect(stretches.map(({ kind }) => kind)).toEqual(['words', 'sign', 'words', 'sign', 'words']);
    expect(stretches.reduce((sum, { width }) => sum + width, 0)).toBeCloseTo(textWidth(text, 1), 9);
  });

  it('breaks a paragraph between words, and a word that is longer than a line', () => {
    const lines = wrapped(`Break all edges ${'x'.repeat(60)} end`, 2.5, 40);
    expect(lines.every((line) => textWidth(line, 2.5) <= 40)).toBe(true);
    expect(lines.join('').replace(/ /g, '')).toBe(`Breakalledges${'x'.repeat(60)}end`);
    expect(wrapped('   ', 2.5, 40)).toEqual([]);
  });
});

describe('a page as SVG', () => {
  const sheet: Sheet = {
    title: 'SB-1 <Plate>',
    scale: 1,
    views: [],
    dimensions: [],
    warnings: [],
    pages: [
      {
        widthMm: 100,
        heightMm: 50,
        entities: [
          { kind: 'arc', layer: 'visible', center: [20, 20], radius: 5, start: 0, sweep: 2 * Math.PI },
          { kind: 'ellipse', layer: 'visible', center: [50, 20], radii: [8, 4], turn: 0, start: 0, sweep: Math.PI },
          { kind: 'text', text: 'R<5>', at: [70, 20], heightMm: 3.5, anchor: 'start', checkId: 'a"b' },
          { kind: 'text', text: '', at: [70, 30], heightMm: 3.5, anchor: 'start', field: 'student' },
        ],
      },
    ],
  };
  it('keeps circles and ellipses, escapes every text, and counts its pages', () => {
    const svg = renderSvg(sheet, 1, { student: 'A & B' });
    expect(svg).toContain('<circle cx="20" cy="30" r="5"/>');
    expect(svg).toMatch(/A8 4 0 \d 0 /);
    expect(svg).toContain('R&#60;5&#62;');
    expect(svg).toContain('data-check="a&#34;b"');
    expect(svg).toContain('A &#38; B');
    expect(svg).toContain('data-pages="1"');
  });
  it('leaves empty what nobody filled in, and a page that is not there', () => {
    expect(renderSvg(sheet)).not.toContain('undefined');
    expect(renderSvg(sheet, 9)).toContain('<svg');
  });
});
