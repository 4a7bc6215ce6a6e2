/** Grades in the open format that school information systems exchange: OneRoster 1.2, CSV binding, gradebook files. */
import { writeTable } from '#core/table';

import type { CellState, Gradebook, GradebookCell } from './gradebook.ts';
import { groupOf, type GradeGroup } from './scheme.ts';

/** What the records of the school call things; keys are our own numbers. */
export interface SchoolIds {
  /** Of students; who has none is left out of it. */
  readonly students: ReadonlyMap<number, string>;
  /** Of the class that each assignment was issued to. */
  readonly classes: ReadonlyMap<number, string>;
  readonly gradingPeriod: string;
}

export interface ResultsInput {
  readonly book: Gradebook;
  /** Days by the clocks of the course, 2026-12-18, by assignment. */
  readonly dates: ReadonlyMap<number, { readonly opensOn: string; readonly dueOn: string }>;
  readonly ids: SchoolIds;
  /** Day on which the grades are given out, 2026-12-18. */
  readonly givenOn: string;
}

/** Text of each file of a package, by its name. */
export type ResultsPackage = Readonly<Record<string, string>>;

const FILES = [
  'academicSessions',
  'categories',
  'classes',
  'classResources',
  'courses',
  'courseResources',
  'demographics',
  'enrollments',
  'lineItemLearningObjectiveIds',
  'lineItems',
  'lineItemScoreScales',
  'orgs',
  'resources',
  'resultLearningObjectiveIds',
  'results',
  'resultScoreScales',
  'roles',
  'scoreScales',
  'userProfiles',
  'userResources',
  'users',
] as const;
const WRITTEN: ReadonlySet<string> = new Set(['categories', 'lineItems', 'results']);

const STATUS: Readonly<Record<Exclude<CellState, 'open'>, string>> = {
  missing: 'not submitted',
  'handed-in': 'submitted',
  'to-review': 'partially graded',
  graded: 'fully graded',
  absent: 'not submitted',
  excused: 'exempt',
};

const truth = (value: boolean): string => (value ? 'true' : 'false');
const lineItemId = (assignmentId: number): string => `zorvet-assignment-${String(assignmentId)}`;
const categoryId = (group: GradeGroup | null): string => `zorvet-group-${group?.id ?? 'all'}`;
/** In a whole package, who reads it takes everything as new: both stay empty. */
const BULK = ['', ''] as const;

/**
 * The grades of a course as the files of a package: what was issued, and a result for each student who has one. Who or
 * what has no id of the school is named by the own one. Weights are shares of 1.
 */
export function resultsPackage({ book, dates, ids, givenOn }: ResultsInput): ResultsPackage {
  const { assignments, scheme, rows } = book;
  const groups = scheme.groups.length === 0 ? [null] : scheme.groups;
  const weights = groups.reduce((sum, group) => sum + (group?.weight ?? 1), 0);
  const classOf = (assignmentId: number): string => ids.classes.get(assignmentId) ?? '';
  return {
    'manifest.csv': writeTable([
      ['propertyName', 'value'],
      ['manifest.version', '1.0'],
      ['oneroster.version', '1.2'],
      ...FILES.map((name) => [`file.${name}`, WRITTEN.has(name) ? 'bulk' : 'absent']),
      ['source.systemName', 'Zorvet'],
      ['source.systemCode', 'zorvet'],
    ]),
    'categories.csv': writeTable([
      ['sourcedId', 'status', 'dateLastModified', 'title', 'weight'],
      ...groups.map((group) => [
        categoryId(group),
        ...BULK,
        group?.name ?? 'Assignments',
        String(Math.round((1000 * (group?.weight ?? 1)) / weights) / 1000),
      ]),
    ]),
    'lineItems.csv': writeTable([
      LINE_ITEM_HEAD,
      ...assignments.map(({ id, number, title, groupId }) => [
        lineItemId(id),
        ...BULK,
        `${number} ${title}`,
        '',
        dates.get(id)?.opensOn ?? '',
        dates.get(id)?.dueOn ?? '',
        classOf(id),
        categoryId(groupOf(groupId, scheme)),
        ids.gradingPeriod,
        '0',
        '100',
        '',
      ]),
    ]),
    'results.csv': writeTable([
      RESULT_HEAD,
      ...rows.flatMap((row) =>
        [...row.cells].flatMap(([assignmentId, cell]) => {
          const fields = resultOf(cell);
          if (fields === null) return [];
          const student = ids.students.get(row.id) ?? row.login;
          const { status, score, late, missing } = fields;
          return [
            [
              `zorvet-result-${String(assignmentId)}-${String(row.id)}`,
              ...BULK,
              lineItemId(assignmentId),
              student,
              status,
              score,
              givenOn,
              '',
              '',
              classOf(assignmentId),
              'false',
              'false',
              late,
              missing,
            ],
          ];
        }),
      ),
    ]),
  };
}

const LINE_ITEM_HEAD = [
  'sourcedId',
  'status',
  'dateLastModified',
  'title',
  'description',
  'assignDate',
  'dueDate',
  'classSourcedId',
  'categorySourcedId',
  'gradingPeriodSourcedId',
  'resultValueMin',
  'resultValueMax',
  'schoolSourcedId',
] as const;
const RESULT_HEAD = [
  'sourcedId',
  'status',
  'dateLastModified',
  'lineItemSourcedId',
  'studentSourcedId',
  'scoreStatus',
  'score',
  'scoreDate',
  'comment',
  'textScore',
  'classSourcedId',
  'inProgress',
  'incomplete',
  'late',
  'missing',
] as const;

/** What a cell says in the words of the format; null where nothing is to be said yet. */
function resultOf({ state, score, isLate }: GradebookCell) {
  if (state === 'open') return null;
  return {
    status: STATUS[state],
    score: state === 'excused' || score === null ? '' : String(score),
    late: truth(isLate),
    missing: truth(state === 'missing'),
  };
}
