import { beforeAll, describe, expect, it } from 'vitest';

import type { Kernel } from '#core/kernel';
import type { Step, StepOf } from '#core/recipe';
import { loadKernel } from '#runtime';

import { cutAt, expressionOf, placedAlong, type Stretch } from './index.ts';
import { recipeOf } from './reconstruct.ts';
import { stretched, takenApart } from './testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

type Outline = StepOf<'extrude'>['outlines'][number];
const extrude = (
  id: string,
  mode: 'add' | 'cut',
  plane: StepOf<'extrude'>['plane'],
  depth: string,
  outline: Outline,
): Step => ({
  id,
  op: 'extrude',
  mode,
  plane,
  outlines: [outline],
  extent: { kind: 'depth', depth },
});
/** 100 x 40 x 20, with its corner in the origin. */
const BLOCK = extrude('block', 'add', { base: 'XY' }, '20', {
  shape: 'corner-rectangle',
  corner: ['0', '0'],
  width: '100',
  height: '40',
});
const onTop = (id: string, outline: Outline, depth = '8'): Step =>
  extrude(id, 'cut', { surface: 'block.end' }, depth, outline);

describe('what is recognized of a part', () => {
  it('is a rib, by the outline of its side', () => {
    const angle = extrude('angle', 'add', { base: 'XZ' }, '30', {
      shape: 'path',
      start: ['0', '0'],
      segments: [
        { move: 'line', to: ['60', '0'] },
        { move: 'line', to: ['60', '8'] },
        { move: 'line', to: ['8', '8'] },
        { move: 'line', to: ['8', '50'] },
        { move: 'line', to: ['0', '50'] },
        { move: 'close' },
      ],
    });
    const rib = extrude('rib', 'add', { base: 'XZ', offset: '12' }, '6', {
      shape: 'path',
      start: ['8', '8'],
      segments: [{ move: 'line', to: ['40', '8'] }, { move: 'line', to: ['8', '40'] }, { move: 'close' }],
    });
    const { steps, leftMm3 } = takenApart(kernel, [angle, rib]);
    expect(steps.map(({ label }) => label)).toContain('Rib of 6 mm');
    // The angle without its rib: two legs of 60 and 42 by 8, 30 wide.
    expect(leftMm3).toBeCloseTo((60 * 8 + 42 * 8) * 30, 4);
  });

  it('is a groove around a shaft, and one in a bore', () => {
    const ring = (id: string, mode: 'add' | 'cut', z: string, depth: string, outer: string, inner: string): Step =>
      extrude(id, mode, { base: 'XY', offset: z }, depth, {
        shape: 'difference',
        parts: [
          { shape: 'circle', center: ['0', '0'], diameter: outer },
          { shape: 'circle', center: ['0', '0'], diameter: inner },
        ],
      });
    const { steps } = takenApart(kernel, [
      ring('sleeve', 'add', '0', '40', '30', '16'),
      ring('outside', 'cut', '24', '4', '34', '26'),
    ]);
    expect(steps).toContainEqual(
      expect.objectContaining({ label: 'Groove, 4 mm wide', mode: 'cut', extent: { kind: 'depth', depth: '4' } }),
    );
  });

  it('is the same in inches, in the numbers that a drawing in inches gives', () => {
    const plate = extrude('plate', 'add', { base: 'XY' }, '0.5', {
      shape: 'corner-rectangle',
      corner: ['0', '0'],
      width: '4',
      height: '2',
    });
    const bore: Step = {
      id: 'bore',
      op: 'hole',
      plane: { surface: 'plate.end' },
      at: { kind: 'points', points: [['1.25', '0.75']] },
      diameter: '0.344',
      depth: { kind: 'through' },
    };
    expect(takenApart(kernel, [plate, bore], 'in').steps).toMatchObject([
      { label: 'Hole of 0.344 in', diameter: '0.344', at: { kind: 'points', points: [['1.25', '0.75']] } },
    ]);
  });

  it('is a round at the foot of a boss, and one on the rim of it', () => {
    const boss = extrude('boss', 'add', { surface: 'block.end' }, '12', {
      shape: 'circle',
      center: ['50', '20'],
      diameter: '20',
    });
    const { steps, leftMm3 } = takenApart(kernel, [
      BLOCK,
      boss,
      { id: 'foot', op: 'fillet', radius: '3', edges: [{ between: ['block.end', 'boss.wall'] }] },
      { id: 'rim', op: 'fillet', radius: '2', edges: [{ between: ['boss.end', 'boss.wall'] }] },
    ]);
    expect(steps.map(({ label }) => label)).toEqual([
      'Boss of 20 mm, 12 mm high',
      expect.stringMatching(/^Rounds/),
      expect.stringMatching(/^Rounds/),
    ]);
    expect(leftMm3).toBeCloseTo(80_000, 4);
  });
});

describe('numbers of what is recognized', () => {
  it.each([
    [9, '9'],
    [0.344, '0.344'],
    [4.500000000001, '4.5'],
    [-0.0000000001, '0'],
    [1 / 3, '0.33333333'],
  ])('%d is written as %s', (value, text) => {
    expect(expressionOf(value)).toBe(text);
  });
});

describe('a part that is stretched', () => {
  const rectangle: Outline = { shape: 'rectangle', center: ['50', '20'], width: '40', height: '20' };
  const longer: Stretch = { axis: 0, atMm: 50, lowByMm: 0, highByMm: 30 };

  it('draws out a pocket that lies on both sides of the place', () => {
    // 130 x 40 x 20 less a pocket of 70 x 20 x 8.
    expect(stretched(kernel, [BLOCK, onTop('pocket', rectangle)], longer).volumeMm3).toBeCloseTo(104_000 - 11_200, 4);
  });

  it('moves what lies behind the place, whole', () => {
    const aside: Outline = { shape: 'rectangle', center: ['80', '20'], width: '20', height: '20' };
    const slot: Outline = { shape: 'slot', center: ['20', '20'], length: '20', width: '8' };
    const { volumeMm3, centroidMm } = stretched(kernel, [BLOCK, onTop('pocket', aside), onTop('slot', slot)], longer);
    const [pocket, slotted] = [20 * 20 * 8, (12 * 8 + Math.PI * 16) * 8];
    expect(volumeMm3).toBeCloseTo(104_000 - pocket - slotted, 4);
    // The pocket's middle is at 110 now, that of the slot stayed at 20.
    expect(centroidMm[0] * volumeMm3).toBeCloseTo(104_000 * 65 - pocket * 110 - slotted * 20, 2);
  });

  it('keeps the depth of a blind hole whose plane moves', () => {
    const hole: Step = {
      id: 'hole',
      op: 'hole',
      plane: { surface: 'block.end' },
      at: { kind: 'points', points: [['30', '20']] },
      diameter: '10',
      depth: { kind: 'blind', depth: '6' },
    };
    const higher: Stretch = { axis: 2, atMm: 5, lowByMm: 0, highByMm: 10 };
    expect(stretched(kernel, [BLOCK, hole], higher).volumeMm3).toBeCloseTo(120_000 - Math.PI * 25 * 6, 4);
  });

  it('shortens to both sides of its middle, and takes its corner rounds along', () => {
    const rounds: Step = { id: 'rounds', op: 'fillet', radius: '5', edges: [{ along: 'z' }] };
    const { volumeMm3, centroidMm } = stretched(kernel, [BLOCK, rounds], {
      axis: 0,
      atMm: 45,
      lowByMm: 5,
      highByMm: -5,
    });
    // Each square corner loses r^2 (1 - pi / 4).
    expect(volumeMm3).toBeCloseTo((90 * 40 - 4 * 25 * (1 - Math.PI / 4)) * 20, 4);
    expect(centroidMm[0]).toBeCloseTo(50, 6);
  });

  it('knows where its steps place something', () => {
    const { start, steps } = takenApart(kernel, [BLOCK, onTop('pocket', rectangle)]);
    expect(placedAlong(recipeOf('mm', steps), start.surfaces, 0)).toEqual([{ fromMm: 30, toMm: 70 }]);
    expect(placedAlong(recipeOf('mm', steps), start.surfaces, 1)).toEqual([{ fromMm: 10, toMm: 30 }]);
  });

  it('is cut in the middle to grow, and loses what lies in the middle when it shrinks', () => {
    expect(cutAt({ fromMm: 10, toMm: 30 }, 8)).toBe(20);
    // From 16 to 24 is taken out.
    expect(cutAt({ fromMm: 10, toMm: 30 }, -8)).toBe(16);
  });
});
