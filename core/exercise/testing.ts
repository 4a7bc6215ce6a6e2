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

/** A block from the origin, as its first step; sizes are expressions or numbers in the unit of the recipe. */
export const blockStep = (
  size: readonly [number | string, number | string, number | string],
  id = 'block',
): object => ({
  id,
  op: 'extrude',
  mode: 'add',
  plane: { base: 'XY' },
  outlines: [{ shape: 'corner-rectangle', corner: ['0', '0'], width: String(size[0]), height: String(size[1]) }],
  extent: { kind: 'depth', depth: String(size[2]) },
});

/** Holes in the upper side of the block; through, unless `change` says how deep. */
export const holesStep = (
  id: string,
  points: readonly (readonly [number | string, number | string])[],
  diameter: number | string,
  change: object = {},
): object => ({
  id,
  op: 'hole',
  plane: { surface: 'block.end' },
  at: { kind: 'points', points: points.map(([x, y]) => [String(x), String(y)]) },
  diameter: String(diameter),
  depth: { kind: 'through' },
  ...change,
});

/** A check of a size, tolerance 0.05, weight 1, labelled by its id. */
export const sizeCheck = (id: string, kind: string, nominal: number | string, rest: object): object => ({
  id,
  label: id,
  kind,
  nominal: String(nominal),
  tolerance: '0.05',
  weight: 1,
  ...rest,
});

/** A pocket or slot from the upper side of the block: a rectangle from a corner, its width, height and depth. */
export const pocketStep = (
  id: string,
  corner: readonly [number | string, number | string],
  [width, height, depth]: readonly [number | string, number | string, number | string],
): object => ({
  id,
  op: 'extrude',
  mode: 'cut',
  plane: { surface: 'block.end' },
  outlines: [{ shape: 'corner-rectangle', corner: corner.map(String), width: String(width), height: String(height) }],
  extent: { kind: 'depth', depth: String(depth) },
});

/** An outline drawn on a plane and raised by a height: on the block, unless `plane` says where. */
export const raisedStep = (
  id: string,
  outline: object,
  height: number | string,
  plane: object = { surface: 'block.end' },
): object => ({
  id,
  op: 'extrude',
  mode: 'add',
  plane,
  outlines: [outline],
  extent: { kind: 'depth', depth: String(height) },
});

/** Outlines for it: a circle about a center, and a rectangle from a corner. */
export const circleOutline = (center: readonly [number, number], diameter: number): object => ({
  shape: 'circle',
  center: center.map(String),
  diameter: String(diameter),
});
export const rectangleOutline = (corner: readonly [number, number], width: number, height: number): object => ({
  shape: 'corner-rectangle',
  corner: corner.map(String),
  width: String(width),
  height: String(height),
});
