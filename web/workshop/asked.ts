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

export interface AskOptions<K extends RequestKind, B, T> {
  /** Makes what is shown of an answer and of what was shown before; the answer itself where it is not given. */
  readonly combine?: (before: T | null, answer: Answers[K], basis: B) => T;
  /** How far the answer to a question is. */
  readonly onProgress?: (done: number, total: number, basis: B) => void;
}

/**
 * Asks the workshop whenever `basis` changes, with the request of that moment; null asks nothing. An answer that a newer
 * question has taken the place of, or that comes when nobody looks any more, is dropped.
 */
export function useAsked<K extends RequestKind, B extends object, T = Answers[K]>(
  workshop: WorkshopClient,
  basis: B | null,
  requestOf: (basis: B) => RequestOf<K>,
  options: AskOptions<K, B, T> = {},
): Asked<T, B> {
  const [asked, setAsked] = useState<Asked<T, B>>({ value: null, problem: null, of: null });
  const latest = useRef({ requestOf, ...options });
  useEffect(() => {
    latest.current = { requestOf, ...options };
  });
  useEffect(() => {
    if (basis === null) return undefined;
    let isCurrent = true;
    const onProgress = (done: number, total: number): void => {
      if (isCurrent) latest.current.onProgress?.(done, total, basis);
    };
    void workshop.ask<K>(latest.current.requestOf(basis), onProgress).then((result) => {
      if (!isCurrent || (!result.ok && result.problem.code === SUPERSEDED)) return;
      setAsked(({ value }) =>
        result.ok
          ? {
              value: latest.current.combine?.(value, result.value, basis) ?? (result.value as unknown as T),
              problem: null,
              of: basis,
            }
          : { value, problem: result.problem, of: basis },
      );
    });
    return () => {
      isCurrent = false;
    };
  }, [workshop, basis]);
  return asked;
}
