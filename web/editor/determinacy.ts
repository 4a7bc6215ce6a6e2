import { useEffect, useRef, useState } from 'react';

import type { OpenSizes } from '#core/determinacy';
import type { Exercise } from '#core/exercise';
import { openWorkshop, SUPERSEDED, type WorkshopClient } from '#web/workshop';

/** What is known of whether sheet and plan determine the part. */
export type DeterminacyState =
  /** A part from a file has no numbers that could be varied. */
  | { readonly kind: 'not-of-recipe' }
  /** `total` is 0 before the first part is built. */
  | { readonly kind: 'building'; readonly done: number; readonly total: number }
  | { readonly kind: 'known'; readonly open: OpenSizes }
  | { readonly kind: 'failed'; readonly message: string };

/** Typing is not interrupted by studies of what is being typed. */
const QUIET_MS = 700;

/**
 * Studies what the sheet leaves open, in a worker beside the one that draws: anew whenever plan or notes change, and from
 * the beginning when the recipe does.
 */
export function useDeterminacy(exerciseId: number, exercise: Exercise): DeterminacyState {
  const [state, setState] = useState<DeterminacyState>({ kind: 'building', done: 0, total: 0 });
  const study = useRef<{ readonly client: WorkshopClient; readonly recipe: Exercise['recipe'] } | null>(null);
  const latest = useRef(exercise);
  useEffect(() => {
    latest.current = exercise;
  });
  const { recipe, checks, notes, model } = exercise;
  useEffect(() => {
    if (model !== undefined) return undefined;
    let isCurrent = true;
    const timer = setTimeout(() => {
      if (study.current !== null && study.current.recipe !== recipe) {
        study.current.client.close();
        study.current = null;
      }
      study.current ??= { client: openWorkshop(exerciseId), recipe };
      const { client } = study.current;
      const onProgress = (done: number, total: number): void => {
        if (isCurrent) setState({ kind: 'building', done, total });
      };
      void client.ask<'determine'>({ kind: 'determine', exercise: latest.current }, onProgress).then((result) => {
        if (!isCurrent || (!result.ok && result.problem.code === SUPERSEDED)) return;
        setState(
          result.ok ? { kind: 'known', open: result.value } : { kind: 'failed', message: result.problem.message },
        );
      });
    }, QUIET_MS);
    return () => {
      isCurrent = false;
      clearTimeout(timer);
    };
  }, [exerciseId, recipe, checks, notes, model]);
  useEffect(
    () => () => {
      study.current?.client.close();
      study.current = null;
    },
    [],
  );
  return model === undefined ? state : { kind: 'not-of-recipe' };
}
