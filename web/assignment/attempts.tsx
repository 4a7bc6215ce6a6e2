import {
  columnFilteringFeature,
  createColumnHelper,
  createFilteredRowModel,
  createPaginatedRowModel,
  createSortedRowModel,
  filterFn_includesString,
  rowPaginationFeature,
  rowSortingFeature,
  sortFn_alphanumeric,
  sortFn_basic,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { ArrowDown, ArrowUp, ChevronLeft, ChevronRight } from 'lucide-react';
import { useId } from 'react';
import { Link } from 'react-router';

import type { AttemptRow } from '#api';
import { useAppSelector } from '#web/store';
import { Button, dateTime, Empty, ScoreBar, StateMark } from '#web/ui';

/** A class with its attempts fits; of larger ones no browser wants all rows at once. */
const ROWS_A_PAGE = 40;
/** From here on somebody is looked for by name. */
const MANY_ROWS = 20;

const features = tableFeatures({
  rowSortingFeature,
  columnFilteringFeature,
  rowPaginationFeature,
  sortedRowModel: createSortedRowModel(),
  filteredRowModel: createFilteredRowModel(),
  paginatedRowModel: createPaginatedRowModel(),
  filterFns: { includesString: filterFn_includesString },
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
    filterFn: 'includesString',
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
    // Attempts that arrive do not turn the page under the reader.
    autoResetPageIndex: false,
    initialState: {
      sorting: [{ id: 'handedInAt', desc: true }],
      pagination: { pageIndex: 0, pageSize: ROWS_A_PAGE },
    },
  });
  const found = table.getFilteredRowModel().rows.length;
  const first = table.state.pagination.pageIndex * ROWS_A_PAGE;
  const name = table.getColumn('student');
  return (
    <>
      {attempts.length > MANY_ROWS && (
        <FindStudent
          onChange={(words) => {
            name?.setFilterValue(words);
            table.setPageIndex(0);
          }}
        />
      )}
      {found === 0 && <Empty>No student of that name has handed in.</Empty>}
      <Rows table={table} />
      {found > ROWS_A_PAGE && (
        <div className="flex items-center justify-end gap-2 border-t border-rule px-3 py-1.5">
          <span className="caption" role="status">
            {`${String(first + 1)} to ${String(Math.min(first + ROWS_A_PAGE, found))} of ${String(found)}`}
          </span>
          <Button
            aria-label="Previous attempts"
            disabled={!table.getCanPreviousPage()}
            onClick={() => {
              table.previousPage();
            }}
          >
            <ChevronLeft size={14} aria-hidden />
          </Button>
          <Button
            aria-label="Next attempts"
            disabled={!table.getCanNextPage()}
            onClick={() => {
              table.nextPage();
            }}
          >
            <ChevronRight size={14} aria-hidden />
          </Button>
        </div>
      )}
    </>
  );
}

function FindStudent({ onChange }: { onChange: (words: string) => void }) {
  const id = useId();
  return (
    <div className="flex items-center gap-2 border-b border-rule px-3 py-1.5">
      <label htmlFor={id} className="caption">
        Find a student
      </label>
      <input
        id={id}
        type="search"
        className="h-7 w-56 border border-ink/60 bg-paper px-2"
        onChange={(event) => {
          onChange(event.target.value.trim());
        }}
      />
    </div>
  );
}

type AttemptTableState = ReturnType<typeof useTable<typeof features, AttemptRow>>;

function Rows({ table }: { table: AttemptTableState }) {
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
