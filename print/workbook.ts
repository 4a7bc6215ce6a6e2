/** The gradebook as a workbook whose totals are formulas, so that whoever gets it sees how they come about. */
import writeExcelFile from 'write-excel-file/node';
import type { Cell, Row } from 'write-excel-file/node';

import { columnTitle, groupOf, type Gradebook, type GradebookCell, type GradeGroup } from '#core/gradebook';

const FIRST_COLUMNS = ['Name', 'Sign-in name', 'Section'] as const;
const HEAD_ROWS = 2;
const SCORE_FORMAT = '0.0';
/** A score of 0 that nobody measured shows as this word and counts as the number. */
const MISSING_FORMAT = '"missing"';

/** The name of a column by its place, from 0: A, B ... Z, AA. */
export function columnName(place: number): string {
  const letter = String.fromCharCode(65 + (place % 26));
  return place < 26 ? letter : columnName(Math.floor(place / 26) - 1) + letter;
}

/** A formula as the file holds it: without the equals sign that a spreadsheet puts in front of it. */
const formula = (value: string, format = SCORE_FORMAT): Cell => ({ type: 'Formula', value, format });
const bold = (value: string): Cell => ({ value, type: String, fontWeight: 'bold' });

/**
 * The mean of a range without its lowest scores, of which one always counts; empty where nothing counts. What is excused or
 * open is no number there, and counts nothing.
 */
export function meanFormula(range: string, dropLowest: number): string {
  if (dropLowest === 0) return `IF(COUNT(${range})=0,"",AVERAGE(${range}))`;
  const lowest = Array.from({ length: dropLowest }, (_, i) => `-SMALL(${range},${String(i + 1)})`).join('');
  const rest = `(SUM(${range})${lowest})/(COUNT(${range})-${String(dropLowest)})`;
  return `IF(COUNT(${range})=0,"",IF(COUNT(${range})<=${String(dropLowest)},MAX(${range}),${rest}))`;
}

function scoreCell(cell: GradebookCell | undefined): Cell {
  if (cell === undefined) return null;
  if (cell.state === 'missing') return { value: 0, type: Number, format: MISSING_FORMAT };
  // Words beside numbers: formulas pass over them.
  if (cell.state === 'excused' || cell.state === 'absent') return { value: cell.state, type: String };
  if (cell.score === null) return null;
  return { value: cell.score, type: Number, format: SCORE_FORMAT };
}

/** The workbook: grades, and how they are made up. */
export async function renderWorkbook({ assignments, scheme, rows }: Gradebook): Promise<Uint8Array> {
  const groups: readonly (GradeGroup | null)[] = scheme.groups.length === 0 ? [null] : scheme.groups;
  // Assignments of one group stand side by side, so that a range holds them.
  const ordered = groups.map((group) => ({
    group,
    members: assignments.filter(({ groupId }) => groupOf(groupId, scheme) === group),
  }));
  let place: number = FIRST_COLUMNS.length;
  const blocks = ordered.map(({ group, members }) => {
    const first = place;
    place += members.length;
    return { group, members, first, mean: place++ };
  });
  const [totalAt, letterAt] = [place, place + 1];
  const hasLetters = scheme.letters.length > 0;
  const groupHead: Row = [
    ...FIRST_COLUMNS.map(() => null),
    ...blocks.flatMap(({ group, members }): Cell[] => [
      ...members.map((_, i): Cell => (i === 0 && group !== null ? bold(group.name) : null)),
      null,
    ]),
  ];
  const head: Row = [
    ...FIRST_COLUMNS.map(bold),
    ...blocks.flatMap(({ group, members }) => [
      ...members.map((assignment) => bold(columnTitle(assignment))),
      bold(group === null ? 'Mean' : `${group.name}, mean`),
    ]),
    bold('Total'),
    ...(hasLetters ? [bold('Grade')] : []),
  ];
  const lines = rows.map((row, i): Row => {
    const line = String(i + HEAD_ROWS + 1);
    const at = (column: number): string => `${columnName(column)}${line}`;
    const weighted = (text: (mean: string, weight: string) => string): string =>
      blocks.map(({ group, mean }) => text(at(mean), String(group?.weight ?? 1))).join('+');
    const weights = weighted((mean, weight) => `IF(ISNUMBER(${mean}),${weight},0)`);
    const sum = weighted((mean, weight) => `IF(ISNUMBER(${mean}),${mean}*${weight},0)`);
    const scale = [...scheme.letters].reverse();
    const from = scale.map((letter) => String(letter.from)).join(',');
    const names = scale.map(({ letter }) => `"${letter.replaceAll('"', '""')}"`).join(',');
    return [
      { value: row.name, type: String },
      { value: row.login, type: String },
      { value: row.section, type: String },
      ...blocks.flatMap(({ group, members, first, mean }): Cell[] => [
        ...members.map(({ id }) => scoreCell(row.cells.get(id))),
        members.length === 0 ? null : formula(meanFormula(`${at(first)}:${at(mean - 1)}`, group?.dropLowest ?? 0)),
      ]),
      formula(`IF((${weights})=0,"",ROUND((${sum})/(${weights}),1))`),
      ...(hasLetters
        ? [formula(`IF(${at(totalAt)}="","",LOOKUP(${at(totalAt)},{${from}},{${names}}))`, 'General')]
        : []),
    ];
  });
  const widths = Array.from({ length: letterAt + 1 }, (_, i) => ({ width: i === 0 ? 26 : 14 }));
  const made = await writeExcelFile([
    {
      data: [groupHead, head, ...lines],
      sheet: 'Grades',
      columns: widths,
      stickyRowsCount: HEAD_ROWS,
      stickyColumnsCount: 1,
    },
    { data: schemeSheet(scheme), sheet: 'How it counts', columns: [{ width: 26 }, { width: 14 }, { width: 18 }] },
  ]).toBuffer();
  return new Uint8Array(made);
}

function schemeSheet({ groups, letters }: Gradebook['scheme']): Row[] {
  const number = (value: number): Cell => ({ value, type: Number });
  return [
    [{ value: 'What is missing counts as 0; what is excused or still open does not count.', type: String }],
    [],
    ...(groups.length === 0
      ? [[{ value: 'All assignments count alike.', type: String }] satisfies Row]
      : [
          [bold('Group'), bold('Weight'), bold('Lowest left out')],
          ...groups.map(({ name, weight, dropLowest }): Row => [
            { value: name, type: String },
            number(weight),
            number(dropLowest),
          ]),
        ]),
    ...(letters.length === 0
      ? []
      : [
          [] satisfies Row,
          [bold('Grade'), bold('From')],
          ...letters.map(({ letter, from }): Row => [{ value: letter, type: String }, number(from)]),
        ]),
  ];
}
