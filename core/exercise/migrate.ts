import * as v from 'valibot';

import { currentCause } from '#core/cause';
import { findMaterial } from '#core/material';
import { attempt, ProblemError, type Result } from '#core/problem';
import { isJsonObject, migrateRecipe, RECIPE_VERSION, renamedSurfaces, type Json } from '#core/recipe';

import { describeIssues, EXERCISE_VERSION, ExerciseSchema, type Exercise } from './schema.ts';

/** Before version 2, the material was a name of the table, and there was one set of values. */
function exerciseFrom1(exercise: Json): Json {
  const id = String(exercise['material']);
  const material = findMaterial(id);
  return {
    ...exercise,
    version: 2,
    recipe: migrateRecipe(exercise['recipe']),
    material: material ? { ...material } : exercise['material'],
    variants: [],
    stages: [],
    rules: [],
  };
}

/** Before version 3, surfaces, groups of checks and kinds of mistakes had other names. */
function exerciseFrom2(exercise: Json): Json {
  const recipe = isJsonObject(exercise['recipe']) ? exercise['recipe'] : {};
  const checks = Array.isArray(exercise['checks']) ? (exercise['checks'] as readonly unknown[]) : [];
  const { likelihoods } = exercise;
  return {
    ...exercise,
    version: EXERCISE_VERSION,
    recipe: migrateRecipe(recipe),
    checks: renamedSurfaces(
      checks.map((check) =>
        isJsonObject(check) && check['group'] === 'hygiene' ? { ...check, group: 'model-quality' } : check,
      ),
      recipe,
    ),
    ...(isJsonObject(likelihoods)
      ? { likelihoods: Object.fromEntries(Object.entries(likelihoods).map(([id, value]) => [currentCause(id), value])) }
      : {}),
  };
}

const versionOf = (document: Json): number => Number(document['version']);

/** An exercise of any version as one of this version; what is no exercise comes back as it is. */
export function migrateExercise(document: unknown): unknown {
  if (!isJsonObject(document)) return document;
  const second = versionOf(document) === 1 ? exerciseFrom1(document) : document;
  const current = versionOf(second) === 2 ? exerciseFrom2(second) : second;
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
    if (isJsonObject(document)) {
      const recipe = document['recipe'];
      const newer =
        versionOf(document) > EXERCISE_VERSION || (isJsonObject(recipe) && versionOf(recipe) > RECIPE_VERSION);
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
