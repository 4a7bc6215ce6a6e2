import type { Exercise } from './schema.ts';

type Parts = Pick<Exercise, 'recipe' | 'checks'>;

/** All texts in a value, at any depth. */
function* textsIn(value: unknown): Generator<string> {
  if (typeof value === 'string') yield value;
  else if (typeof value === 'object' && value !== null) for (const one of Object.values(value)) yield* textsIn(one);
}

/** The letters that an expression names. */
const lettersIn = (expression: string): readonly string[] => expression.match(/[A-Za-z_]\w*/g) ?? [];

/** The place of the last step whose surfaces a check names; -1 for none. */
function lastNamed(check: Parts['checks'][number], places: ReadonlyMap<string, number>): number {
  const named = [...textsIn({ ...check, id: '', label: '' })].flatMap(
    (text) => places.get(text.split('.', 1)[0] ?? '') ?? [],
  );
  return Math.max(-1, ...named);
}

/** The place of the first step whose sizes have a letter of the nominal of a check; -1 for none. */
function firstWithLetter(check: Parts['checks'][number], { steps, parameters }: Parts['recipe']): number {
  const known = new Set(parameters.map(({ name }) => name));
  const wanted = new Set('nominal' in check ? lettersIn(check.nominal).filter((letter) => known.has(letter)) : []);
  return steps.findIndex(({ label: _, ...step }) =>
    [...textsIn(step)].some((text) => lettersIn(text).some((letter) => wanted.has(letter))),
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
