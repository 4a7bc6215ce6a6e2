import { readFileSync } from 'node:fs';

import { toJsonSchema } from '@valibot/to-json-schema';
import { describe, expect, it } from 'vitest';

import { blankExercise, ExerciseSchema, migrateRecipe, parseExercise } from '#core/exercise';
import { OPERATIONS, operationName, RecipeSchema } from '#core/recipe';
import { OutlineSchema } from '#core/outline';

describe('the published JSON Schemas', () => {
  it.each([
    ['recipe', RecipeSchema],
    ['exercise', ExerciseSchema],
  ] as const)('%s says what the program reads', (name, schema) => {
    const { title: _, ...published } = JSON.parse(readFileSync(`docs/${name}.schema.json`, 'utf8')) as {
      title: string;
    };
    const made: unknown = JSON.parse(
      JSON.stringify(toJsonSchema(schema, { errorMode: 'ignore', definitions: { Outline: OutlineSchema } })),
    );
    expect(published).toEqual(made);
  });

  it('the example of the reference page is a recipe', async () => {
    const example = /```json\n([\s\S]*?)```/.exec(readFileSync('docs/recipe.md', 'utf8'))?.[1] ?? '';
    const { safeParse } = await import('valibot');
    expect(safeParse(RecipeSchema, JSON.parse(example)).success).toBe(true);
  });
});

describe('an exercise', () => {
  it('begins blank and sound, in either unit', () => {
    for (const unit of ['mm', 'in'] as const)
      expect(parseExercise(blankExercise('SB-1', 'Blank', unit))).toMatchObject({ ok: true });
  });
  it('gives values only to letters that the part has', () => {
    const blank = blankExercise('SB-1', 'Blank', 'mm');
    const parsed = parseExercise({ ...blank, variants: [{ name: '1', values: { Q: '1' } }] });
    expect(parsed.ok ? '' : parsed.problem.message).toContain('a letter that the part does not have');
  });
  it('names every operation', () => {
    for (const op of OPERATIONS) expect(operationName(op)).toMatch(/^[A-Z]/);
  });
  it('what is no recipe is left as it is', () => {
    expect(migrateRecipe('text')).toBe('text');
    expect(migrateRecipe({ version: 7 })).toEqual({ version: 7 });
  });
});
