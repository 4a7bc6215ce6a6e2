/** A document with everything that can be undone and done again. Undo goes back without limit. */
export interface History<T> {
  readonly past: readonly T[];
  readonly present: T;
  readonly future: readonly T[];
  /** What the last change was about; a change of the same again, such as typing on, is one step of undo. */
  readonly topic: string | null;
}

export const historyOf = <T>(present: T): History<T> => ({ past: [], present, future: [], topic: null });

/** The history after a change. With the topic of the change before, it takes that one's place. */
export function changed<T>(history: History<T>, present: T, topic: string | null = null): History<T> {
  if (present === history.present) return history;
  const goesOn = topic !== null && topic === history.topic && history.future.length === 0;
  return {
    past: goesOn ? history.past : [...history.past, history.present],
    present,
    future: [],
    topic,
  };
}

export function undone<T>(history: History<T>): History<T> {
  const previous = history.past.at(-1);
  if (previous === undefined) return history;
  return {
    past: history.past.slice(0, -1),
    present: previous,
    future: [history.present, ...history.future],
    topic: null,
  };
}

export function redone<T>(history: History<T>): History<T> {
  const [next, ...future] = history.future;
  if (next === undefined) return history;
  return { past: [...history.past, history.present], present: next, future, topic: null };
}
