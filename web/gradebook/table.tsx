import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { Link } from 'react-router';

import type { GradebookAnswer } from '#api';
import { formatFixed } from '#core/quantity';

import { Cell } from './cell.tsx';

type Row = GradebookAnswer['rows'][number];

/** Height of a row, px: two lines of text. It is the same for all, so that the table does not jump. */
const ROW_PX = 46;
/** Rows beyond the visible ones that are drawn. */
const OVERSCAN = 8;

interface GradeTableProps {
  readonly courseId: number;
  readonly book: Pick<GradebookAnswer, 'assignments' | 'scheme'>;
  readonly rows: readonly Row[];
  /** Another table is on its way. */
  readonly isStale: boolean;
}

/** Students by assignments; only the rows that can be seen are drawn. */
export function GradeTable({ courseId, book, rows, isStale }: GradeTableProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: OVERSCAN,
    initialRect: { width: 1200, height: 700 },
  });
  const drawn = virtual.getVirtualItems();
  const before = drawn[0]?.start ?? 0;
  const after = virtual.getTotalSize() - (drawn.at(-1)?.end ?? 0);
  const columns = book.assignments.length + 2;
  return (
    <div ref={scroller} className={`max-h-[70vh] overflow-auto panel ${isStale ? 'opacity-60' : ''}`}>
      <table className="min-w-full border-collapse text-sm" data-testid="gradebook" aria-rowcount={rows.length + 1}>
        <Head book={book} />
        <tbody>
          <Space px={before} columns={columns} />
          {drawn.map(({ index }) => {
            const row = rows[index];
            return (
              row && (
                <StudentRow
                  key={`${String(row.id)} ${row.section}`}
                  courseId={courseId}
                  book={book}
                  row={row}
                  number={index + 2}
                />
              )
            );
          })}
          <Space px={after} columns={columns} />
        </tbody>
      </table>
    </div>
  );
}

const Space = ({ px, columns }: { readonly px: number; readonly columns: number }) =>
  px > 0 && (
    <tr aria-hidden>
      <td colSpan={columns} style={{ height: px, padding: 0 }} />
    </tr>
  );

function Head({ book: { assignments, scheme } }: Pick<GradeTableProps, 'book'>) {
  const nameOf = (groupId: string | null): string | null =>
    (scheme.groups.find(({ id }) => id === groupId) ?? scheme.groups[0])?.name ?? null;
  return (
    <thead className="sticky top-0 z-10 bg-paper text-left">
      <tr className="border-b border-ink/70">
        <th scope="col" className="sticky left-0 z-10 bg-paper px-3 py-2 font-medium">
          Student
        </th>
        <th scope="col" className="px-3 py-2 text-right font-medium">
          {scheme.letters.length > 0 ? 'Grade' : 'Mean'}
        </th>
        {assignments.map(({ id, number, title, section, groupId }) => (
          <th key={id} scope="col" className="min-w-24 px-2 py-2 align-bottom font-normal">
            <Link to={`/assignments/${String(id)}`} className="block hover:underline" title={`${title}, ${section}`}>
              <b className="block font-medium">{number}</b>
              <span className="block max-w-28 truncate text-xs text-soft">{title}</span>
              {nameOf(groupId) !== null && <span className="block truncate text-xs text-soft">{nameOf(groupId)}</span>}
            </Link>
          </th>
        ))}
      </tr>
    </thead>
  );
}

interface StudentRowProps {
  readonly courseId: number;
  readonly book: GradeTableProps['book'];
  readonly row: Row;
  /** Of the whole table, from 1 with its head. */
  readonly number: number;
}

function StudentRow({ courseId, book: { assignments }, row, number }: StudentRowProps) {
  const { id, name, section, cells, total, letter, shares, left } = row;
  return (
    <tr className="border-b border-rule" style={{ height: ROW_PX }} aria-rowindex={number}>
      <th scope="row" className="sticky left-0 bg-paper px-3 py-1 text-left font-medium whitespace-nowrap">
        <Link to={`/grades/${String(courseId)}/students/${String(id)}`} className="hover:underline">
          {name}
        </Link>{' '}
        <span className="block text-xs font-normal text-soft">{section}</span>
      </th>
      <td className="px-3 text-right font-medium whitespace-nowrap tabular-nums" title={shares.join('\n')}>
        {letter !== null && <b className="mr-2">{letter}</b>}
        {total === null ? '' : formatFixed(total, 1)}
      </td>
      {assignments.map((assignment) => {
        const cell = cells.find(({ assignmentId }) => assignmentId === assignment.id);
        return (
          <td key={assignment.id} className="px-2 py-1">
            {cell !== undefined && <Cell cell={cell} isLeftOut={left.includes(assignment.id)} />}
          </td>
        );
      })}
    </tr>
  );
}
