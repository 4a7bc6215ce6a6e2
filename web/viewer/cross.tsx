import type { ViewName } from './scene.ts';

interface Cell {
  readonly view: ViewName;
  readonly column: number;
  readonly row: number;
  readonly label: string;
}

/** The six views where third-angle projection puts them on a sheet: the box of the part, unfolded. */
const CELLS: readonly Cell[] = [
  { view: 'top', column: 2, row: 1, label: 'Top' },
  { view: 'left', column: 1, row: 2, label: 'Left' },
  { view: 'front', column: 2, row: 2, label: 'Front' },
  { view: 'right', column: 3, row: 2, label: 'Right' },
  { view: 'back', column: 4, row: 2, label: 'Back' },
  { view: 'bottom', column: 2, row: 3, label: 'Bottom' },
  { view: 'isometric', column: 4, row: 1, label: 'Iso' },
];

/** Chooses a named view on an unfolded cross. */
export function ViewCross({ onChoose }: { onChoose: (view: ViewName) => void }) {
  return (
    <div role="group" aria-label="Named views" className="grid grid-cols-4 gap-px">
      {CELLS.map(({ view, column, row, label }) => (
        <button
          key={view}
          type="button"
          className="h-6 w-11 cursor-pointer border border-ink/50 bg-paper text-2xs hover:bg-accent-soft"
          style={{ gridColumn: column, gridRow: row }}
          onClick={() => {
            onChoose(view);
          }}
        >
          {label}
        </button>
      ))}
    </div>
  );
}
