import * as v from 'valibot';
import { beforeAll, describe, expect, it } from 'vitest';

import type { Kernel } from '#core/kernel';
import { buildRecipe, facesOn, RECIPE_VERSION, RecipeSchema, withValues, type Recipe } from '#core/recipe';
import { loadKernel } from '#runtime';

import { onPlate } from './testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const plate = (steps: readonly unknown[], unit: 'mm' | 'in' = 'mm'): Recipe => ({ ...onPlate(...steps), unit });

const hole = (extra: object) => ({
  id: 'bore',
  label: 'Bore',
  op: 'hole',
  plane: { surface: 'base.end' },
  at: { kind: 'points', points: [['0', '0']] },
  diameter: '8',
  depth: { kind: 'through' },
  ...extra,
});

function volumeOf(recipe: Recipe, values = {}): number {
  const built = buildRecipe(kernel, recipe, values);
  if (!built.ok) throw new Error(built.problem.message);
  const { volumeMm3 } = kernel.massProperties(built.value.shape);
  built.value.shape.free();
  return volumeMm3;
}

const problemOf = (recipe: Recipe, values = {}) => {
  const built = buildRecipe(kernel, recipe, values);
  if (!built.ok) return built.problem;
  built.value.shape.free();
  throw new Error('was built');
};

describe('operations', () => {
  it('a blind hole takes away a cylinder of its depth', () => {
    const recipe = plate([hole({ depth: { kind: 'blind', depth: '4' } })]);
    expect(volumeOf(recipe)).toBeCloseTo(60 * 30 * 10 - Math.PI * 16 * 4, 6);
  });

  it('a counterbored hole takes away two cylinders', () => {
    const recipe = plate([hole({ counterbore: { diameter: '14', depth: '3' } })]);
    expect(volumeOf(recipe)).toBeCloseTo(60 * 30 * 10 - Math.PI * (16 * 7 + 49 * 3), 6);
  });

  it('holes on a bolt circle are equally spaced', () => {
    const at = { kind: 'bolt-circle', center: ['0', '0'], diameter: '20', count: '5' };
    expect(volumeOf(plate([hole({ at, diameter: '3' })]))).toBeCloseTo(60 * 30 * 10 - 5 * Math.PI * 2.25 * 10, 6);
  });

  it('a boss on top of the plate, and a slanted path cut through it', () => {
    const boss = {
      id: 'boss',
      op: 'extrude',
      mode: 'add',
      plane: { surface: 'base.end' },
      outlines: [{ shape: 'circle', center: ['0', '0'], diameter: '12' }],
      extent: { kind: 'depth', depth: '5' },
    };
    const notch = {
      id: 'notch',
      op: 'extrude',
      mode: 'cut',
      plane: { base: 'XZ' },
      outlines: [
        {
          shape: 'path',
          start: ['-30', '0'],
          segments: [
            { move: 'line', to: ['-20', '0'] },
            { move: 'line', to: ['-30', '10'] },
            { move: 'line', to: ['-30', '0'] },
          ],
        },
      ],
      extent: { kind: 'through' },
    };
    const expected = 60 * 30 * 10 + Math.PI * 36 * 5 - 0.5 * 10 * 10 * 30;
    expect(volumeOf(plate([boss, notch]))).toBeCloseTo(expected, 6);
  });

  it('a fillet in an inner corner adds material', () => {
    const wall = {
      id: 'wall',
      op: 'extrude',
      mode: 'add',
      plane: { base: 'YZ', offset: '-A/2' },
      outlines: [{ shape: 'rectangle', center: ['0', '15'], width: 'B', height: '30' }],
      extent: { kind: 'depth', depth: '6' },
    };
    const root = { id: 'root', op: 'fillet', radius: '4', edges: [{ between: ['wall.end', 'base.end'] }] };
    const expected = 60 * 30 * 10 + 6 * 30 * 20 + (1 - Math.PI / 4) * 16 * 30;
    expect(volumeOf(plate([wall, root]))).toBeCloseTo(expected, 6);
  });
});

describe('letters', () => {
  it('change the part, in the unit of the drawing', () => {
    expect(volumeOf(plate([]), { A: '80' })).toBeCloseTo(80 * 40 * 10, 6);
    expect(volumeOf(plate([], 'in'), { A: '2' })).toBeCloseTo(2 * 1 * 10 * 25.4 ** 3, 3);
  });

  it('that the part does not have are refused', () => {
    const result = withValues(plate([]), { Q: '3' });
    expect(result.ok ? '' : result.problem.message).toContain('it has A, B');
  });
});

describe('named surfaces stay attached when values change', () => {
  it('the wall of a hole is found on the solid for any size', () => {
    for (const A of ['60', '75']) {
      const built = buildRecipe(kernel, plate([hole({ at: { kind: 'points', points: [['A/4', '0']] } })]), { A });
      if (!built.ok) throw new Error(built.problem.message);
      const { faces } = kernel.tables(built.value.shape);
      const surface = built.value.surfaces.get('bore.wall');
      const found = surface ? facesOn(faces, surface) : [];
      expect(found).toHaveLength(1);
      expect(faces[found[0] ?? -1]?.centroid[0]).toBeCloseTo(Number(A) / 4, 6);
      built.value.shape.free();
    }
  });
});

describe('two steps with faces in one plane', () => {
  it('have each their own, where the faces lie apart', () => {
    // A pad of 6 beside a plate of 10, into which a pocket of 4 is cut: both their faces lie at 6.
    const rectangle = (corner: readonly string[], width: string, height: string): object => ({
      shape: 'corner-rectangle',
      corner,
      width,
      height,
    });
    const raised = (id: string, outline: object, depth: string): object => ({
      id,
      op: 'extrude',
      mode: 'add',
      plane: { base: 'XY' },
      outlines: [outline],
      extent: { kind: 'depth', depth },
    });
    const recipe = v.parse(RecipeSchema, {
      format: 'zorvet-recipe',
      version: RECIPE_VERSION,
      name: 'Pad',
      unit: 'mm',
      parameters: [],
      steps: [
        raised('plate', rectangle(['0', '0'], '40', '30'), '10'),
        raised('pad', rectangle(['40', '5'], '15', '20'), '6'),
        {
          ...raised('pocket', rectangle(['5', '5'], '20', '20'), '4'),
          mode: 'cut',
          plane: { surface: 'plate.end' },
        },
      ],
    });
    const built = buildRecipe(kernel, recipe);
    if (!built.ok) throw new Error(built.problem.message);
    const { faces } = kernel.tables(built.value.shape);
    const middles = ['pad.end', 'pocket.end'].map((name) => {
      const surface = built.value.surfaces.get(name);
      const [id, ...more] = surface === undefined ? [] : facesOn(faces, surface);
      return [more.length, faces[id ?? -1]?.centroid[0]];
    });
    expect(middles).toEqual([
      [0, expect.closeTo(47.5, 6)],
      [0, expect.closeTo(15, 6)],
    ]);
    built.value.shape.free();
  });
});

describe('a step that fails says which and why', () => {
  it.each([
    ['a size of zero', hole({ diameter: '0' }), 'size-not-positive'],
    ['an unknown letter', hole({ diameter: 'D' }), 'unknown-name'],
    ['a counterbore that is not wider', hole({ counterbore: { diameter: '8', depth: '2' } }), 'counterbore-too-small'],
    [
      'half a hole',
      hole({ at: { kind: 'bolt-circle', center: ['0', '0'], diameter: '20', count: '2.5' } }),
      'bad-count',
    ],
    ['a surface that no step made', hole({ plane: { surface: 'base.roof' } }), 'unknown-surface'],
    [
      'edges that do not exist',
      { id: 'r', label: 'Bore', op: 'fillet', radius: '2', edges: [{ between: ['base.left', 'base.right'] }] },
      'no-edge',
    ],
    [
      'a radius that is too large',
      { id: 'r', label: 'Bore', op: 'fillet', radius: '40', edges: [{ between: ['base.left', 'base.lower'] }] },
      'fillet',
    ],
    [
      'a cut that removes everything',
      {
        id: 'x',
        label: 'Bore',
        op: 'extrude',
        mode: 'cut',
        plane: { base: 'XY' },
        outlines: [{ shape: 'rectangle', center: ['0', '0'], width: '200', height: '200' }],
        extent: { kind: 'through' },
      },
      'nothing-left',
    ],
    [
      'a cut that leaves two pieces',
      {
        id: 'x',
        label: 'Bore',
        op: 'extrude',
        mode: 'cut',
        plane: { base: 'XY' },
        outlines: [{ shape: 'rectangle', center: ['0', '0'], width: '5', height: '200' }],
        extent: { kind: 'through' },
      },
      'several-bodies',
    ],
    [
      'an outline that crosses itself',
      {
        id: 'x',
        label: 'Bore',
        op: 'extrude',
        mode: 'cut',
        plane: { base: 'XY' },
        outlines: [
          {
            shape: 'path',
            start: ['0', '0'],
            segments: [
              { move: 'line', to: ['10', '10'] },
              { move: 'line', to: ['10', '0'] },
              { move: 'line', to: ['0', '10'] },
              { move: 'line', to: ['0', '0'] },
            ],
          },
        ],
        extent: { kind: 'through' },
      },
      'outline-crosses',
    ],
  ])('%s', (_name, step, code) => {
    const problem = problemOf(plate([step]));
    expect(problem.code).toBe(code);
    expect(problem.message).toMatch(/^Step "Bore": /);
  });

  it('cutting before there is a body', () => {
    const recipe = { ...plate([]), steps: [{ ...plate([]).steps[0], mode: 'cut' }] } as Recipe;
    expect(problemOf(recipe).code).toBe('nothing-to-cut');
  });
});

it('a recipe with two steps of one name is not valid', () => {
  const parsed = v.safeParse(RecipeSchema, { ...plate([]), steps: [plate([]).steps[0], plate([]).steps[0]] });
  expect(parsed.success).toBe(false);
});
