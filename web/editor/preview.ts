import { useMemo } from 'react';

import type { Outline } from '#core/outline';
import type { Problem } from '#core/problem';
import { RECIPE_VERSION, type Recipe, type Unfinished } from '#core/recipe';
import type { Exercise } from '#core/exercise';
import {
  useAsked,
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
  const basis = useMemo(() => ({ recipe, model, until }), [recipe, model, until]);
  const isFile = model !== undefined;
  const built = useAsked<'build', typeof basis, Answered>(
    workshop,
    isFile ? null : basis,
    (asked) => ({ kind: 'build', recipe: asked.recipe, until: asked.until }),
    { combine: (before, answer, asked) => answered(before ?? NOTHING, answer, asked.recipe) },
  );
  const read = useAsked<'read', typeof basis, Answered>(
    workshop,
    isFile ? basis : null,
    () => ({ kind: 'read', exercise }),
    {
      combine: (_, { part, durationMs, source, warnings, features }) => ({
        part,
        unfinished: null,
        problem: null,
        durationMs,
        read: { source, warnings, features },
      }),
    },
  );
  const { value, problem, of } = isFile ? read : built;
  const shown = value ?? NOTHING;
  return { ...(problem === null ? shown : { ...shown, problem, unfinished: null }), building: of !== basis };
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
  const { parameters, unit } = recipe;
  const basis = useMemo(() => {
    const letters = { format: 'zorvet-recipe', version: RECIPE_VERSION, name: 'Letters' } as const;
    return outline === null ? null : { recipe: { ...letters, unit, parameters, steps: [] }, outline };
  }, [parameters, unit, outline]);
  const { value, problem } = useAsked<'outline', NonNullable<typeof basis>>(workshop, basis, (asked) => ({
    kind: 'outline',
    ...asked,
  }));
  return basis === null ? NO_OUTLINE : { answer: value, problem };
}
