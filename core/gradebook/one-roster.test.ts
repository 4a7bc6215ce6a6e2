import { describe, expect, it } from 'vitest';

import { gradebookOf, PLAIN_SCHEME, resultsPackage, type GradebookCell, type GradingScheme } from '#core/gradebook';
import { readTable } from '#core/table';

const cell = (state: GradebookCell['state'], score: number | null, isLate = false): GradebookCell => ({
  state,
  score,
  attemptId: 1,
  attempts: 1,
  isLate,
});
const STATES: readonly GradebookCell[] = [
  cell('graded', 87.5, true),
  cell('missing', 0),
  cell('excused', 40),
  cell('to-review', 60),
  cell('handed-in', null),
  cell('open', null),
];
const WEIGHTED: GradingScheme = {
  groups: [
    { id: 'parts', name: 'Parts', weight: 3, dropLowest: 0 },
    { id: 'test', name: 'Test', weight: 1, dropLowest: 0 },
  ],
  letters: [],
};

/** Rows of a file of the package of one student, by heading. */
function rowsOf(file: string, scheme: GradingScheme = PLAIN_SCHEME): readonly Readonly<Record<string, string>>[] {
  const assignments = STATES.map((_, i) => ({
    id: i + 1,
    number: `SB-${String(i + 1)}`,
    title: 'Part',
    section: 'Morning',
    groupId: i === 2 ? 'test' : null,
  }));
  const student = (id: number, login: string) => ({
    id,
    login,
    name: login,
    section: 'Morning',
    cells: new Map(STATES.map((one, i) => [i + 1, one])),
  });
  const files = resultsPackage({
    book: gradebookOf({ scheme, assignments, students: [student(9, 'ansel'), student(10, 'fia')] }),
    dates: new Map([[1, { opensOn: '2026-05-01', dueOn: '2026-05-04' }]]),
    ids: { students: new Map([[9, 'u-17']]), classes: new Map([[1, 'c-4']]), gradingPeriod: 'term-2' },
    givenOn: '2026-12-18',
  });
  const [head = [], ...rows] = readTable(files[file] ?? '').rows;
  return rows.map((row) => Object.fromEntries(head.map((name, i) => [name, row[i] ?? ''])));
}
const resultsOf = (student: string) => rowsOf('results.csv').filter((row) => row['studentSourcedId'] === student);

describe('grades for the records of a school', () => {
  it('say which files are there, in the version that is written', () => {
    const said = Object.fromEntries(rowsOf('manifest.csv').map((row) => [row['propertyName'], row['value']]));
    expect(said).toMatchObject({
      'manifest.version': '1.0',
      'oneroster.version': '1.2',
      'file.categories': 'bulk',
      'file.lineItems': 'bulk',
      'file.results': 'bulk',
      'file.users': 'absent',
    });
  });

  it('name what was issued, with its dates, class, grading period and category', () => {
    expect(rowsOf('lineItems.csv')[0]).toMatchObject({
      title: 'SB-1 Part',
      assignDate: '2026-05-01',
      dueDate: '2026-05-04',
      classSourcedId: 'c-4',
      gradingPeriodSourcedId: 'term-2',
      resultValueMin: '0',
      resultValueMax: '100',
      status: '',
    });
  });

  it('have a result for all but what is still open, in the words of the format', () => {
    expect(resultsOf('u-17').map((row) => [row['scoreStatus'], row['score'], row['late'], row['missing']])).toEqual([
      ['fully graded', '87.5', 'true', 'false'],
      ['not submitted', '0', 'false', 'true'],
      ['exempt', '', 'false', 'false'],
      ['partially graded', '60', 'false', 'false'],
      ['submitted', '', 'false', 'false'],
    ]);
    expect(new Set(resultsOf('u-17').map((row) => row['scoreDate']))).toEqual(new Set(['2026-12-18']));
  });

  it('name each result by an assignment that is in the package, and once', () => {
    const items = new Set(rowsOf('lineItems.csv').map((row) => row['sourcedId']));
    const results = rowsOf('results.csv');
    expect(results.every((row) => items.has(row['lineItemSourcedId']))).toBe(true);
    expect(new Set(results.map((row) => row['sourcedId'])).size).toBe(results.length);
  });

  it('name a student without an id of the school by the sign-in name', () => {
    expect(resultsOf('fia')).toHaveLength(5);
  });

  it('have the groups as categories, whose weights are shares of the whole', () => {
    // 3 and 1 of 4.
    expect(rowsOf('categories.csv', WEIGHTED).map((row) => [row['title'], row['weight']])).toEqual([
      ['Parts', '0.75'],
      ['Test', '0.25'],
    ]);
    const categories = new Set(rowsOf('categories.csv', WEIGHTED).map((row) => row['sourcedId']));
    expect(rowsOf('lineItems.csv', WEIGHTED).every((row) => categories.has(row['categorySourcedId']))).toBe(true);
    expect(rowsOf('categories.csv')).toMatchObject([{ title: 'Assignments', weight: '1' }]);
  });
});
