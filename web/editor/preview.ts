import { useEffect, useRef, useState } from 'react';

import type { Outline } from '#core/outline';
import type { Problem } from '#core/problem';
import type { Recipe, Unfinished } from '#core/recipe';
import { SUPERSEDED, type BuiltAnswer, type OutlineAnswer, type PartPreview, type WorkshopClient } from '#web/workshop';

export interface Preview {
  /** The last part that could be built. */
  readonly part: PartPreview | null;
  readonly unfinished: Unfinished | null;
  /** A problem of the whole recipe, such as a letter without value. */
  readonly problem: Problem | null;
  /** Time of the kernel, ms; null before the first part. */
  readonly durationMs: number | null;
  readonly building: boolean;
}

const NOTHING: Preview = { part: null, unfinished: null, problem: null, durationMs: null, building: true };

/** The part of a recipe, up to a step, built anew whenever it changes. The last good part stays in sight. */
export function usePreview(workshop: WorkshopClient, recipe: Recipe, until: string | null): Preview {
  const [preview, setPreview] = useState(NOTHING);
  useEffect(() => {
    let current = true;
    setPreview((before) => ({ ...before, building: true }));
    void workshop.ask<'build'>({ kind: 'build', recipe, until }).then((result) => {
      if (!current || (!result.ok && result.problem.code === SUPERSEDED)) return;
      setPreview((before) =>
        result.ok
          ? answered(before, result.value, recipe)
          : { ...before, problem: result.problem, unfinished: null, building: false },
      );
    });
    return () => {
      current = false;
    };
  }, [workshop, recipe, until]);
  return preview;
}

function answered(before: Preview, { part, unfinished, durationMs }: BuiltAnswer, recipe: Recipe): Preview {
  const empty = part === null && (unfinished === null || recipe.steps.length === 0);
  return { part: empty ? null : (part ?? before.part), unfinished, problem: null, durationMs, building: false };
}

export interface OutlinePreview {
  readonly answer: OutlineAnswer | null;
  readonly problem: Problem | null;
}

/** An outline with its numbers, evaluated anew whenever it changes. */
export function useOutline(workshop: WorkshopClient, recipe: Recipe, outline: Outline | null): OutlinePreview {
  const [preview, setPreview] = useState<OutlinePreview>({ answer: null, problem: null });
  const { parameters, unit } = recipe;
  const latest = useRef(recipe);
  latest.current = recipe;
  useEffect(() => {
    if (outline === null) {
      setPreview({ answer: null, problem: null });
      return undefined;
    }
    let current = true;
    void workshop
      .ask<'outline'>({ kind: 'outline', recipe: { ...latest.current, steps: [] }, outline })
      .then((result) => {
        if (!current || (!result.ok && result.problem.code === SUPERSEDED)) return;
        setPreview((before) =>
          result.ok ? { answer: result.value, problem: null } : { ...before, problem: result.problem },
        );
      });
    return () => {
      current = false;
    };
  }, [workshop, outline, parameters, unit]);
  return preview;
}
