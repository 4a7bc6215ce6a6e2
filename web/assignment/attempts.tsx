import {
  createColumnHelper,
  createSortedRowModel,
  rowSortingFeature,
  sortFn_alphanumeric,
  sortFn_basic,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { Link } from 'react-router';

import type { AttemptRow } from '#api';
import { useAppSelector } from '#web/store';
import { dateTime, ScoreBar, StateMark } from '#web/ui';

const features = tableFeatures({
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns: { alphanumeric: sortFn_alphanumeric, basic: sortFn_basic },
});

const column = createColumnHelper<typeof features, AttemptRow>();

function State({ row }: { row: AttemptRow }) {
  const progress = useAppSelector((state) => state.progress[row.id]);
  return row.state === 'running' && progress?.stage ? (
    <span>
      <StateMark state="running" /> <span className="caption">{progress.stage}</span>
    </span>
  ) : (
    <StateMark state={row.state} />
  );
}

/** Where the review of an attempt stands. */
const reviewWords = ({ state, accepted, released }: AttemptRow): string =>
  state !== 'graded' ? '' : [accepted ? 'accepted' : 'open', ...(released ? [] : ['held back'])].join(', ');

const columns = column.columns([
  column.accessor('student', {
    header: 'Student',
    sortFn: 'alphanumeric',
    cell: ({ row }) => (
      <Link to={`/attempts/${String(row.original.id)}`} className="font-medium underline-offset-2 hover:underline">
        {row.original.student}
      </Link>
    ),
  }),
  column.accessor('number', {
    header: 'Attempt',
    sortFn: 'basic',
    cell: ({ getValue, row: { original } }) =>
      `${String(getValue() ?? 'not counted')}${original.stage > 1 ? `, stage ${String(original.stage)}` : ''}`,
  }),
  column.accessor('handedInAt', { header: 'Handed in', sortFn: 'basic', cell: ({ getValue }) => dateTime(getValue()) }),
  column.accessor('state', {
    header: 'State',
    sortFn: 'alphanumeric',
    cell: ({ row }) => <State row={row.original} />,
  }),
  column.accessor((row) => row.score ?? -1, {
    id: 'score',
    header: 'Score',
    sortFn: 'basic',
    cell: ({ row }) => (row.original.score === null ? '' : <ScoreBar score={row.original.score} />),
  }),
  column.accessor((row) => reviewWords(row), {
    id: 'review',
    header: 'Review',
    sortFn: 'alphanumeric',
    cell: ({ getValue }) => <span className="caption">{getValue()}</span>,
  }),
  column.accessor((row) => row.finding ?? '', {
    id: 'finding',
    header: 'Finding',
    enableSorting: false,
    cell: ({ getValue }) => <span className="line-clamp-2">{getValue()}</span>,
  }),
]);

/** Attempts as they arrive, newest first; each column can be sorted. */
export function AttemptTable({ attempts }: { attempts: AttemptRow[] }) {
  const table = useTable({
    features,
    columns,
    data: attempts,
    getRowId: (row) => String(row.id),
    initialState: { sorting: [{ id: 'handedInAt', desc: true }] },
  });
  return (
    <table className="w-full border-collapse text-sm" data-testid="attempts">
      <thead className="text-left text-xs">
        {table.getHeaderGroups().map((group) => (
          <tr key={group.id} className="border-b border-rule">
            {group.headers.map((header) => {
              const sorted = header.column.getIsSorted();
              return (
                <th
                  key={header.id}
                  className="px-3 py-1.5 font-normal"
                  aria-sort={sorted === 'asc' ? 'ascending' : sorted === 'desc' ? 'descending' : 'none'}
                >
                  {header.column.getCanSort() ? (
                    <button
                      type="button"
                      className="inline-flex cursor-pointer items-center gap-1 text-soft hover:text-ink"
                      onClick={header.column.getToggleSortingHandler()}
                    >
                      <table.FlexRender header={header} />
                      {sorted === 'asc' && <ArrowUp size={11} aria-hidden />}
                      {sorted === 'desc' && <ArrowDown size={11} aria-hidden />}
                    </button>
                  ) : (
                    <span className="text-soft">
                      <table.FlexRender header={header} />
                    </span>
                  )}
                </th>
              );
            })}
          </tr>
        ))}
      </thead>
      <tbody>
        {table.getRowModel().rows.map((row) => (
          <tr
            key={row.id}
            className="border-t border-rule align-middle hover:bg-accent-soft"
            data-state={row.original.state}
          >
            {row.getAllCells().map((cell) => (
              <td key={cell.id} className={`px-3 py-1.5 ${cell.column.id === 'finding' ? '' : 'whitespace-nowrap'}`}>
                <table.FlexRender cell={cell} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
