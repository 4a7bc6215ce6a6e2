import { Redo2, Undo2 } from 'lucide-react';
import { useEffect } from 'react';

import { Button, dateTime, Dialog } from '#web/ui';

import type { EditedDocument, Stored } from './document.ts';

interface SavedDocument<T> {
  readonly edited: EditedDocument<T>;
  /** What is edited, in a sentence. */
  readonly what: 'exercise' | 'part' | 'plan';
}

/** Going elsewhere waits for the saving; where that does not succeed, it is asked. */
export function Leaving<T>({ edited: { leaving, state }, what }: SavedDocument<T>) {
  return (
    <Dialog
      open={leaving.state === 'blocked' && (state.kind === 'failed' || state.kind === 'conflict')}
      onClose={() => leaving.reset?.()}
      title="Your last changes are not saved"
      description={
        state.kind === 'conflict'
          ? `${state.by} saved this ${what} in another window. Stay, and choose which version is kept.`
          : state.kind === 'failed'
            ? `${state.message} Stay, and it is tried again.`
            : ''
      }
    >
      <div className="flex justify-end gap-2">
        <Button kind="main" onClick={() => leaving.reset?.()}>
          Stay
        </Button>
        <Button onClick={() => leaving.proceed?.()}>Leave without them</Button>
      </div>
    </Dialog>
  );
}

interface UndoAndRedoProps {
  /** Null where there is nothing to take back. */
  readonly undo: (() => void) | null;
  readonly redo: (() => void) | null;
}

export const UndoAndRedo = ({ undo, redo }: UndoAndRedoProps) => (
  <>
    <Button disabled={undo === null} onClick={() => undo?.()} title="Ctrl Z">
      <Undo2 size={14} aria-hidden /> Undo
    </Button>
    <Button disabled={redo === null} onClick={() => redo?.()} title="Ctrl Y">
      <Redo2 size={14} aria-hidden /> Redo
    </Button>
  </>
);

/** Control Z and Control Y, also within fields: a field has no history of its own. */
export function useHistoryKeys(undo: (() => void) | null, redo: (() => void) | null): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey) return;
      const key = event.key.toLowerCase();
      const work = key === 'z' && !event.shiftKey ? undo : key === 'y' || (key === 'z' && event.shiftKey) ? redo : null;
      if (work === null) return;
      event.preventDefault();
      work();
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, [undo, redo]);
}

/** Whether everything typed is stored, and what to do when it is not. */
export function Saving<T>({
  edited: { state, keepMine, takeTheirs },
  what,
  latest,
}: SavedDocument<T> & {
  /** The version that is stored now. */
  readonly latest: () => Promise<Stored<T> | null>;
}) {
  switch (state.kind) {
    case 'saved':
      return <span data-testid="saving">Saved {dateTime(state.at)}</span>;
    case 'saving':
      return <span data-testid="saving">Saving ...</span>;
    case 'failed':
      return (
        <span data-testid="saving" role="alert" className="text-wrong">
          Not saved: {state.message} It is tried again.
        </span>
      );
    case 'conflict':
      return (
        <span
          role="alert"
          data-testid="conflict"
          className="block border-l-4 border-wrong bg-wrong-soft px-3 py-2 text-ink"
        >
          {state.by} saved this {what} in another window, {dateTime(state.at)}. Nothing of yours is lost.{' '}
          <button
            type="button"
            className="cursor-pointer underline"
            onClick={() => {
              void latest().then((theirs) => {
                if (theirs) takeTheirs(theirs);
              });
            }}
          >
            Take that version
          </button>{' '}
          (undo brings yours back) or{' '}
          <button type="button" className="cursor-pointer underline" onClick={keepMine}>
            keep yours
          </button>
          .
        </span>
      );
  }
}
