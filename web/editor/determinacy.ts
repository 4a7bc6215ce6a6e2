import { useEffect, useMemo, useState } from 'react';

import type { Check } from '#core/check';
import type { OpenSizes } from '#core/determinacy';
import type { Exercise } from '#core/exercise';
import type { Result } from '#core/problem';
import { openWorkshop, useAsked } from '#web/workshop';

/** What is known of whether sheet and plan determine the part. */
export type DeterminacyState =
  /** A part from a file has no numbers that could be varied. */
  | { readonly kind: 'not-of-recipe' }
  /** `total` is 0 before the first part is built; `last` is what was open before the plan changed. */
  | { readonly kind: 'building'; readonly done: number; readonly total: number; readonly last: OpenSizes | null }
  | { readonly kind: 'known'; readonly open: OpenSizes }
  | { readonly kind: 'failed'; readonly message: string };

interface DeterminacyStudied {
  readonly state: DeterminacyState;
  /** The plan with what settles the open sizes. */
  readonly complete: () => Promise<Result<readonly Check[]>>;
}

/** Typing is not interrupted by studies of what is being typed. */
const QUIET_MS = 700;

/** A value, once it has been the same for a while; the first one at once. */
function useQuiet<T>(value: T): T {
  const [quiet, setQuiet] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => {
      setQuiet(value);
    }, QUIET_MS);
    return () => {
      clearTimeout(timer);
    };
  }, [value]);
  return quiet;
}

/**
 * Studies what the sheet leaves open, in a workshop beside the one that draws: anew whenever plan or notes change, and
 * from the beginning, in a new one, when the recipe does. A part from a file has no recipe that could be varied.
 */
export function useDeterminacy(exerciseId: number, exercise: Exercise): DeterminacyStudied {
  const { recipe, checks, notes, model } = exercise;
  const basis = useMemo(() => ({ recipe, checks, notes }), [recipe, checks, notes]);
  const quiet = useQuiet(basis);
  const study = useMemo(
    () => ({ recipe: quiet.recipe, workshop: openWorkshop(exerciseId) }),
    [exerciseId, quiet.recipe],
  );
  useEffect(
    () => () => {
      study.workshop.close();
    },
    [study],
  );
  const [progress, setProgress] = useState({ done: 0, total: 0, of: basis });
  const isStudied = model === undefined;
  const { value, problem, of } = useAsked<'determine', typeof basis>(
    study.workshop,
    isStudied ? quiet : null,
    (asked) => ({ kind: 'determine', exercise: { ...exercise, ...asked } }),
    {
      onProgress: (done, total, asked) => {
        setProgress({ done, total, of: asked });
      },
    },
  );
  const stateNow = (): DeterminacyState => {
    if (model !== undefined) return { kind: 'not-of-recipe' };
    if (of === basis && problem !== null) return { kind: 'failed', message: problem.message };
    if (of === basis && value !== null) return { kind: 'known', open: value };
    const { done, total } = progress.of === basis ? progress : { done: 0, total: 0 };
    return { kind: 'building', done, total, last: of?.recipe === recipe ? value : null };
  };
  return {
    state: stateNow(),
    complete: () => study.workshop.ask<'complete'>({ kind: 'complete', exercise }),
  };
}
