import { beforeAll, describe, expect, it } from 'vitest';

import type { Kernel } from '#core/kernel';
import type { Step } from '#core/recipe';
import { loadKernel } from '#runtime';

import { placedAlong, stretchAt, stretchedStart, type Stretch } from './index.ts';
import { recipeOf } from './reconstruct.ts';
import { stretched, takenApart } from './testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const plate = (width = '60', height = '40', depth = '10'): Step => ({
  id: 'plate',
  op: 'extrude',
  mode: 'add',
  plane: { base: 'XY' },
  outlines: [{ shape: 'corner-rectangle', corner: ['0', '0'], width, height }],
  extent: { kind: 'depth', depth },
});
const hole = (rest: Partial<Extract<Step, { op: 'hole' }>>): Step => ({
  id: 'bores',
  op: 'hole',
  plane: { surface: 'plate.end' },
  at: {
    kind: 'points',
    points: [
      ['10', '10'],
      ['50', '10'],
      ['10', '30'],
      ['50', '30'],
    ],
  },
  diameter: '8',
  depth: { kind: 'through' },
  ...rest,
});

/** 60 x 40 x 10. */
const PLATE_MM3 = 24_000;
const disk = (diameter: number): number => (Math.PI / 4) * diameter ** 2;

describe('a model is taken apart', () => {
  it('into holes of one size as one step, from the plane that they begin on', () => {
    const { steps, leftMm3, againMm3, readMm3 } = takenApart(kernel, [plate(), hole({})]);
    expect(steps).toMatchObject([
      { id: 'hole-1', label: '4 holes of 8 mm', op: 'hole', diameter: '8', depth: { kind: 'through' } },
    ]);
    expect(leftMm3).toBeCloseTo(PLATE_MM3, 6);
    expect(againMm3).toBeCloseTo(readMm3, 6);
  });

  it('into blind holes with their bottoms and recesses', () => {
    const at = (u: string): Partial<Extract<Step, { op: 'hole' }>> => ({ at: { kind: 'points', points: [[u, '20']] } });
    const { steps, leftMm3 } = takenApart(kernel, [
      plate('100', '40', '20'),
      hole({ id: 'a', ...at('10'), depth: { kind: 'blind', depth: '12', bottom: 'drill-point' } }),
      hole({ id: 'b', ...at('30'), diameter: '7', depth: { kind: 'blind', depth: '9' } }),
      hole({ id: 'c', ...at('50'), diameter: '6', counterbore: { diameter: '12', depth: '5' } }),
      hole({ id: 'd', ...at('80'), diameter: '5', countersink: { diameter: '11' } }),
    ]);
    expect(leftMm3).toBeCloseTo(80_000, 6);
    const by = (diameter: string) => steps.find((step) => step.op === 'hole' && step.diameter === diameter);
    expect(by('8')).toMatchObject({ depth: { kind: 'blind', depth: '12', bottom: 'drill-point' } });
    expect(by('7')).toMatchObject({ depth: { kind: 'blind', depth: '9' } });
    expect(by('6')).toMatchObject({ depth: { kind: 'through' }, counterbore: { diameter: '12', depth: '5' } });
    expect(by('5')).toMatchObject({ depth: { kind: 'through' }, countersink: { diameter: '11', angle: '90' } });
  });

  it('into rounds and chamfers, and the sharp edges that they were made on', () => {
    const rounds = takenApart(kernel, [plate(), { id: 'r', op: 'fillet', radius: '6', edges: [{ along: 'z' }] }]);
    expect(rounds.steps).toMatchObject([{ op: 'fillet', radius: '6', label: 'Rounds of 6 mm' }]);
    expect(rounds.leftMm3).toBeCloseTo(PLATE_MM3, 6);
    const chamfer: Step = { id: 'b', op: 'chamfer', size: '3', edges: [{ between: ['plate.end', 'plate.left'] }] };
    const chamfers = takenApart(kernel, [plate(), chamfer]);
    expect(chamfers.steps).toMatchObject([{ op: 'chamfer', size: '3', label: 'Chamfer of 3 mm' }]);
    expect(chamfers.leftMm3).toBeCloseTo(PLATE_MM3, 6);
  });

  it('into chamfers and rounds of a shaft, and a hole across it', () => {
    const shaft: Step = {
      id: 'shaft',
      op: 'extrude',
      mode: 'add',
      plane: { base: 'XY' },
      outlines: [{ shape: 'circle', center: ['0', '0'], diameter: '20' }],
      extent: { kind: 'depth', depth: '50' },
    };
    const across: Step = {
      id: 'pin',
      op: 'hole',
      plane: { base: 'XZ' },
      at: { kind: 'points', points: [['0', '25']] },
      diameter: '6',
      depth: { kind: 'through' },
    };
    const { steps, leftMm3, againMm3, readMm3 } = takenApart(kernel, [
      shaft,
      across,
      { id: 'end', op: 'chamfer', size: '2', edges: [{ between: ['shaft.end', 'shaft.wall'] }] },
    ]);
    expect(steps.map(({ label }) => label).sort()).toEqual(['Chamfer of 2 mm', 'Hole of 6 mm', 'Round of 20 mm']);
    // The shaft itself stays as a core of 45 % of its diameter.
    expect(leftMm3).toBeCloseTo(disk(9) * 50, 3);
    expect(againMm3).toBeCloseTo(readMm3, 3);
  });

  it('into holes on a circle, also where one place is free', () => {
    const circle: Partial<Extract<Step, { op: 'hole' }>> = {
      at: { kind: 'bolt-circle', center: ['30', '20'], diameter: '26', count: '6', startAngle: '30', skip: [2] },
      diameter: '4',
    };
    const { steps } = takenApart(kernel, [plate(), hole(circle)]);
    expect(steps).toMatchObject([
      { label: '5 holes of 4 mm', at: { kind: 'bolt-circle', center: ['30', '20'], diameter: '26', count: '6' } },
    ]);
    expect(steps[0]).toHaveProperty('at.skip.length', 1);
  });

  it('into pockets, slotted holes and bosses', () => {
    const onTop = (id: string, mode: 'add' | 'cut', depth: string | null, outline: object): Step =>
      ({
        id,
        op: 'extrude',
        mode,
        plane: { surface: 'plate.end' },
        outlines: [outline],
        extent: depth === null ? { kind: 'through' } : { kind: 'depth', depth },
      }) as Step;
    const { steps, leftMm3 } = takenApart(kernel, [
      plate('120'),
      onTop('pocket', 'cut', '4', { shape: 'rectangle', center: ['20', '20'], width: '20', height: '24' }),
      onTop('slot', 'cut', null, { shape: 'slot', center: ['60', '20'], length: '24', width: '8' }),
      onTop('boss', 'add', '7', { shape: 'circle', center: ['100', '20'], diameter: '16' }),
    ]);
    expect(leftMm3).toBeCloseTo(48_000, 6);
    expect(steps).toHaveLength(3);
    expect(steps).toContainEqual(
      expect.objectContaining({
        label: 'Pocket, 4 mm deep',
        mode: 'cut',
        outlines: [{ shape: 'rectangle', center: ['20', '20'], width: '20', height: '24' }],
        extent: { kind: 'depth', depth: '4' },
      }),
    );
    expect(steps).toContainEqual(expect.objectContaining({ id: 'slotted-hole-1', extent: { kind: 'through' } }));
    expect(steps).toContainEqual(
      expect.objectContaining({ id: 'boss-1', mode: 'add', extent: { kind: 'depth', depth: '7' } }),
    );
  });

  it('not where it cannot be proved: what is left keeps the feature', () => {
    // A hole that breaks out of the side is no plain plug.
    const { steps, leftMm3, readMm3 } = takenApart(kernel, [
      plate(),
      hole({ at: { kind: 'points', points: [['2', '20']] } }),
    ]);
    expect(steps).toEqual([]);
    expect(leftMm3).toBeCloseTo(readMm3, 6);
  });
});

describe('a model is stretched', () => {
  const stretchedVolume = (stretch: Stretch): number => {
    const { volumeMm3, centroidMm } = stretched(kernel, [plate(), hole({})], stretch);
    expect(centroidMm[1]).toBeCloseTo(20, 6);
    return volumeMm3;
  };
  const holes = 4 * disk(8) * 10;

  it('with its holes on both sides of the place', () => {
    expect(stretchedVolume({ axis: 0, atMm: 30, lowByMm: 0, highByMm: 20 })).toBeCloseTo(80 * 40 * 10 - holes, 6);
    expect(stretchedVolume({ axis: 0, atMm: 20, lowByMm: 5, highByMm: -5 })).toBeCloseTo(50 * 40 * 10 - holes, 6);
  });

  it('where most other sizes stay as they are: near the end for a length, between the holes for their distance', () => {
    const { start, steps, solid: body } = takenApart(kernel, [plate(), hole({})]);
    const part = { body, placed: placedAlong(recipeOf('mm', steps), start.surfaces, 0) };
    const toHole = { fromMm: 0, toMm: 10 };
    const apart = { fromMm: 10, toMm: 50 };
    const length = stretchAt(part, 0, { fromMm: 0, toMm: 60 }, [toHole, apart]);
    expect(length).toEqual({ fromMm: 50, toMm: 60 });
    const between = stretchAt(part, 0, apart, [toHole]);
    expect(between).toEqual(apart);
  });

  it('not where its section changes', () => {
    const { start } = takenApart(kernel, [
      plate(),
      {
        id: 'top',
        op: 'loft',
        mode: 'add',
        plane: { surface: 'plate.end' },
        outline: { shape: 'rectangle', center: ['30', '20'], width: '40', height: '30' },
        distance: '30',
        to: { shape: 'rectangle', center: ['30', '20'], width: '20', height: '10' },
      },
    ]);
    expect(() => stretchedStart(kernel, start, { axis: 2, atMm: 20, lowByMm: 0, highByMm: -5 })).toThrow(/section/);
  });
});
