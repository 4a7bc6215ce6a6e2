import { readFileSync } from 'node:fs';

import { toJsonSchema } from '@valibot/to-json-schema';
import { describe, expect, it } from 'vitest';

import { blankExercise, ExerciseSchema, migrateExercise, parseExercise } from '#core/exercise';
import { migrateRecipe, OPERATIONS, operationName, RecipeSchema } from '#core/recipe';
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

describe('an exercise of version 2', () => {
  const chamfer = { op: 'chamfer', id: 'rim', name: 'bevel.round', edges: [{ around: 'base.end', joint: 'convex' }] };
  const old = {
    version: 2,
    recipe: {
      version: 2,
      steps: [
        { op: 'extrude', id: 'base', outlines: [{ shape: 'rounded', of: { shape: 'beveled' }, radius: '3' }] },
        chamfer,
        { op: 'fillet', id: 'soft', edges: [{ between: ['rim.bevel', 'base.1.end'] }] },
        { op: 'full-round', id: 'top' },
        { op: 'linear-pattern', id: 'row', of: ['soft'] },
      ],
    },
    checks: [
      { kind: 'radius', face: 'row.2.soft.round', label: 'soft.round', group: 'features' },
      { kind: 'radius', face: 'top.round', group: 'hygiene' },
      { kind: 'chamfer-size', face: 'rim.bevel' },
    ],
    likelihoods: { 'bevel-reversed': 3, 'feature-extra': 2 },
  };

  it('gets the names of today for its shapes, edges and the surfaces of fillets and chamfers', () => {
    expect(migrateRecipe(old.recipe)).toMatchObject({
      version: 3,
      steps: [
        { outlines: [{ shape: 'filleted', of: { shape: 'chamfered' }, radius: '3' }] },
        { name: 'bevel.round', edges: [{ around: 'base.end', convexity: 'convex' }] },
        { edges: [{ between: ['rim.chamfer', 'base.1.end'] }] },
        { op: 'full-round' },
        { of: ['soft'] },
      ],
    });
  });

  it('gets them in its checks as well, but what people wrote stays', () => {
    expect(migrateExercise(old)).toMatchObject({
      version: 3,
      checks: [
        { face: 'row.2.soft.fillet', label: 'soft.round', group: 'features' },
        { face: 'top.round', group: 'model-quality' },
        { face: 'rim.chamfer' },
      ],
      likelihoods: { 'chamfer-reversed': 3, 'feature-extra': 2 },
    });
  });
});
