import { describe, expect, it } from 'vitest';

import { chanceOf, isSameModel, likenesses, traceOf, type HandIn } from '#core/likeness';
import type { MassProperties } from '#core/solid';

const step = (name: string, time: string, author: string, data = '#1=POINT(0.,0.);'): string =>
  `ISO-10303-21;\nHEADER;\nFILE_NAME('${name}','${time}',('${author}'),('Bench'),'x','y','');\nENDSEC;\nDATA;\n${data}\nENDSEC;\n`;

describe('the trace of a file', () => {
  it('is who wrote it, when, and what it says behind its header, however it is broken into lines', () => {
    const a = traceOf(step('a', '2026-05-04T10:11:12', 'Ansel Brody'));
    expect(a).toMatchObject({ author: 'Ansel Brody', writtenAt: '2026-05-04T10:11:12' });
    const b = traceOf(step('b', '2026-05-05T08:00:00', 'Bettina Crane', '#1 = POINT(0.,\n  0.);'));
    expect(b.data).toBe(a.data);
    // What a part is called says nothing of its shape.
    const named = (name: string) => traceOf(step('c', '', '', `#1=PRODUCT('${name}','');#2=POINT(0.,0.);`)).data;
    expect(named("Ansel''s plate")).toBe(named('plate'));
    expect(named('plate')).not.toBe(a.data);
  });
  it('names nobody where the program wrote a word in place of a name, and no time where it is none', () => {
    expect(traceOf(step('a', 'now', 'Unknown'))).toMatchObject({ author: null, writtenAt: null });
    expect(traceOf("ISO-10303-21;\nHEADER;\nFILE_NAME('a','',(''),(''),'','','');ENDSEC;DATA;").author).toBeNull();
  });
  it('of another format is nothing', () => {
    expect(traceOf('solid part\nfacet normal 0 0 1')).toEqual({ author: null, writtenAt: null, data: null });
  });
});

/** A block of 1 g/mm3 by its sides, as it lies in the file. */
function block(a: number, b: number, c: number): MassProperties {
  const volumeMm3 = a * b * c;
  const about = (x: number, y: number): number => (volumeMm3 * (x * x + y * y)) / 12;
  return {
    volumeMm3,
    areaMm2: 2 * (a * b + b * c + a * c),
    centroidMm: [0, 0, 0],
    inertiaMm5: [
      [about(b, c), 0, 0],
      [0, about(a, c), 0],
      [0, 0, about(a, b)],
    ],
  };
}

let next = 0;
const handIn = (more: Partial<HandIn> = {}): HandIn => {
  next++;
  return {
    attemptId: next,
    studentId: next,
    fileSha256: `file ${String(next)}`,
    dataHash: null,
    author: null,
    writtenAt: null,
    isRight: false,
    massProperties: block(10, 20, 30),
    chance: 1e-4,
    typed: [],
    own: { mass: 16.2, volume: 6000, x: 1, y: 2, z: 3 },
    buildLog: '',
    ...more,
  };
};
const kinds = (...all: readonly HandIn[]) => likenesses(all).map(({ kind, attemptIds }) => [kind, ...attemptIds]);

describe('two models', () => {
  it('are one however they lie, and not where a side differs in its sixth digit', () => {
    expect(isSameModel(block(10, 20, 30), block(30, 10, 20))).toBe(true);
    expect(isSameModel(block(10, 20, 30), block(10, 20, 30.0001))).toBe(false);
    // A cube of the same volume.
    expect(isSameModel(block(10, 20, 30), block(6000 ** (1 / 3), 6000 ** (1 / 3), 6000 ** (1 / 3)))).toBe(false);
  });
});

describe('what is told', () => {
  it('is one file with a time of writing under two names', () => {
    const one = { fileSha256: 'one', writtenAt: '2026-05-04T10:11:12', isRight: true };
    const [a, b] = [handIn(one), handIn(one)];
    expect(kinds(a, b)).toEqual([['same-file', a.attemptId, b.attemptId]]);
    expect(likenesses([a, b])[0]?.words).toEqual(['It is one file, written at 2026-05-04T10:11:12.']);
  });

  it('is a wrong model that two students have to the last digit, with how likely that is', () => {
    const [a, b] = [handIn(), handIn({ massProperties: block(30, 20, 10) })];
    expect(kinds(a, b)).toEqual([['same-model', a.attemptId, b.attemptId]]);
    expect(likenesses([a, b])[0]?.words).toEqual([
      'The two models are one to the last digit, with the same mistakes.',
      'Of two wrong parts by honest students, about one pair in 10000 would be alike so.',
    ]);
  });

  it('says so where the files are the same behind their headers, or one', () => {
    const words = (more: Partial<HandIn>) => likenesses([handIn(more), handIn(more)])[0]?.words[0];
    expect(words({ dataHash: 'data' })).toBe('The two files say the same behind their headers.');
    expect(words({ fileSha256: 'one' })).toBe('It is one file.');
    // Then a mistake of one wrong part in a hundred is enough: 0.01 / 10.
    expect(words({ fileSha256: 'one', chance: 0.01 })).toBe('It is one file.');
    expect(words({ chance: 0.01 })).toBeUndefined();
  });

  it('is what somebody typed of the file of another, which is wrong', () => {
    const typed = (['mass', 'volume', 'x'] as const).map((name, i) => ({
      name,
      value: [16.2, 6000, 1][i] ?? 0,
      step: 0.05,
      isOwn: false,
    }));
    const other = handIn();
    const copier = handIn({
      typed,
      massProperties: block(11, 20, 30),
      own: { mass: 18, volume: 6600, x: 9, y: 9, z: 9 },
    });
    expect(kinds(other, copier)).toEqual([['typed-of-other', copier.attemptId, other.attemptId]]);
    // Two numbers may agree by chance; those of the right part may be from an earlier state of the own work.
    expect(kinds(other, { ...copier, typed: typed.slice(0, 2) })).toEqual([]);
    expect(kinds({ ...other, isRight: true }, copier)).toEqual([]);
  });

  it('names beside it an author and a list of steps that nobody else has', () => {
    const log = 'Foot, Upright, hole for the pin, second hole for the pin, rib in the middle, '.repeat(2);
    const both = { author: 'Ansel Brody', buildLog: log };
    expect(
      likenesses([
        handIn(both),
        handIn({ ...both, buildLog: `  ${log.toUpperCase()}` }),
        handIn({ massProperties: block(1, 2, 3) }),
      ])[0]?.words.slice(2),
    ).toEqual([
      'Both files name "Ansel Brody" as their author, and no other file of the class does.',
      'Their lists of steps are the same word for word, and no other list is.',
    ]);
  });
});

describe('what is not told', () => {
  it('are right parts, which are all alike, as files without a time too', () => {
    expect(kinds(handIn({ isRight: true }), handIn({ isRight: true }))).toEqual([]);
    const stl = { isRight: true, fileSha256: 'one' };
    expect(kinds(handIn(stl), handIn(stl))).toEqual([]);
  });
  it('is a mistake that many make', () => {
    expect(kinds(handIn({ chance: 0.09 }), handIn({ chance: 0.09 }))).toEqual([]);
  });
  it('is a wrong model that four have: the sheet is at fault then', () => {
    expect(kinds(handIn(), handIn(), handIn())).toHaveLength(3);
    expect(kinds(handIn(), handIn(), handIn(), handIn())).toEqual([]);
  });
  it('are two attempts of one student', () => {
    expect(kinds(handIn({ studentId: 7 }), handIn({ studentId: 7 }))).toEqual([]);
  });
});

it('the chance of a wrong part is the product of the shares of its mistakes, or a guess by how many sizes are off', () => {
  expect(chanceOf([9, 5], 0)).toBeCloseTo(0.0045, 12);
  // A kind that is hardly ever made still happens once in a hundred mistakes.
  expect(chanceOf([0.1], 0)).toBe(0.01);
  expect(chanceOf(null, 2)).toBeCloseTo(1 / 2500, 12);
  expect(chanceOf(null, 0)).toBe(1);
});
