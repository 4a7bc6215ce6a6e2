import { isOnSheet } from '#core/check';
import { namesIn } from '#core/quantity';
import { stringsIn } from '#core/recipe';

import type { LintRuleCheck } from './rule.ts';

/** Every letter that sizes the part stands at a dimension or in a note. */
export const letterAtSize: LintRuleCheck = ({ source }) => {
  if (source === null || source.exercise.sheet?.letters === 'values') return [];
  const { recipe, checks, notes } = source.exercise;
  const used = new Set(stringsIn(recipe.steps).flatMap(namesIn));
  const said = new Set(
    [...checks.filter(isOnSheet).flatMap((check) => ('nominal' in check ? [check.nominal] : [])), ...notes].flatMap(
      namesIn,
    ),
  );
  return recipe.parameters
    .filter(({ name }) => used.has(name) && !said.has(name))
    .map(({ name }) => ({ where: '', words: `The letter ${name} stands at no dimension.` }));
};
