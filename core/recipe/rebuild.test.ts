import { beforeAll, describe, expect, it } from 'vitest';

import type { Kernel, Shape } from '#core/kernel';
import { RecipeBuilder, type NamedSurfaces, type Recipe } from '#core/recipe';
import { IDENTITY } from '#core/vector';
import { loadKernel } from '#runtime';

import { onPlate, PLATE_MM3, recipeOf } from './testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

/** A kernel that counts its joining and cutting. */
function counting(): { readonly counted: Kernel; readonly calls: () => number } {
  let calls = 0;
  const tally =
    <A extends unknown[], R>(work: (...args: A) => R) =>
    (...args: A): R => {
      calls++;
      return work(...args);
    };
  return {
    counted: {
      ...kernel,
      fuse: tally((...args: Parameters<Kernel['fuse']>) => kernel.fuse(...args)),
      cut: tally((...args: Parameters<Kernel['cut']>) => kernel.cut(...args)),
      fillet: tally((...args: Parameters<Kernel['fillet']>) => kernel.fillet(...args)),
    },
    calls: () => {
      const made = calls;
      calls = 0;
      return made;
    },
  };
}

const bore = (id: string, u: string, diameter = '4') => ({
  id,
  label: `Bore ${id}`,
  op: 'hole',
  plane: { surface: 'base.end' },
  at: { kind: 'points', points: [[u, '0']] },
  diameter,
  depth: { kind: 'through' },
});
const soft = { id: 'soft', op: 'fillet', radius: '3', edges: [{ along: 'z' }] };
const HOLE = Math.PI * 4 * 10;

const volumeOf = (builder: RecipeBuilder, recipe: Recipe, values = {}, until?: string): number => {
  const built = builder.build(recipe, values, until);
  if (!built.ok) throw new Error(built.problem.message);
  const { volumeMm3 } = kernel.massProperties(built.value.shape);
  built.value.shape.free();
  return volumeMm3;
};

describe('building again', () => {
  it('cuts that follow each other are one operation; what did not change is not built again', () => {
    const { counted, calls } = counting();
    const builder = new RecipeBuilder(counted);
    const recipe = onPlate(bore('a', '-20'), bore('b', '0'), bore('c', '20'), soft);
    const first = volumeOf(builder, recipe);
    expect(calls()).toBe(2);
    expect(volumeOf(builder, recipe)).toBeCloseTo(first, 9);
    expect(calls()).toBe(0);
    const last = onPlate(bore('a', '-20'), bore('b', '0'), bore('c', '20'), { ...soft, radius: '4' });
    expect(volumeOf(builder, last)).toBeLessThan(first);
    expect(calls()).toBeLessThanOrEqual(2);
    expect(volumeOf(builder, onPlate(bore('a', '-20')), {}, 'a')).toBeCloseTo(PLATE_MM3 - HOLE, 6);
    builder.free();
  });

  it('a changed letter builds anew from the first step that uses it', () => {
    const { counted, calls } = counting();
    const builder = new RecipeBuilder(counted);
    const recipe = onPlate(soft, bore('a', 'A/4'));
    volumeOf(builder, recipe);
    calls();
    expect(volumeOf(builder, recipe, { A: '80' })).toBeCloseTo(80 * 40 * 10 - 4 * 9 * (1 - Math.PI / 4) * 10 - HOLE, 5);
    expect(calls()).toBe(2);
    builder.free();
  });

  it('stops at a step, and leaves out steps that are switched off', () => {
    const builder = new RecipeBuilder(kernel);
    const recipe = onPlate(bore('a', '-20'), { ...bore('b', '0'), off: true }, bore('c', '20'));
    expect(volumeOf(builder, recipe)).toBeCloseTo(PLATE_MM3 - 2 * HOLE, 6);
    expect(volumeOf(builder, recipe, {}, 'a')).toBeCloseTo(PLATE_MM3 - HOLE, 6);
    builder.free();
  });

  it('a step that fails leaves the part before it, and the right step is blamed', () => {
    const builder = new RecipeBuilder(kernel);
    const splitting = {
      id: 'saw',
      label: 'Saw cut',
      op: 'extrude',
      mode: 'cut',
      plane: { surface: 'base.end' },
      outlines: [{ shape: 'rectangle', center: ['0', '0'], width: '2', height: '100' }],
      extent: { kind: 'through' },
    };
    const built = builder.buildFar(onPlate(bore('a', '-20'), splitting, bore('b', '20'), soft));
    if (!built.ok) throw new Error(built.problem.message);
    const { part, unfinished } = built.value;
    expect(unfinished).toMatchObject({ stepId: 'saw', problem: { code: 'several-bodies' } });
    expect(kernel.massProperties(part!.shape).volumeMm3).toBeCloseTo(PLATE_MM3 - HOLE, 6);
    part!.shape.free();
    builder.free();
  });

  it('keeps level memory over many changes', () => {
    const builder = new RecipeBuilder(kernel);
    const change = (i: number) =>
      volumeOf(
        builder,
        onPlate(bore('a', '-20'), bore('b', String(i / 10), '3'), { ...soft, radius: String(1 + (i % 20) / 10) }),
      );
    for (let i = 0; i < 60; i++) change(i);
    const before = kernel.heapBytes();
    for (let i = 60; i < 120; i++) change(i);
    expect(kernel.heapBytes()).toBe(before);
    builder.free();
  });
});

describe('threads', () => {
  it('are kept with their wall and never cut', () => {
    const builder = new RecipeBuilder(kernel);
    const tapped = { ...bore('a', '0'), tapped: { designation: 'M5x0.8', length: '8' } };
    const built = builder.build(onPlate(tapped));
    if (!built.ok) throw new Error(built.problem.message);
    expect(built.value.threads).toMatchObject([
      { designation: 'M5x0.8', lengthMm: 8, external: false, surface: { kind: 'cylinder', radiusMm: 2 } },
    ]);
    expect(kernel.massProperties(built.value.shape).volumeMm3).toBeCloseTo(PLATE_MM3 - HOLE, 6);
    built.value.shape.free();
    const deep = builder.build(onPlate({ ...tapped, depth: { kind: 'blind', depth: '6' } }));
    expect(deep.ok ? null : deep.problem.code).toBe('thread-too-long');
    builder.free();
  });
});

describe('a builder that begins with a body', () => {
  const cube = (): { readonly body: Shape; readonly surfaces: NamedSurfaces } => {
    const plate = new RecipeBuilder(kernel).build(onPlate());
    if (!plate.ok) throw new Error(plate.problem.message);
    return { body: plate.value.shape, surfaces: new Map([['part.top', plate.value.surfaces.get('base.end')!]]) };
  };
  const drilled = (diameter: string) =>
    recipeOf([
      {
        id: 'bore',
        op: 'hole',
        plane: { surface: 'part.top' },
        at: { kind: 'points', points: [['0', '0']] },
        diameter,
        depth: { kind: 'through' },
      },
    ]);

  it('builds its steps on that body, by the names of its surfaces, and leaves it as it is', () => {
    const { body, surfaces } = cube();
    const builder = new RecipeBuilder(kernel, { key: 'cube', body, surfaces });
    expect(volumeOf(builder, drilled('4'))).toBeCloseTo(PLATE_MM3 - HOLE, 6);
    expect(volumeOf(builder, drilled('8'))).toBeCloseTo(PLATE_MM3 - 4 * HOLE, 6);
    builder.free();
    expect(kernel.massProperties(body).volumeMm3).toBeCloseTo(PLATE_MM3, 6);
    body.free();
  });

  it('gives that body itself where there are no steps', () => {
    const { body, surfaces } = cube();
    const builder = new RecipeBuilder(kernel, { key: 'cube', body, surfaces });
    expect(volumeOf(builder, recipeOf([]))).toBeCloseTo(PLATE_MM3, 6);
    builder.free();
    body.free();
  });

  it('does not take the parts of another body for its own', () => {
    const { body, surfaces } = cube();
    const small = kernel.common(body, [kernel.moved(body, IDENTITY, [20, 0, 0])]);
    const [whole, part] = [
      new RecipeBuilder(kernel, { key: 'whole', body, surfaces }),
      new RecipeBuilder(kernel, { key: 'part', body: small, surfaces }),
    ];
    expect(volumeOf(whole, drilled('4'))).toBeCloseTo(PLATE_MM3 - HOLE, 6);
    // 40 of 60 are left of the length.
    expect(volumeOf(part, drilled('4'))).toBeCloseTo((PLATE_MM3 * 2) / 3 - HOLE, 6);
    whole.free();
    part.free();
  });
});
