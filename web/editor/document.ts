import { useCallback, useEffect, useReducer, useRef, useState } from 'react';
import { useBlocker } from 'react-router';
import * as v from 'valibot';

import { ConflictSchema, type Saved } from '#api';
import { failureText } from '#web/api';

import { changed, historyOf, redone, undone, type History } from './history.ts';

/** A document as it is stored; `version` counts the saves. */
export interface Stored<T> {
  readonly document: T;
  readonly version: number;
  readonly updatedAt: string;
}

/** Stores a document over the version that it was made from. */
export type Save<T> = (
  version: number,
  document: T,
) => Promise<{ readonly data?: Saved | undefined; readonly error?: unknown }>;

type Action<T> =
  | { readonly kind: 'change'; readonly change: (document: T) => T; readonly topic: string | null }
  | { readonly kind: 'undo' | 'redo' }
  | { readonly kind: 'replace'; readonly document: T };

function reduce<T>(history: History<T>, action: Action<T>): History<T> {
  switch (action.kind) {
    case 'change':
      return changed(history, action.change(history.present), action.topic);
    case 'undo':
      return undone(history);
    case 'redo':
      return redone(history);
    case 'replace':
      return changed(history, action.document);
  }
}

export type SaveState =
  | { readonly kind: 'saved'; readonly at: string }
  | { readonly kind: 'saving' }
  | { readonly kind: 'failed'; readonly message: string }
  | { readonly kind: 'conflict'; readonly version: number; readonly by: string; readonly at: string };

const PAUSE_MS = 700;

/** A document that is being edited: its history, and its saving while it is typed. */
export function useDocument<T>(opened: Stored<T>, save: Save<T>) {
  const [history, dispatch] = useReducer(reduce<T>, opened.document, historyOf);
  const [state, setState] = useState<SaveState>({ kind: 'saved', at: opened.updatedAt });
  const [version, setVersion] = useState(opened.version);
  const [stored, setStored] = useState(opened.document);
  const busy = useRef(false);
  const saving = useRef(save);
  useEffect(() => {
    saving.current = save;
  });
  const { present } = history;
  const conflict = state.kind === 'conflict';
  const unsaved = present !== stored;
  const leaving = useBlocker(
    ({ currentLocation, nextLocation }) => unsaved && currentLocation.pathname !== nextLocation.pathname,
  );
  const pauseMs = leaving.state === 'blocked' ? 0 : PAUSE_MS;

  const store = useCallback(async (document: T, basis: number): Promise<void> => {
    busy.current = true;
    // A failure stays in sight while it is tried again.
    setState((before) => (before.kind === 'failed' ? before : { kind: 'saving' }));
    const answer = await saving.current(basis, document);
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
  }, []);

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
    document: present,
    change: useCallback((change: (document: T) => T, topic: string | null = null) => {
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
    takeTheirs: (theirs: Stored<T>) => {
      dispatch({ kind: 'replace', document: theirs.document });
      setStored(theirs.document);
      setVersion(theirs.version);
      setState({ kind: 'saved', at: theirs.updatedAt });
    },
  };
}
export type EditedDocument<T> = ReturnType<typeof useDocument<T>>;
