import { namesIn } from '#core/quantity';
import { stringsIn } from '#core/recipe';

import type { Exercise } from './schema.ts';

type Parts = Pick<Exercise, 'recipe' | 'checks'>;

/** What a check names of the part: surfaces, or steps with all that they make. */
const namedBy = (check: Parts['checks'][number], steps: ReadonlyMap<string, unknown>): readonly string[] =>
  stringsIn({ ...check, id: '', label: '', kind: '' }).filter((text) => steps.has(text.split('.', 1)[0] ?? ''));

/**
 * The surfaces that each check hangs on, by its id: names of surfaces ("bolts.3.wall"), or of steps ("bolts") with all that
 * they make. A check of the part as a whole has none.
 */
export function surfacesByCheck({ recipe, checks }: Parts): ReadonlyMap<string, readonly string[]> {
  const steps = new Map(recipe.steps.map(({ id }) => [id, true]));
  return new Map(checks.map((check) => [check.id, [...new Set(namedBy(check, steps))]]));
}

/** Whether a name of a check ("bolts", "bolts.wall") means a surface of the part. */
export const meansSurface = (name: string, surface: string): boolean =>
  surface === name || surface.startsWith(`${name}.`);

/** The place of the last step whose surfaces a check names; -1 for none. */
function lastNamed(check: Parts['checks'][number], places: ReadonlyMap<string, number>): number {
  const named = namedBy(check, places).flatMap((text) => places.get(text.split('.', 1)[0] ?? '') ?? []);
  return Math.max(-1, ...named);
}

/** The place of the first step whose sizes have a letter of the nominal of a check; -1 for none. */
function firstWithLetter(check: Parts['checks'][number], { steps }: Parts['recipe']): number {
  const wanted = new Set('nominal' in check ? namesIn(check.nominal) : []);
  return steps.findIndex(({ label: _, ...step }) =>
    stringsIn(step).some((text) => namesIn(text).some((letter) => wanted.has(letter))),
  );
}

/**
 * The checks that a step makes measurable, by the id of the step and in the order of the plan: of the steps whose surfaces
 * a check names ("bolts.3.wall"), it belongs to the last one; where it names none, as an overall size, to the first step that
 * has a letter of its nominal. Others belong to none.
 */
export function checksByStep({ recipe, checks }: Parts): ReadonlyMap<string, readonly string[]> {
  const places = new Map(recipe.steps.map(({ id }, i) => [id, i]));
  const found = new Map<string, string[]>();
  for (const check of checks) {
    const named = lastNamed(check, places);
    const step = recipe.steps[named >= 0 ? named : firstWithLetter(check, recipe)];
    if (step !== undefined) found.set(step.id, [...(found.get(step.id) ?? []), check.id]);
  }
  return found;
}
