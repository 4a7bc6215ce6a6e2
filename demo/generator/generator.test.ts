import { beforeAll, describe, expect, it } from 'vitest';

import { prepareExercise } from '#core/attempt';
import { stageCount } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { withPart } from '#core/model';
import { unwrap } from '#core/problem';
import { evaluateParameters, namesIn } from '#core/quantity';
import { stringsIn } from '#core/recipe';
import { FAMILY_NAMES, generatedPart, planned } from '#demo/generator';
import { demoExercises } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { sampleOf } from '../exercises/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const SEEDS = Array.from({ length: 36 }, (_, i) => i + 1);

describe('a generated part', () => {
  it('is the same for the same seed, and another for another', () => {
    expect(generatedPart(7)).toEqual(generatedPart(7));
    const recipes = SEEDS.map((seed) => JSON.stringify(generatedPart(seed).recipe.steps));
    expect(new Set(recipes).size).toBe(SEEDS.length);
  });

  it('comes from every family in turn, in millimeters and in inches, and some have stages', () => {
    const parts = SEEDS.map(generatedPart);
    for (const family of FAMILY_NAMES) expect(parts.some(({ title }) => title.includes(family))).toBe(true);
    expect(new Set(parts.map(({ recipe }) => recipe.unit))).toEqual(new Set(['mm', 'in']));
    expect(parts.some((part) => stageCount(part) > 1)).toBe(true);
  });

  it('has letters that its steps use, and is none of the demo', () => {
    const known = demoExercises.map(({ recipe }) => JSON.stringify(recipe.steps));
    for (const seed of SEEDS) {
      const { recipe } = generatedPart(seed);
      const used = new Set(stringsIn(recipe.steps).flatMap(namesIn));
      expect(recipe.parameters.filter(({ name }) => !used.has(name))).toEqual([]);
      expect(evaluateParameters(recipe.parameters, recipe.unit).ok).toBe(true);
      expect(known).not.toContain(JSON.stringify(recipe.steps));
    }
  });

  it.each(SEEDS)('of seed %i is one sound body', (seed) => {
    const { bodies, valid, volumeMm3 } = withPart(kernel, generatedPart(seed), {}, ({ solid }) => ({
      ...solid,
      volumeMm3: solid.massProperties.volumeMm3,
    }));
    expect([bodies, valid]).toEqual([1, true]);
    expect(volumeMm3).toBeGreaterThan(1000);
  });
});

describe('the plan of a part that nobody tuned for', () => {
  it.each(sampleOf([2, 9, 10, 12, 14, 22, 24], 4))('of seed %i leaves nothing open, and the part passes it', (seed) => {
    const { exercise, left } = planned(kernel, generatedPart(seed));
    expect(left.undetermined.map(({ what }) => what)).toEqual([]);
    expect(left.unchecked.map(({ what }) => what)).toEqual([]);
    const { failing, sheet } = unwrap(prepareExercise(kernel, exercise));
    expect(failing).toEqual([]);
    expect(sheet.warnings).toEqual([]);
  });
});
