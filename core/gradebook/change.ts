import { gradebookOf, sharesInWords, type GradebookInput, type GradebookRow } from './gradebook.ts';
import type { GradingScheme } from './scheme.ts';

/** What another scheme makes of one student's grade. */
export interface GradeChange {
  readonly id: number;
  readonly name: string;
  readonly before: Pick<GradebookRow, 'total' | 'letter'>;
  readonly after: Pick<GradebookRow, 'total' | 'letter'>;
  /** How the new total comes about, a sentence a group. */
  readonly why: readonly string[];
  /** Assignments that are left out as the lowest now and were not, and that count again. */
  readonly nowLeft: readonly number[];
  readonly countAgain: readonly number[];
}

const leftOf = ({ shares }: GradebookRow): readonly number[] => shares.flatMap(({ left }) => left);

/** Whose grade another scheme changes, in the order of the gradebook; scores stay as they are. */
export function gradeChanges(
  book: GradebookInput,
  scheme: GradingScheme,
  groupOf: ReadonlyMap<number, string | null>,
): readonly GradeChange[] {
  const { rows } = gradebookOf(book);
  const after = gradebookOf({
    assignments: book.assignments.map((one) => ({ ...one, groupId: groupOf.get(one.id) ?? null })),
    scheme,
    students: book.students,
  });
  return after.rows.flatMap((row, i): GradeChange[] => {
    const before = rows[i];
    if (before === undefined || (row.total === before.total && row.letter === before.letter)) return [];
    const [was, is] = [leftOf(before), leftOf(row)];
    return [
      {
        id: row.id,
        name: row.name,
        before: { total: before.total, letter: before.letter },
        after: { total: row.total, letter: row.letter },
        why: sharesInWords(row),
        nowLeft: is.filter((id) => !was.includes(id)),
        countAgain: was.filter((id) => !is.includes(id)),
      },
    ];
  });
}
