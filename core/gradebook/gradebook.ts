import { writeTable } from '#core/table';

import { groupOf, letterOf, PLAIN_SCHEME, type GradeGroup, type GradingScheme } from './scheme.ts';

/** Where a student stands with an assignment. */
export type CellState =
  /** Not open yet, or open and nothing handed in. */
  | 'open'
  /** The time is over and nothing was handed in. */
  | 'missing'
  /** Handed in, and not measured yet or refused. */
  | 'handed-in'
  /** Measured, and waits for a look where reports wait for that. */
  | 'to-review'
  | 'graded'
  /** Was away when it was due, and has not made it up. */
  | 'absent'
  | 'excused';

export interface GradebookCell {
  readonly state: CellState;
  /** 0 to 100; null where nothing counts yet. Of what is missing, 0. */
  readonly score: number | null;
  /** The newest attempt that was measured, or the newest of all; by the scoring, another one may count. */
  readonly attemptId: number | null;
  readonly attempts: number;
  readonly isLate: boolean;
}

export interface GradedAssignment {
  readonly id: number;
  readonly number: string;
  readonly title: string;
  readonly section: string;
  /** The group that it counts in. */
  readonly groupId: string | null;
}

export interface GradebookInput {
  readonly assignments: readonly GradedAssignment[];
  readonly scheme?: GradingScheme;
  readonly students: readonly {
    readonly id: number;
    readonly name: string;
    readonly login: string;
    readonly section: string;
    /** By assignment; those of other sections have none. */
    readonly cells: ReadonlyMap<number, GradebookCell>;
  }[];
}

/** What a group gives one student. */
export interface GradeShare {
  /** Null where all assignments count alike. */
  readonly group: GradeGroup | null;
  /** The mean of what counts, not rounded; null where nothing does yet. */
  readonly mean: number | null;
  readonly counted: number;
  /** Assignments that are left out, as the lowest. */
  readonly left: readonly number[];
}

export interface GradebookRow {
  readonly id: number;
  readonly name: string;
  readonly login: string;
  readonly section: string;
  /** By assignment, those of the own section. */
  readonly cells: ReadonlyMap<number, GradebookCell>;
  readonly shares: readonly GradeShare[];
  /** 0 to 100, to a tenth; null where nothing counts yet. */
  readonly total: number | null;
  readonly letter: string | null;
}

export interface Gradebook {
  readonly assignments: readonly GradedAssignment[];
  readonly scheme: GradingScheme;
  readonly rows: readonly GradebookRow[];
}

/** To a tenth, halves up: what arithmetic leaves of 41.95 is not 41.9. */
const toTenth = (value: number): number => Math.round(value * 10 + 1e-6) / 10;

/** What counts of some cells: what is missing counts as 0, what is excused or still open does not. */
function shareOf(
  group: GradeGroup | null,
  assignments: readonly GradedAssignment[],
  cells: ReadonlyMap<number, GradebookCell>,
): GradeShare {
  const scores = assignments
    .flatMap(({ id }) => {
      const cell = cells.get(id);
      return cell === undefined || cell.state === 'excused' || cell.score === null ? [] : [{ id, score: cell.score }];
    })
    .sort((a, b) => a.score - b.score);
  const dropped = Math.min(group?.dropLowest ?? 0, Math.max(0, scores.length - 1));
  const counting = scores.slice(dropped);
  return {
    group,
    mean: counting.length === 0 ? null : counting.reduce((sum, { score }) => sum + score, 0) / counting.length,
    counted: counting.length,
    left: scores.slice(0, dropped).map(({ id }) => id),
  };
}

/** The mean of the groups by their weights; a group in which nothing counts yet has none. */
function totalOf(shares: readonly GradeShare[]): number | null {
  const told = shares.flatMap(({ group, mean }) => (mean === null ? [] : [{ weight: group?.weight ?? 1, mean }]));
  const weights = told.reduce((sum, { weight }) => sum + weight, 0);
  return weights === 0 ? null : toTenth(told.reduce((sum, { weight, mean }) => sum + weight * mean, 0) / weights);
}

/** Puts the cells of all students beside the assignments, with what each group gives and a total each. */
export function gradebookOf({ assignments, scheme = PLAIN_SCHEME, students }: GradebookInput): Gradebook {
  const groups = scheme.groups.length === 0 ? [null] : scheme.groups;
  const membersOf = groups.map((group) => ({
    group,
    members: assignments.filter(({ groupId }) => groupOf(groupId, scheme) === group),
  }));
  const rows = students.map((student): GradebookRow => {
    const shares = membersOf.map(({ group, members }) => shareOf(group, members, student.cells));
    const total = totalOf(shares);
    return { ...student, shares, total, letter: letterOf(total, scheme) };
  });
  return { assignments, scheme, rows };
}

const WORDS: Readonly<Record<CellState, string>> = {
  open: '',
  missing: 'missing',
  'handed-in': 'handed in',
  'to-review': '',
  graded: '',
  absent: 'absent',
  excused: 'excused',
};

/** What a cell says in a table: the score, or a word where there is none. */
export const cellText = (cell: GradebookCell | undefined): string => {
  if (cell === undefined) return '';
  return cell.state === 'graded' || cell.state === 'to-review' ? String(cell.score ?? '') : WORDS[cell.state];
};

/** What the head of a column says of an assignment. */
export const columnTitle = ({ number, title, section }: GradedAssignment): string => `${number} ${title} (${section})`;

/** A gradebook as delimited text: a line a student, a column an assignment; words where there is no score. */
export function gradebookAsCsv({ assignments, scheme, rows }: Gradebook): string {
  const hasLetters = scheme.letters.length > 0;
  return writeTable([
    [
      'Name',
      'Sign-in name',
      'Section',
      ...assignments.map(columnTitle),
      ...scheme.groups.map(({ name }) => name),
      'Mean',
      ...(hasLetters ? ['Grade'] : []),
    ],
    ...rows.map(({ name, login, section, cells, shares, total, letter }) => [
      name,
      login,
      section,
      ...assignments.map(({ id }) => cellText(cells.get(id))),
      ...shares.flatMap(({ group, mean }) => (group === null ? [] : mean === null ? '' : String(toTenth(mean)))),
      total === null ? '' : String(total),
      ...(hasLetters ? [letter ?? ''] : []),
    ]),
  ]);
}

/** How a total comes about, a sentence a group: what a student reads beside the grade. */
export function sharesInWords({ shares }: Pick<GradebookRow, 'shares'>): readonly string[] {
  const weights = shares.reduce((sum, { group, mean }) => sum + (mean === null ? 0 : (group?.weight ?? 1)), 0);
  return shares.flatMap(({ group, mean, counted, left }) => {
    if (group === null) return [];
    if (mean === null) return [`${group.name}: nothing counts yet.`];
    const share = Math.round((1000 * group.weight) / weights) / 10;
    const lowest =
      left.length === 0
        ? ''
        : left.length === 1
          ? ', the lowest left out'
          : `, the ${String(left.length)} lowest left out`;
    return [
      `${group.name}: ${toTenth(mean).toFixed(1)}, the mean of ${String(counted)}${lowest}, counts ${String(share)} % of the grade.`,
    ];
  });
}
