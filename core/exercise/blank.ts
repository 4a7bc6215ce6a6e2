import { findMaterial } from '#core/material';
import type { DrawingUnit } from '#core/quantity';
import { RECIPE_VERSION } from '#core/recipe';

import { EXERCISE_VERSION, type Exercise } from './schema.ts';

/** A new exercise with nothing in it yet. */
export function blankExercise(number: string, title: string, unit: DrawingUnit): Exercise {
  const material = findMaterial('aluminum');
  if (material === undefined) throw new Error('the table of materials has aluminum');
  return {
    format: 'zorvet-exercise',
    version: EXERCISE_VERSION,
    number,
    title,
    level: 'basic',
    brief: '',
    recipe: { format: 'zorvet-recipe', version: RECIPE_VERSION, name: title, unit, parameters: [], steps: [] },
    material: { ...material },
    origin: '',
    projection: unit === 'in' ? 'third-angle' : 'first-angle',
    decimals: unit === 'in' ? 3 : 1,
    notes: [],
    checks: [],
    variants: [],
    stages: [],
    rules: [],
    typedValues: ['mass'],
    scoring: { partialReach: 5, typedValueWeight: 5, notOneBodyCap: 40 },
  };
}
