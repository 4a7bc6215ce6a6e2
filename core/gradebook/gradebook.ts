import { writeTable } from '#core/table';

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

export interface GradebookInput {
  readonly assignments: readonly {
    readonly id: number;
    readonly number: string;
    readonly title: string;
    readonly section: string;
  }[];
  readonly students: readonly {
    readonly id: number;
    readonly name: string;
    readonly login: string;
    readonly section: string;
    /** By assignment; those of other sections have none. */
    readonly cells: ReadonlyMap<number, GradebookCell>;
  }[];
}

export interface Gradebook {
  readonly assignments: GradebookInput['assignments'];
  readonly rows: readonly {
    readonly id: number;
    readonly name: string;
    readonly login: string;
    readonly section: string;
    readonly cells: readonly (GradebookCell | null)[];
    /** The mean of what counts, 0 to 100; null where nothing does yet. */
    readonly total: number | null;
  }[];
}

const toTenth = (value: number): number => Math.round(value * 10) / 10;

/** The mean of the scores that count: what is missing counts as 0, what is excused or still open does not. */
function totalOf(cells: readonly (GradebookCell | null)[]): number | null {
  const counting = cells.flatMap((cell) => (cell?.state === 'excused' ? [] : (cell?.score ?? [])));
  return counting.length === 0 ? null : toTenth(counting.reduce((sum, score) => sum + score, 0) / counting.length);
}

/** Puts the cells of all students in the order of the assignments, with a total each. */
export function gradebookOf({ assignments, students }: GradebookInput): Gradebook {
  const rows = students.map(({ cells, ...student }) => {
    const own = assignments.map(({ id }) => cells.get(id) ?? null);
    return { ...student, cells: own, total: totalOf(own) };
  });
  return { assignments, rows };
}

const WORDS: Readonly<Record<CellState, string>> = {
  open: '',
  missing: 'missing',
  'handed-in': 'handed in',
  'to-review': '',
  graded: '',
  excused: 'excused',
};

/** A gradebook for a spreadsheet: a line a student, a column an assignment; words where there is no score. */
export function gradebookAsCsv({ assignments, rows }: Gradebook): string {
  const cellText = (cell: GradebookCell | null): string =>
    cell === null
      ? ''
      : cell.state === 'graded' || cell.state === 'to-review'
        ? String(cell.score ?? '')
        : WORDS[cell.state];
  return writeTable([
    [
      'Name',
      'Sign-in name',
      'Section',
      ...assignments.map(({ number, title, section }) => `${number} ${title} (${section})`),
      'Mean',
    ],
    ...rows.map(({ name, login, section, cells, total }) => [
      name,
      login,
      section,
      ...cells.map(cellText),
      total === null ? '' : String(total),
    ]),
  ]);
}
