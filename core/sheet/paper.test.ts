/** What happens on paper: letters, strokes and boxes, hatching, and curves cut to a circle. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

import * as fontkit from 'fontkit';
import { describe, expect, it } from 'vitest';

import type { Vec2 } from '#core/vector';

import { clippedToCircle } from './clip.ts';
import { hatchLines } from './hatch.ts';
import { SIZE_OF_CAPITALS, stretchesOf, textWidth, unlettered, wrapped } from './lettering.ts';
import { boxesOverlap, boxOf, grown, joined, sharedLength, strokeInBox, strokesCross, type Stroke } from './overlap.ts';

const { PI, SQRT2, abs, hypot } = Math;
const stroke = (x0: number, y0: number, x1: number, y1: number): Stroke => ({ from: [x0, y0], to: [x1, y1] });
const lengthOf = ({ from, to }: Stroke): number => hypot(to[0] - from[0], to[1] - from[1]);

describe('lettering', () => {
  it('is as wide as the sum of its characters, in proportion to its height', () => {
    expect(textWidth('12', 3.5)).toBeCloseTo(textWidth('1', 3.5) + textWidth('2', 3.5), 12);
    expect(textWidth('120.5', 7)).toBeCloseTo(2 * textWidth('120.5', 3.5), 12);
    expect(textWidth('', 3.5)).toBe(0);
  });

  it('takes each character as wide as the font that ships has it', () => {
    const file = createRequire(import.meta.url).resolve('@fontsource/archivo/files/archivo-latin-400-normal.woff');
    const font = fontkit.create(readFileSync(file));
    if (!('glyphForCodePoint' in font)) throw new Error('not a font');
    for (let code = 32; code < 127; code++) {
      const advance = font.glyphForCodePoint(code).advanceWidth / font.unitsPerEm;
      const character = String.fromCodePoint(code);
      // The table holds thousandths of the size.
      expect([character, textWidth(character, 1) / SIZE_OF_CAPITALS]).toEqual([
        character,
        expect.closeTo(advance, 3) as number,
      ]);
    }
    // A drawing measures letters by the height of H.
    expect(1 / SIZE_OF_CAPITALS).toBeCloseTo(font.capHeight / font.unitsPerEm, 3);
  });

  it('is cut into words and drawn signs, end to end', () => {
    const stretches = stretchesOf('4 x ⌀9 ↧12');
    expect(stretches.map((part) => (part.kind === 'words' ? part.text : part.kind))).toEqual([
      '4 x ',
      'sign',
      '9 ',
      'sign',
      '12',
    ]);
    stretches.slice(1).forEach(({ offset }, i) => {
      expect(offset).toBeCloseTo(stretches[i]!.offset + stretches[i]!.width, 12);
    });
    const end = stretches.at(-1)!;
    expect(end.offset + end.width).toBeCloseTo(textWidth('4 x ⌀9 ↧12', 1), 12);
  });

  it('says which characters the font lacks, each once', () => {
    expect(unlettered(['Maß 12', 'Ø Ω Ж न'])).toEqual([]);
    expect(unlettered(['漢字', '漢 1'])).toEqual(['漢', '字']);
  });
});

describe('a paragraph', () => {
  const note = 'Break all sharp edges before the part leaves the bench';

  it('keeps its words in order, and no line is too long', () => {
    const lines = wrapped(note, 2.5, 40);
    expect(lines.length).toBeGreaterThan(2);
    expect(lines.join(' ')).toBe(note);
    for (const line of lines) expect(textWidth(line, 2.5)).toBeLessThanOrEqual(40);
  });

  it('breaks a word that is longer than a line, but no character', () => {
    const word = '⚓'.repeat(3) + '\u{1F6F6}'.repeat(40);
    const lines = wrapped(`See ${word} there`, 2.5, 30);
    expect(lines.join('').replace('See', '').replace('there', '').trim()).toBe(word);
    for (const line of lines) {
      // Half a character cannot be encoded.
      expect(() => encodeURIComponent(line)).not.toThrow();
      expect(textWidth(line, 2.5)).toBeLessThanOrEqual(30);
    }
  });

  it('has no empty lines, however narrow the paper and odd the spaces', () => {
    expect(wrapped('  a \n\t b  ', 2.5, 100)).toEqual(['a b']);
    expect(wrapped('ab c', 2.5, 0.1)).toEqual(['a', 'b', 'c']);
    expect(wrapped('   ', 2.5, 100)).toEqual([]);
  });
});

describe('boxes and strokes', () => {
  const box = boxOf([
    [10, 20],
    [30, 5],
    [12, 8],
  ]);

  it('enclose what they are made of, joined and grown', () => {
    expect(box).toEqual({ min: [10, 5], max: [30, 20] });
    expect(grown(box, 2)).toEqual({ min: [8, 3], max: [32, 22] });
    expect(joined(box, { min: [0, 10], max: [11, 40] })).toEqual({ min: [0, 5], max: [30, 40] });
  });

  it('overlap where they share paper, not where they touch', () => {
    expect(boxesOverlap(box, { min: [29, 19], max: [50, 50] })).toBe(true);
    expect(boxesOverlap(box, { min: [30, 5], max: [50, 20] })).toBe(false);
    expect(boxesOverlap(box, { min: [0, 21], max: [50, 30] })).toBe(false);
  });

  it.each([
    ['through the middle', stroke(0, 10, 50, 10), true],
    ['from corner to corner', stroke(10, 5, 30, 20), true],
    ['within it', stroke(15, 10, 20, 12), true],
    ['along an edge', stroke(0, 20, 50, 20), false],
    ['past a corner', stroke(0, 16, 12, 30), false],
    ['up to an edge', stroke(0, 10, 10, 10), false],
    ['on its line, but short of it', stroke(0, 10, 9, 10), false],
  ] as const)('a stroke %s is told from one outside', (_where, one, isIn) => {
    expect(strokeInBox(one, box)).toBe(isIn);
    expect(strokeInBox({ from: one.to, to: one.from }, box)).toBe(isIn);
  });

  it.each([
    ['inside both', stroke(0, 0, 10, 10), stroke(0, 10, 10, 0), true],
    ['at an end of one', stroke(0, 0, 10, 0), stroke(5, 0, 5, 8), false],
    ['nowhere, side by side', stroke(0, 0, 10, 0), stroke(0, 1, 10, 1), false],
    ['beyond the end of one', stroke(0, 0, 4, 4), stroke(0, 10, 10, 0), false],
  ] as const)('two strokes that cross %s', (_where, a, b, cross) => {
    expect(strokesCross(a, b)).toBe(cross);
    expect(strokesCross(b, a)).toBe(cross);
  });

  it('lie on each other over what both cover', () => {
    expect(sharedLength(stroke(0, 0, 10, 0), stroke(6, 0, 20, 0))).toBeCloseTo(4, 12);
    expect(sharedLength(stroke(0, 0, 10, 0), stroke(20, 0.1, 6, 0.1))).toBeCloseTo(4, 12);
    expect(sharedLength(stroke(0, 0, 10, 0), stroke(0, 1, 10, 1))).toBe(0);
    expect(sharedLength(stroke(0, 0, 10, 0), stroke(12, 0, 20, 0))).toBe(0);
  });
});

describe('hatching', () => {
  const square = (x: number, y: number, size: number): [Vec2, Vec2, Vec2][] => [
    [
      [x, y],
      [x + size, y],
      [x + size, y + size],
    ],
    [
      [x, y],
      [x + size, y + size],
      [x, y + size],
    ],
  ];

  it('runs at 45 degrees, evenly spaced, and does not stop where triangles meet', () => {
    const lines = hatchLines(square(0, 0, 40));
    for (const { from, to } of lines) expect(abs(abs(to[1] - from[1]) - abs(to[0] - from[0]))).toBeLessThan(1e-9);
    const across = lines.map(({ from }) => (from[1] - from[0]) / SQRT2).sort((a, b) => a - b);
    const gaps = across.slice(1).map((t, i) => t - across[i]!);
    expect(Math.max(...gaps) - Math.min(...gaps)).toBeLessThan(1e-9);
    // The diagonal itself is one line over both triangles: 40 x sqrt(2).
    expect(Math.max(...lines.map(lengthOf))).toBeCloseTo(40 * SQRT2, 6);
  });

  it('covers what it hatches: length times spacing is about the area', () => {
    const lines = hatchLines(square(0, 0, 60));
    const spacing = 2.6;
    const covered = lines.reduce((sum, line) => sum + lengthOf(line) * spacing, 0);
    expect(covered / 3600).toBeGreaterThan(0.97);
    expect(covered / 3600).toBeLessThan(1.03);
  });

  it('is in line on two pieces of one body', () => {
    const rows = (lines: readonly Stroke[]) => lines.map(({ from }) => ((from[1] - from[0]) / SQRT2 / 2.6) % 1);
    for (const row of rows(hatchLines([...square(0, 0, 20), ...square(31.7, 5.3, 20)])))
      expect(abs(row - Math.round(row))).toBeLessThan(1e-6);
  });
});

describe('a curve in the circle of a detail', () => {
  it('of a line keeps the chord', () => {
    // At height 3 in a circle of 5 the half chord is 4.
    const [piece, ...more] = clippedToCircle({ kind: 'line', from: [-20, 3], to: [20, 3] }, [0, 0], 5);
    expect(more).toEqual([]);
    if (piece?.kind !== 'line') throw new Error('no line');
    expect(piece.from[0]).toBeCloseTo(-4, 6);
    expect(piece.to[0]).toBeCloseTo(4, 6);
  });

  it('of an arc is an arc of the same circle', () => {
    // Two circles of 5 whose centers are 5 apart share an arc of 120 degrees of each.
    const whole = { kind: 'arc', center: [5, 0], radius: 5, start: 0, sweep: 2 * PI } as const;
    const pieces = clippedToCircle(whole, [0, 0], 5);
    expect(pieces.every((piece) => piece.kind === 'arc' && piece.radius === 5 && piece.center[0] === 5)).toBe(true);
    const swept = pieces.reduce((sum, piece) => sum + (piece.kind === 'arc' ? abs(piece.sweep) : 0), 0);
    expect(swept).toBeCloseTo((2 * PI) / 3, 6);
  });

  it('of a polyline keeps the runs inside, and nothing of what is outside', () => {
    const points: Vec2[] = [-9, -3, -1, 9, 8, 2, 0, -2].map((x) => [x, 0]);
    const pieces = clippedToCircle({ kind: 'polyline', points }, [0, 0], 5);
    expect(pieces.map((piece) => (piece.kind === 'polyline' ? piece.points.length : 0))).toEqual([2, 3]);
    expect(clippedToCircle({ kind: 'line', from: [10, 10], to: [20, 10] }, [0, 0], 5)).toEqual([]);
  });
});
