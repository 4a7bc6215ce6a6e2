/** Exercises for tests: a recipe and a check plan, with everything else of the document filled in. */
import * as v from 'valibot';

import { RECIPE_VERSION } from '#core/recipe';

import { EXERCISE_VERSION, ExerciseSchema, type Exercise } from './schema.ts';

interface Part {
  readonly parameters?: readonly object[];
  readonly steps: readonly object[];
  readonly checks: readonly object[];
}

/** An exercise in mm; `change` replaces fields of the document. */
export const exerciseOf = ({ parameters = [], steps, checks }: Part, change: object = {}): Exercise =>
  v.parse(ExerciseSchema, {
    format: 'zorvet-exercise',
    version: EXERCISE_VERSION,
    number: 'T-1',
    title: 'Test block',
    level: 'basic',
    brief: '',
    material: { id: 'brass', name: 'Brass', densityGPerCm3: 8.5, source: 'test' },
    variants: [],
    stages: [],
    rules: [],
    origin: 'corner',
    projection: 'third-angle',
    decimals: 1,
    notes: [],
    typedValues: [],
    scoring: { partialReach: 5, typedValueWeight: 0, notOneBodyCap: 50 },
    checks,
    recipe: { format: 'zorvet-recipe', version: RECIPE_VERSION, name: 'Test block', unit: 'mm', parameters, steps },
    ...change,
  });
