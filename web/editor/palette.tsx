import { useState } from 'react';

import { OPERATIONS, operationName, operationOf, type Operation } from '#core/recipe';
import { Dialog } from '#web/ui';

/** Chooses the operation of a new step: type to search, Enter takes the first. */
export function Palette({
  open,
  operations = OPERATIONS,
  onClose,
  onChoose,
}: {
  open: boolean;
  operations?: readonly Operation[] | undefined;
  onClose: () => void;
  onChoose: (operation: Operation) => void;
}) {
  const [query, setQuery] = useState('');
  const wanted = query.trim().toLowerCase();
  const found = operations.filter((operation) =>
    `${operationName(operation)} ${operation} ${operationOf(operation).searchWords}`.toLowerCase().includes(wanted),
  );
  const choose = (operation: Operation) => {
    setQuery('');
    onChoose(operation);
  };
  return (
    <Dialog
      open={open}
      onClose={onClose}
      title="Add a step"
      description="It comes after the chosen step, or at the end. Type a word to search."
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          const [first] = found;
          if (first !== undefined) choose(first);
        }}
      >
        <input
          aria-label="Search operations"
          value={query}
          className="mb-2 h-9 w-full border border-ink/60 bg-paper px-2"
          onChange={(event) => {
            setQuery(event.target.value);
          }}
        />
      </form>
      <ul className="grid grid-cols-2 gap-1" data-testid="palette">
        {found.map((operation) => (
          <li key={operation}>
            <button
              type="button"
              className="w-full cursor-pointer border border-rule px-2 py-1.5 text-left hover:border-accent hover:bg-accent-soft"
              onClick={() => {
                choose(operation);
              }}
            >
              {operationName(operation)}
            </button>
          </li>
        ))}
        {found.length === 0 && <li className="text-soft">No operation is called that.</li>}
      </ul>
    </Dialog>
  );
}
