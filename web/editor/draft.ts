import { useCallback, useEffect, useReducer, useRef, useState } from 'react';
import { useBlocker } from 'react-router';
import * as v from 'valibot';

import { ConflictSchema, type DraftDetail } from '#api';
import type { Exercise } from '#core/exercise';
import { failureText, useSaveDraftMutation } from '#web/api';

import { changed, historyOf, redone, undone, type History } from './history.ts';

type Action =
  | { readonly kind: 'change'; readonly change: (exercise: Exercise) => Exercise; readonly topic: string | null }
  | { readonly kind: 'undo' | 'redo' }
  | { readonly kind: 'replace'; readonly exercise: Exercise };

function reduce(history: History<Exercise>, action: Action): History<Exercise> {
  switch (action.kind) {
    case 'change':
      return changed(history, action.change(history.present), action.topic);
    case 'undo':
      return undone(history);
    case 'redo':
      return redone(history);
    case 'replace':
      return changed(history, action.exercise);
  }
}

export type SaveState =
  | { readonly kind: 'saved'; readonly at: string }
  | { readonly kind: 'saving' }
  | { readonly kind: 'failed'; readonly message: string }
  | { readonly kind: 'conflict'; readonly version: number; readonly by: string; readonly at: string };

const PAUSE_MS = 700;

/** The exercise that is being edited: its history, and its saving while it is typed. */
export function useDraft(draft: DraftDetail) {
  const [history, dispatch] = useReducer(reduce, draft.document, historyOf);
  const [save] = useSaveDraftMutation();
  const [state, setState] = useState<SaveState>({ kind: 'saved', at: draft.updatedAt });
  const [version, setVersion] = useState(draft.version);
  const [stored, setStored] = useState(draft.document);
  const busy = useRef(false);
  const { present } = history;
  const conflict = state.kind === 'conflict';
  const unsaved = present !== stored;
  const leaving = useBlocker(
    ({ currentLocation, nextLocation }) => unsaved && currentLocation.pathname !== nextLocation.pathname,
  );
  const pauseMs = leaving.state === 'blocked' ? 0 : PAUSE_MS;

  const store = useCallback(
    async (document: Exercise, basis: number): Promise<void> => {
      busy.current = true;
      // A failure stays in sight while it is tried again.
      setState((before) => (before.kind === 'failed' ? before : { kind: 'saving' }));
      const answer = await save({ id: draft.id, version: basis, document });
      busy.current = false;
      if (answer.data) {
        setVersion(answer.data.version);
        setStored(document);
        setState({ kind: 'saved', at: answer.data.updatedAt });
        return;
      }
      const other = v.safeParse(ConflictSchema, (answer.error as { data?: unknown } | undefined)?.data);
      setState(
        other.success
          ? { kind: 'conflict', version: other.output.version, by: other.output.updatedBy, at: other.output.updatedAt }
          : { kind: 'failed', message: failureText(answer.error) },
      );
    },
    [draft.id, save],
  );

  useEffect(() => {
    if ((!unsaved && state.kind !== 'failed') || conflict || state.kind === 'saving') return undefined;
    const timer = setTimeout(
      () => {
        if (!busy.current) void store(present, version);
      },
      state.kind === 'failed' ? 5 * PAUSE_MS : pauseMs,
    );
    return () => {
      clearTimeout(timer);
    };
  }, [present, unsaved, conflict, state, version, pauseMs, store]);

  useEffect(() => {
    if (leaving.state === 'blocked' && !unsaved) leaving.proceed();
  }, [leaving, unsaved]);

  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (unsaved) event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => {
      window.removeEventListener('beforeunload', warn);
    };
  }, [unsaved]);

  return {
    exercise: present,
    change: useCallback((change: (exercise: Exercise) => Exercise, topic: string | null = null) => {
      dispatch({ kind: 'change', change, topic });
    }, []),
    undo: history.past.length > 0 ? () => dispatch({ kind: 'undo' }) : null,
    redo: history.future.length > 0 ? () => dispatch({ kind: 'redo' }) : null,
    /** What is typed counts as being saved from the first letter on. */
    state: unsaved && state.kind === 'saved' ? ({ kind: 'saving' } as const) : state,
    /** Going to another page, which waits until everything is stored. */
    leaving,
    version,
    /** Stores this version over the one that somebody else saved. */
    keepMine: () => {
      if (state.kind === 'conflict') void store(present, state.version);
    },
    /** Takes the version that somebody else saved; this one can be had back with undo. */
    takeTheirs: (theirs: DraftDetail) => {
      dispatch({ kind: 'replace', exercise: theirs.document });
      setStored(theirs.document);
      setVersion(theirs.version);
      setState({ kind: 'saved', at: theirs.updatedAt });
    },
  };
}
export type Draft = ReturnType<typeof useDraft>;
