import * as v from 'valibot';
import { describe, expect, it } from 'vitest';

import { blankExercise } from '#core/exercise';
import { getIn, operationOf, OPERATIONS, RecipeSchema, setIn, StepSchema, type Choice, type Field } from '#core/recipe';
import { MoveSchema, OUTLINE_SHAPES, OutlineSchema } from '#core/outline';

import { newStep } from '../steps.ts';
import { CHANGES, COMBINATIONS, MOVES, SHAPES } from './fields.ts';

/** Every choice that a form offers, with the path to it. */
function choicesOf(
  fields: readonly Field[],
  path: readonly (string | number)[] = [],
): (readonly [readonly (string | number)[], Choice])[] {
  return fields.flatMap((field) =>
    field.kind === 'choice'
      ? field.choices.flatMap((choice) => [
          [[...path, ...field.path], choice] as const,
          ...choicesOf(choice.fields, [...path, ...field.path]),
        ])
      : [],
  );
}

describe('forms', () => {
  const { recipe } = blankExercise('1', 'x', 'mm');

  it.each(OPERATIONS.map((operation) => [operation]))('of a new "%s" begin with a step that is sound', (operation) => {
    const step = newStep(operation, recipe, ['base.end', 'base.right', 'base.wall']);
    expect(v.safeParse(StepSchema, step).success).toBe(true);
    expect(v.safeParse(RecipeSchema, { ...recipe, steps: [step] }).success).toBe(true);
  });

  it.each(OPERATIONS.map((operation) => [operation]))(
    'of "%s": whatever is chosen, the step stays sound',
    (operation) => {
      const step = newStep(operation, recipe, ['base.end', 'base.right', 'base.wall']);
      for (const [path, choice] of choicesOf(operationOf(operation).form)) {
        // Choices within a choice that is not made have no place in this step.
        if (path.length > 1 && getIn(step, path.slice(0, -1)) === undefined) continue;
        const next = setIn(step, path, choice.make());
        const parsed = v.safeParse(StepSchema, next);
        expect(parsed.success, `${operation} ${path.join('.')} ${choice.value}`).toBe(true);
      }
    },
  );

  it('offer every shape of outline and every move, each sound as it begins', () => {
    const offered = [...SHAPES, ...CHANGES].map(({ value }) => value).concat(COMBINATIONS.map(([value]) => value));
    expect(offered.sort()).toEqual([...OUTLINE_SHAPES].sort());
    for (const { make } of SHAPES) expect(v.safeParse(OutlineSchema, make()).success).toBe(true);
    const of = SHAPES[0]!.make();
    for (const { make } of CHANGES)
      expect(v.safeParse(OutlineSchema, { ...(make() as object), of }).success).toBe(true);
    for (const { make } of MOVES) expect(v.safeParse(MoveSchema, make()).success).toBe(true);
  });
});
