import { useEffect, useMemo, useState } from 'react';

import type { Outline } from '#core/outline';
import type { Problem } from '#core/problem';
import { RECIPE_VERSION, type Recipe, type Unfinished } from '#core/recipe';
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

type Answered = Omit<Preview, 'building'>;
const NOTHING: Answered = { part: null, unfinished: null, problem: null, durationMs: null };

/** The part of a recipe, up to a step, built anew whenever it changes. The last good part stays in sight. */
export function usePreview(workshop: WorkshopClient, recipe: Recipe, until: string | null): Preview {
  const request = useMemo(() => ({ kind: 'build', recipe, until }) as const, [recipe, until]);
  const [{ preview, of }, setAnswer] = useState<{ readonly preview: Answered; readonly of: typeof request | null }>({
    preview: NOTHING,
    of: null,
  });
  useEffect(() => {
    let current = true;
    void workshop.ask<'build'>(request).then((result) => {
      if (!current || (!result.ok && result.problem.code === SUPERSEDED)) return;
      setAnswer((before) => ({
        of: request,
        preview: result.ok
          ? answered(before.preview, result.value, request.recipe)
          : { ...before.preview, problem: result.problem, unfinished: null },
      }));
    });
    return () => {
      current = false;
    };
  }, [workshop, request]);
  return { ...preview, building: of !== request };
}

function answered(before: Answered, { part, unfinished, durationMs }: BuiltAnswer, recipe: Recipe): Answered {
  const empty = part === null && (unfinished === null || recipe.steps.length === 0);
  return { part: empty ? null : (part ?? before.part), unfinished, problem: null, durationMs };
}

export interface OutlinePreview {
  readonly answer: OutlineAnswer | null;
  readonly problem: Problem | null;
}

const NO_OUTLINE: OutlinePreview = { answer: null, problem: null };

/** An outline with its numbers, evaluated anew whenever it changes. */
export function useOutline(workshop: WorkshopClient, recipe: Recipe, outline: Outline | null): OutlinePreview {
  const [preview, setPreview] = useState(NO_OUTLINE);
  const { parameters, unit } = recipe;
  const letters = useMemo(
    (): Recipe => ({ format: 'zorvet-recipe', version: RECIPE_VERSION, name: 'Letters', unit, parameters, steps: [] }),
    [parameters, unit],
  );
  useEffect(() => {
    if (outline === null) return undefined;
    let current = true;
    void workshop.ask<'outline'>({ kind: 'outline', recipe: letters, outline }).then((result) => {
      if (!current || (!result.ok && result.problem.code === SUPERSEDED)) return;
      setPreview((before) =>
        result.ok ? { answer: result.value, problem: null } : { ...before, problem: result.problem },
      );
    });
    return () => {
      current = false;
    };
  }, [workshop, outline, letters]);
  return outline === null ? NO_OUTLINE : preview;
}
