import { useEffect, useRef, useState } from 'react';

import type { Problem } from '#core/problem';

import { SUPERSEDED, type WorkshopClient } from './client.ts';
import type { Answers, Request, RequestKind } from './protocol.ts';

type RequestOf<K extends RequestKind> = Extract<Request, { kind: K }>;

/** What the workshop said last. */
export interface Asked<T, B> {
  /** The last answer; a problem leaves it in sight. */
  readonly value: T | null;
  /** Null where the last question was answered. */
  readonly problem: Problem | null;
  /** What the answer or problem is about; null before the first. */
  readonly of: B | null;
}

/**
 * Asks the workshop whenever `basis` changes, with the request of that moment; null asks nothing. An answer that a newer
 * question has taken the place of, or that comes when nobody looks any more, is dropped. `combine` makes what is shown of
 * an answer and of what was shown before.
 */
export function useAsked<K extends RequestKind, B extends object, T = Answers[K]>(
  workshop: WorkshopClient,
  basis: B | null,
  requestOf: (basis: B) => RequestOf<K>,
  combine: (before: T | null, answer: Answers[K], basis: B) => T = (_, answer) => answer as unknown as T,
): Asked<T, B> {
  const [asked, setAsked] = useState<Asked<T, B>>({ value: null, problem: null, of: null });
  const latest = useRef({ requestOf, combine });
  useEffect(() => {
    latest.current = { requestOf, combine };
  });
  useEffect(() => {
    if (basis === null) return undefined;
    let isCurrent = true;
    void workshop.ask<K>(latest.current.requestOf(basis)).then((result) => {
      if (!isCurrent || (!result.ok && result.problem.code === SUPERSEDED)) return;
      setAsked(({ value }) =>
        result.ok
          ? { value: latest.current.combine(value, result.value, basis), problem: null, of: basis }
          : { value, problem: result.problem, of: basis },
      );
    });
    return () => {
      isCurrent = false;
    };
  }, [workshop, basis]);
  return asked;
}
