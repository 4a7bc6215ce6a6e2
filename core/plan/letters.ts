/** Sizes as expressions of the letters of an exercise. */
import { evaluateExpression, LENGTH_UNITS, namesIn } from '#core/quantity';
import { stringsIn } from '#core/recipe';
import { SAME_SIZE_MM } from '#core/tolerance';

import type { PlanBasis } from './basis.ts';

/** Shares of a letter that a drawing writes. */
const SLOPES = [1, -1, 0.5, -0.5, 2, -2, 0.25, -0.25, 1.5, -1.5] as const;
const SLOPE_WORDS: Readonly<Record<string, string>> = {
  '1': '',
  '0.5': '/2',
  '0.25': '/4',
};

/**
 * A length as an expression of the letters; `values` is what it is in each of `others`, the same part with one letter
 * changed in each. An expression of the recipe is taken when it gives the size for all values;
 * else a sum of shares of letters, found from how the size changes with each; else the number itself.
 */
export function writtenAs(
  valueMm: number,
  values: readonly (number | undefined)[],
  { exercise: { recipe, decimals }, solid, scope }: PlanBasis,
  others: readonly PlanBasis[],
): string {
  const factor = LENGTH_UNITS[recipe.unit];
  // A size between surfaces that were fitted to triangles is as round as their uncertainty allows.
  const slackMm = Math.max(1e-5, 2 * Math.max(0, ...solid.faces.map(({ uncertaintyMm }) => uncertaintyMm)));
  const short = [decimals, 4]
    .map((digits) => Number((valueMm / factor).toFixed(digits)))
    .find((value, i) => Math.abs(value * factor - valueMm) < (i === 0 ? slackMm : 1e-5));
  const plain = String(short ?? Number((valueMm / factor).toFixed(6)));
  const texts = [...recipe.parameters.map(({ name }) => name), ...stringsIn(recipe.steps)];
  const gives = (text: string): boolean =>
    [{ scope, value: valueMm }, ...others.map((other, i) => ({ scope: other.scope, value: values[i] }))].every(
      ({ scope: letters, value }) => {
        const result = evaluateExpression(text, letters, recipe.unit);
        return result.ok && value !== undefined && Math.abs(result.value * factor - value) < SAME_SIZE_MM;
      },
    );
  const known = [...new Set(texts)].find((text) => namesIn(text).length > 0 && gives(text));
  if (known !== undefined) return known;
  const terms: string[] = [];
  let rest = valueMm / factor;
  for (const [i, other] of others.entries()) {
    const letter = recipe.parameters.find(
      ({ name, value }) => namesIn(value).length === 0 && scope[name] !== other.scope[name],
    );
    const [before, after, value] = [scope[letter?.name ?? ''], other.scope[letter?.name ?? ''], values[i]];
    if (letter === undefined || before === undefined || after === undefined || value === undefined) return plain;
    const change = (value - valueMm) / factor / (after - before);
    if (Math.abs(change) < 1e-6) continue;
    const slope = SLOPES.find((share) => Math.abs(share - change) < 1e-5);
    if (slope === undefined) return plain;
    const size = String(Math.abs(slope));
    const word = SLOPE_WORDS[size];
    terms.push(`${slope < 0 ? '- ' : '+ '}${word === undefined ? `${size}*${letter.name}` : `${letter.name}${word}`}`);
    rest -= slope * before;
  }
  if (terms.length === 0) return plain;
  const constant = Number(rest.toFixed(6));
  if (constant !== 0) terms.push(`${constant < 0 ? '- ' : '+ '}${String(Math.abs(constant))}`);
  const text = terms
    .sort((a, b) => Number(b.startsWith('+')) - Number(a.startsWith('+')))
    .join(' ')
    .replace(/^\+ /, '')
    .replace(/^- /, '-');
  return gives(text) ? text : plain;
}
