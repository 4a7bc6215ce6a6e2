import * as v from 'valibot';

import { findMaterial } from '#core/material';
import { attempt, ProblemError, type Result } from '#core/problem';
import { RECIPE_VERSION } from '#core/recipe';

import { describeIssues, EXERCISE_VERSION, ExerciseSchema, type Exercise } from './schema.ts';

type Json = Readonly<Record<string, unknown>>;
const isObject = (value: unknown): value is Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Before version 2, a revolve had one outline. */
function recipeFrom1(recipe: Json): Json {
  const steps = Array.isArray(recipe['steps']) ? (recipe['steps'] as unknown[]) : [];
  return {
    ...recipe,
    version: 2,
    steps: steps.map((step) => {
      if (!isObject(step) || !('outline' in step) || step['op'] !== 'revolve') return step;
      const { outline, ...rest } = step;
      return { ...rest, outlines: [outline] };
    }),
  };
}

/** Before version 2, the material was a name of the table, and there was one set of values. */
function exerciseFrom1(exercise: Json): Json {
  const id = String(exercise['material']);
  const material = findMaterial(id);
  return {
    ...exercise,
    version: 2,
    material: material ? { ...material } : exercise['material'],
    variants: [],
    stages: [],
    rules: [],
  };
}

const versionOf = (document: Json): number => Number(document['version']);

/** A recipe of any version as one of this version; what is no recipe comes back as it is. */
export function migrateRecipe(document: unknown): unknown {
  if (!isObject(document)) return document;
  return versionOf(document) === 1 ? recipeFrom1(document) : document;
}

/** An exercise of any version as one of this version; what is no exercise comes back as it is. */
export function migrateExercise(document: unknown): unknown {
  if (!isObject(document)) return document;
  const current = versionOf(document) === 1 ? exerciseFrom1(document) : document;
  return { ...current, recipe: migrateRecipe(current['recipe']) };
}

/** Deeper documents than any exercise needs are refused before they are looked at. */
const DEEPEST = 60;
function deeperThan(value: unknown, depth: number): boolean {
  if (typeof value !== 'object' || value === null) return false;
  return depth === 0 || Object.values(value).some((inner) => deeperThan(inner, depth - 1));
}

/**
 * An exercise document of any version. Refuses with `newer-version`, and with `bad-exercise`, which names the place
 * and the fault.
 */
export function parseExercise(document: unknown): Result<Exercise> {
  return attempt(() => {
    if (deeperThan(document, DEEPEST)) throw new ProblemError('bad-exercise', 'The document is nested too deeply.');
    if (isObject(document)) {
      const recipe = document['recipe'];
      const newer = versionOf(document) > EXERCISE_VERSION || (isObject(recipe) && versionOf(recipe) > RECIPE_VERSION);
      if (newer)
        throw new ProblemError(
          'newer-version',
          'The exercise was made by a newer Zorvet. Bring this one up to date first.',
        );
    }
    const parsed = v.safeParse(ExerciseSchema, migrateExercise(document));
    if (!parsed.success)
      throw new ProblemError('bad-exercise', `This is not a sound exercise: ${describeIssues(parsed.issues)}.`);
    return parsed.output;
  });
}
