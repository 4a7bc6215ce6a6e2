import { namesIn, type Scope } from '#core/quantity';
import type { ParameterValues, Recipe } from '#core/recipe';

/** Letters whose influence is looked at; a part with more is still planned, with numbers for the rest. */
const MOST_PARAMETERS = 10;

/**
 * The same part with one letter changed a little in each, as `open` makes it; null where it cannot be built, and the other
 * way is tried.
 */
export const withSlightChanges = <T>(
  recipe: Recipe,
  scope: Scope,
  open: (values: ParameterValues) => T | null,
): readonly T[] =>
  slightChanges(recipe, scope).flatMap((tries) => {
    for (const values of tries) {
      const part = open(values);
      if (part !== null) return [part];
    }
    return [];
  });

/**
 * For each letter that has a value of its own, values that change it a little and by no round amount. Where the part
 * cannot be built with the first, the second goes the other way.
 */
export function slightChanges(recipe: Recipe, scope: Scope): readonly (readonly ParameterValues[])[] {
  return recipe.parameters
    .filter(({ value }) => namesIn(value).length === 0)
    .slice(0, MOST_PARAMETERS)
    .map(({ name }) => {
      const value = scope[name] ?? 0;
      return [0.0137, -0.0119].map((share) => ({ [name]: String(Number((value + (value || 1) * share).toFixed(6))) }));
    });
}
