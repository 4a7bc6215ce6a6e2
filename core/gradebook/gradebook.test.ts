import * as v from 'valibot';
import { describe, expect, it } from 'vitest';

import {
  gradebookAsCsv,
  gradebookOf,
  gradeChanges,
  GradingSchemeSchema,
  PLAIN_SCHEME,
  sharesInWords,
  type CellState,
  type GradebookCell,
  type GradingScheme,
} from '#core/gradebook';

const cell = (state: CellState, score: number | null): GradebookCell => ({
  state,
  score,
  attemptId: 1,
  attempts: 1,
  isLate: false,
});
const assignments = [1, 2, 3].map((id) => ({
  id,
  number: `SB-${String(id)}`,
  title: 'Part',
  section: 'Morning',
  groupId: id === 3 ? 'test' : null,
}));
const bookOf = (...cells: readonly GradebookCell[]) => bookBy(PLAIN_SCHEME, ...cells);
const bookBy = (scheme: GradingScheme, ...cells: readonly GradebookCell[]) =>
  gradebookOf({
    scheme,
    assignments,
    students: [
      {
        id: 9,
        name: 'Ansel Brody',
        login: 'ansel',
        section: 'Morning',
        cells: new Map(cells.map((one, i) => [i + 1, one])),
      },
    ],
  });
const totalOf = (...cells: readonly GradebookCell[]) => bookOf(...cells).rows[0]?.total;

it('what is missing counts as nothing, what is excused, open or not measured yet does not count', () => {
  // (90 + 0) / 2, then 90 alone three times.
  expect(totalOf(cell('graded', 90), cell('missing', 0))).toBe(45);
  expect(totalOf(cell('graded', 90), cell('excused', 20))).toBe(90);
  expect(totalOf(cell('graded', 90), cell('open', null))).toBe(90);
  expect(totalOf(cell('to-review', 90), cell('handed-in', null))).toBe(90);
  expect(totalOf(cell('open', null))).toBeNull();
});

it('the mean is told to a tenth', () => {
  expect(totalOf(cell('graded', 100), cell('graded', 50), cell('graded', 50))).toBe(66.7);
});

it('a spreadsheet gets scores as numbers and words for what has none; a name is never a formula', () => {
  const book = bookOf(cell('graded', 87.5), cell('missing', 0), cell('excused', null));
  const [head, line] = gradebookAsCsv({ ...book, rows: book.rows.map((row) => ({ ...row, name: '=1+1' })) }).split(
    '\r\n',
  );
  expect(head).toBe('Name,Sign-in name,Section,SB-1 Part (Morning),SB-2 Part (Morning),SB-3 Part (Morning),Mean');
  expect(line).toBe("'=1+1,ansel,Morning,87.5,missing,excused,43.8");
});

it('an assignment of another section leaves its place empty', () => {
  const book = bookOf(cell('graded', 10));
  expect(book.rows[0]?.cells).toEqual(new Map([[1, cell('graded', 10)]]));
  expect(gradebookAsCsv(book).split('\r\n')[1]).toBe('Ansel Brody,ansel,Morning,10,,,10');
});

describe('groups of assignments', () => {
  const weekly = { id: 'weekly', name: 'Weekly', weight: 3, dropLowest: 1 };
  const test = { id: 'test', name: 'Test', weight: 1, dropLowest: 0 };
  const scheme: GradingScheme = {
    groups: [weekly, test],
    letters: [
      { letter: 'A', from: 80 },
      { letter: 'B', from: 0 },
    ],
  };
  const rowOf = (...cells: readonly GradebookCell[]) => bookBy(scheme, ...cells).rows[0];

  it('count by their weights, without their lowest scores; what names no group counts in the first', () => {
    // (3 * 90 + 1 * 50) / 4 = 80: the 60 is left out.
    const row = rowOf(cell('graded', 90), cell('graded', 60), cell('graded', 50));
    expect(row).toMatchObject({ total: 80, letter: 'A' });
    expect(row?.shares.map(({ left }) => left)).toEqual([[2], []]);
    expect(row && sharesInWords(row)).toEqual([
      'Weekly: 90.0, the mean of 1, the lowest left out, counts 75 % of the grade.',
      'Test: 50.0, the mean of 1, counts 25 % of the grade.',
    ]);
  });

  it('leave out what is missing like any score, and never the last one', () => {
    expect(rowOf(cell('graded', 90), cell('missing', 0))?.total).toBe(90);
    expect(rowOf(cell('missing', 0))).toMatchObject({ total: 0, letter: 'B' });
  });

  it('without anything that counts take no share', () => {
    const row = rowOf(cell('graded', 79.9), cell('excused', null), cell('open', null));
    expect(row).toMatchObject({ total: 79.9, letter: 'B' });
    expect(row && sharesInWords(row)[1]).toBe('Test: nothing counts yet.');
    expect(rowOf(cell('open', null))).toMatchObject({ total: null, letter: null });
  });

  it('have a column each in a table, and so has the grade', () => {
    const [head, line] = gradebookAsCsv(bookBy(scheme, cell('graded', 90), cell('graded', 60))).split('\r\n');
    expect(head?.split(',').slice(-4)).toEqual(['Weekly', 'Test', 'Mean', 'Grade']);
    expect(line?.split(',').slice(-4)).toEqual(['90', '', '90', 'A']);
  });
});

describe('a scheme is refused with what is wrong', () => {
  const group = (more: object = {}) => ({ id: 'a', name: 'A', weight: 1, dropLowest: 0, ...more });
  it.each([
    [{ groups: [group(), group({ id: 'b' })] }, 'Two groups have one name.'],
    [{ groups: [group({ weight: 0 })] }, 'A weight is a number above 0.'],
    [{ groups: [group({ name: ' ' })] }, 'Give each group a name.'],
    [{ groups: [group({ dropLowest: 1.5 })] }, 'Whole numbers of scores are left out.'],
    [{ letters: [{ letter: 'A', from: 50 }] }, 'The last grade of the scale begins at 0, so that everybody has one.'],
    [
      {
        letters: [
          { letter: 'A', from: 0 },
          { letter: 'B', from: 0 },
        ],
      },
      'Two grades of the scale begin at one number.',
    ],
  ])('%j', (wrong, words) => {
    const parsed = v.safeParse(GradingSchemeSchema, { ...PLAIN_SCHEME, ...wrong });
    expect(parsed.issues?.[0].message).toBe(words);
  });
  it('and the scale is put in order, the best first', () => {
    const letters = [
      { letter: 'D', from: 0 },
      { letter: 'A', from: 90 },
    ];
    expect(v.parse(GradingSchemeSchema, { groups: [], letters }).letters[0]?.letter).toBe('A');
  });
});

describe('another scheme', () => {
  const students = [
    {
      id: 9,
      name: 'Ansel Brody',
      login: 'ansel',
      section: 'Morning',
      cells: new Map([40, 80, 90].map((score, i) => [i + 1, cell('graded', score)])),
    },
    { id: 8, name: 'Fia Holm', login: 'fia', section: 'Morning', cells: new Map([[1, cell('graded', 70)]]) },
  ];
  const dropping: GradingScheme = {
    groups: [{ id: 'all', name: 'Parts', weight: 1, dropLowest: 1 }],
    letters: [],
  };

  it('is told grade by grade, with what is left out now and how the new one comes about', () => {
    // (40 + 80 + 90) / 3 = 70; without the lowest (80 + 90) / 2 = 85. A single score always counts.
    expect(gradeChanges({ assignments, students }, dropping, new Map())).toEqual([
      {
        id: 9,
        name: 'Ansel Brody',
        before: { total: 70, letter: null },
        after: { total: 85, letter: null },
        why: ['Parts: 85.0, the mean of 2, the lowest left out, counts 100 % of the grade.'],
        nowLeft: [1],
        countAgain: [],
      },
    ]);
    expect(gradeChanges({ assignments, students, scheme: dropping }, PLAIN_SCHEME, new Map())[0]).toMatchObject({
      before: { total: 85 },
      after: { total: 70 },
      countAgain: [1],
    });
  });

  it('changes nobody where it is the same, and where other letters are not reached', () => {
    expect(gradeChanges({ assignments, students }, PLAIN_SCHEME, new Map())).toEqual([]);
    const letters = [
      { letter: 'passed', from: 50 },
      { letter: 'not yet', from: 0 },
    ];
    const lettered = { ...PLAIN_SCHEME, letters };
    expect(gradeChanges({ assignments, students }, lettered, new Map()).map(({ after }) => after.letter)).toEqual([
      'passed',
      'passed',
    ]);
  });
});
