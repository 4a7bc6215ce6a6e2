import { useEffect, useMemo, useRef, useState } from 'react';

import type { Outline } from '#core/outline';
import type { Problem, Result } from '#core/problem';
import { RECIPE_VERSION, type Recipe, type Unfinished } from '#core/recipe';
import type { Exercise } from '#core/exercise';
import {
  SUPERSEDED,
  type BuiltAnswer,
  type OutlineAnswer,
  type PartPreview,
  type ReadAnswer,
  type WorkshopClient,
} from '#web/workshop';

export interface Preview {
  /** The last part that could be built. */
  readonly part: PartPreview | null;
  readonly unfinished: Unfinished | null;
  /** A problem of the whole recipe, such as a letter without value. */
  readonly problem: Problem | null;
  /** Time of the kernel, ms; null before the first part. */
  readonly durationMs: number | null;
  readonly building: boolean;
  /** What is said of a model file, where the part is one. */
  readonly read: Pick<ReadAnswer, 'source' | 'warnings' | 'features'> | null;
}

type Answered = Omit<Preview, 'building'>;
const NOTHING: Answered = { part: null, unfinished: null, problem: null, durationMs: null, read: null };

/** The part of an exercise, up to a step, made anew whenever it changes. The last good part stays in sight. */
export function usePreview(workshop: WorkshopClient, exercise: Exercise, until: string | null): Preview {
  const { recipe, model } = exercise;
  const document = useRef(exercise);
  useEffect(() => {
    document.current = exercise;
  });
  const request = useMemo(() => ({ recipe, model, until }), [recipe, model, until]);
  const [{ preview, of }, setAnswer] = useState<{ readonly preview: Answered; readonly of: typeof request | null }>({
    preview: NOTHING,
    of: null,
  });
  useEffect(() => {
    let current = true;
    const receive = <T>(result: Result<T>, show: (before: Answered, value: T) => Answered): void => {
      if (!current || (!result.ok && result.problem.code === SUPERSEDED)) return;
      setAnswer((before) => ({
        of: request,
        preview: result.ok
          ? show(before.preview, result.value)
          : { ...before.preview, problem: result.problem, unfinished: null },
      }));
    };
    if (request.model === undefined)
      void workshop
        .ask<'build'>({ kind: 'build', recipe: request.recipe, until: request.until })
        .then((result) => receive(result, (before, value) => answered(before, value, request.recipe)));
    else
      void workshop
        .ask<'read'>({ kind: 'read', exercise: { ...document.current, model: request.model } })
        .then((result) =>
          receive(result, (_, { part, durationMs, source, warnings, features }) => ({
            part,
            unfinished: null,
            problem: null,
            durationMs,
            read: { source, warnings, features },
          })),
        );
    return () => {
      current = false;
    };
  }, [workshop, request]);
  return { ...preview, building: of !== request };
}

function answered(before: Answered, { part, unfinished, durationMs }: BuiltAnswer, recipe: Recipe): Answered {
  const empty = part === null && (unfinished === null || recipe.steps.length === 0);
  return { part: empty ? null : (part ?? before.part), unfinished, problem: null, durationMs, read: null };
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
