import { expect, it } from 'vitest';

import { gradebookAsCsv, gradebookOf, type CellState, type GradebookCell } from '#core/gradebook';

const cell = (state: CellState, score: number | null): GradebookCell => ({
  state,
  score,
  attemptId: 1,
  attempts: 1,
  isLate: false,
});
const assignments = [1, 2, 3].map((id) => ({ id, number: `SB-${String(id)}`, title: 'Part', section: 'Morning' }));
const bookOf = (...cells: readonly GradebookCell[]) =>
  gradebookOf({
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
  expect(bookOf(cell('graded', 10)).rows[0]?.cells).toEqual([cell('graded', 10), null, null]);
});
