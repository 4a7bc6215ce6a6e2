import { beforeAll, describe, expect, it } from 'vitest';

import type { Kernel } from '#core/kernel';
import { loadKernel } from '#runtime';

import { measured, onPlate, PLATE_MM3, problemOf, recipeOf } from './testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const volume = (...steps: readonly unknown[]): number => measured(kernel, onPlate(...steps)).volumeMm3;
const circle = (u: string, v: string, diameter: string) => ({ shape: 'circle', center: [u, v], diameter });
const box = (center: [string, string], width: string, height: string) => ({
  shape: 'rectangle',
  center,
  width,
  height,
});
const top = { surface: 'base.end' };
const rod = (extent: object, more: object = {}) => ({
  id: 'rod',
  op: 'extrude',
  mode: 'add',
  plane: top,
  outlines: [circle('0', '0', '10')],
  extent,
  ...more,
});
const DISC = Math.PI * 25;

describe('an extrusion', () => {
  it('goes a depth, to both sides evenly or unevenly, from an offset, or the other way', () => {
    expect(volume(rod({ kind: 'depth', depth: '7' }))).toBeCloseTo(PLATE_MM3 + DISC * 7, 6);
    // Half of 30 goes up; of the other half, 10 lie in the plate and 5 come out below.
    expect(volume(rod({ kind: 'symmetric', depth: '30' }))).toBeCloseTo(PLATE_MM3 + DISC * (15 + 5), 6);
    expect(volume(rod({ kind: 'two-sided', depth: '4', back: '13' }))).toBeCloseTo(PLATE_MM3 + DISC * (4 + 3), 6);
    expect(volume(rod({ kind: 'depth', depth: '9' }, { start: '-3' }))).toBeCloseTo(PLATE_MM3 + DISC * 6, 6);
    expect(volume(rod({ kind: 'depth', depth: '12' }, { reversed: true }))).toBeCloseTo(PLATE_MM3 + DISC * 2, 6);
  });

  it('through all from a face cuts what lies ahead, not what stands on the other side', () => {
    const arms = {
      id: 'arms',
      op: 'extrude',
      mode: 'add',
      plane: { base: 'XY' },
      outlines: [box(['-25', '0'], '10', '30'), box(['25', '0'], '10', '30')],
      extent: { kind: 'depth', depth: '40' },
    };
    const inner = {
      id: 'eye',
      op: 'extrude',
      mode: 'cut',
      plane: { surface: 'arms.1.right' },
      outlines: [circle('0', '30', '8')],
      extent: { kind: 'through' },
    };
    expect(volume(arms, inner)).toBeCloseTo(PLATE_MM3 + 2 * 10 * 30 * 30 - Math.PI * 16 * 10, 6);
  });

  const roof = {
    id: 'roof',
    op: 'extrude',
    mode: 'add',
    plane: { base: 'XZ' },
    outlines: [
      {
        shape: 'path',
        start: ['-30', '0'],
        segments: [
          { move: 'line-by', by: ['0', '40'] },
          { move: 'line-by', by: ['60', '0'] },
          { move: 'line-by', by: ['0', '-10'] },
          { move: 'line', to: ['-20', '30'] },
          { move: 'line', to: ['-20', '0'] },
          { move: 'close' },
        ],
      },
    ],
    extent: { kind: 'symmetric', depth: '30' },
  };

  it('up to the next surface ends under a roof; up to a chosen face ends there', () => {
    const hood = PLATE_MM3 + 10 * 30 * 30 + 50 * 10 * 30;
    expect(volume(roof)).toBeCloseTo(hood, 6);
    expect(volume(roof, rod({ kind: 'to-next' }))).toBeCloseTo(hood + DISC * 20, 5);
    expect(volume(roof, rod({ kind: 'to-surface', surface: 'roof.side4' }))).toBeCloseTo(hood + DISC * 20, 5);
    expect(volume(roof, rod({ kind: 'to-surface', surface: 'roof.side4', offset: '-2' }))).toBeCloseTo(
      hood + DISC * 18,
      5,
    );
  });

  it('up to a slanted face ends along it', () => {
    const wedge = {
      id: 'wedge',
      op: 'extrude',
      mode: 'add',
      plane: { base: 'XZ' },
      outlines: [
        {
          shape: 'path',
          start: ['-30', '10'],
          segments: [
            { move: 'line', to: ['-30', '50'] },
            { move: 'line', to: ['30', '50'] },
            { move: 'line', to: ['30', '40'] },
            { move: 'line', to: ['-20', '20'] },
            { move: 'line', to: ['-20', '10'] },
            { move: 'close' },
          ],
        },
      ],
      extent: { kind: 'symmetric', depth: '30' },
    };
    const without = volume(wedge);
    // The slanted face runs from z = 20 at x = -20 to z = 40 at x = 30: at x = 0 it is at 28, 18 above the plate.
    expect(volume(wedge, rod({ kind: 'to-surface', surface: 'wedge.side4' })) - without).toBeCloseTo(DISC * 18, 4);
  });

  it('without anything ahead says so', () => {
    expect(problemOf(kernel, onPlate(rod({ kind: 'to-next' }))).code).toBe('nothing-ahead');
    expect(problemOf(kernel, onPlate(rod({ kind: 'to-surface', surface: 'base.right' }))).code).toBe('never-meets');
  });
});

describe('a revolved outline', () => {
  const turned = (more: object) =>
    recipeOf([
      {
        id: 'ring',
        op: 'revolve',
        mode: 'add',
        plane: { base: 'XZ' },
        outlines: [box(['20', '0'], '4', '6')],
        axis: 'v',
        ...more,
      },
    ]);

  it('makes a ring, several outlines at once, or a part of a turn with two flat ends', () => {
    // Pappus: area 24 times the way of its centroid, 2 pi 20.
    const ring = 24 * 2 * Math.PI * 20;
    const whole = measured(kernel, turned({}));
    expect(whole.volumeMm3).toBeCloseTo(ring, 5);
    expect(whole.lost).toEqual([]);
    const quarter = measured(kernel, turned({ angle: '90' }));
    expect(quarter.volumeMm3).toBeCloseTo(ring / 4, 5);
    expect(quarter.lost).toEqual([]);
    const two = turned({ outlines: [box(['20', '0'], '4', '6'), box(['20', '4'], '8', '2')] });
    expect(measured(kernel, two).volumeMm3).toBeCloseTo((24 + 16) * 2 * Math.PI * 20, 5);
  });

  it('about a line through two points; cones, balls and tori keep their names', () => {
    const aside = turned({ axis: { from: ['10', '0'], to: ['10', '1'] } });
    expect(measured(kernel, aside).volumeMm3).toBeCloseTo(24 * 2 * Math.PI * 10, 5);
    const knob = turned({
      outlines: [
        {
          shape: 'path',
          start: ['0', '0'],
          segments: [
            { move: 'line', to: ['10', '0'] },
            { move: 'line', to: ['6', '12'] },
            { move: 'arc-around', center: ['0', '12'], angle: '90' },
            { move: 'close' },
          ],
        },
      ],
    });
    const { volumeMm3, lost } = measured(kernel, knob);
    // A frustum of height 12 with radii 10 and 6, and half a ball of radius 6.
    expect(volumeMm3).toBeCloseTo((Math.PI * 12 * (100 + 60 + 36)) / 3 + (2 * Math.PI * 216) / 3, 4);
    expect(lost).toEqual([]);
  });

  it('on both sides of its axis is refused', () => {
    expect(problemOf(kernel, turned({ outlines: [box(['1', '0'], '4', '6')] })).code).toBe('crosses-axis');
  });
});

describe('a hole', () => {
  const hole = (more: object) => ({
    id: 'bore',
    op: 'hole',
    plane: top,
    at: { kind: 'points', points: [['0', '0']] },
    diameter: '8',
    depth: { kind: 'through' },
    ...more,
  });
  const lost = (more: object) => measured(kernel, onPlate(hole(more))).lost;

  it('with a drill point is deeper than its wall by the point', () => {
    const depth = { kind: 'blind', depth: '5', bottom: 'drill-point' };
    const point = 4 / Math.tan((59 * Math.PI) / 180);
    expect(volume(hole({ depth }))).toBeCloseTo(PLATE_MM3 - Math.PI * 16 * (5 + point / 3), 5);
    expect(lost({ depth })).toEqual([]);
  });

  it('with a countersink loses the cone around its mouth', () => {
    // 90 degrees: the cone is (14 - 8) / 2 = 3 deep.
    const sunk = (Math.PI * 3 * (49 + 28 + 16)) / 3 + Math.PI * 16 * 7;
    expect(volume(hole({ countersink: { diameter: '14' } }))).toBeCloseTo(PLATE_MM3 - sunk, 5);
    expect(lost({ countersink: { diameter: '14' } })).toEqual([]);
  });

  it('through one wall leaves the next one whole', () => {
    const channel = {
      id: 'channel',
      op: 'extrude',
      mode: 'cut',
      plane: { surface: 'base.right' },
      outlines: [box(['0', '5'], '20', '4')],
      extent: { kind: 'through' },
    };
    const hollow = PLATE_MM3 - 60 * 20 * 4;
    expect(volume(channel, hole({ depth: { kind: 'wall' } }))).toBeCloseTo(hollow - Math.PI * 16 * 3, 5);
    expect(volume(channel, hole({}))).toBeCloseTo(hollow - Math.PI * 16 * 6, 5);
  });

  it('sits on the axis of a round, or on a bolt circle with places left out', () => {
    const boss = rod({ kind: 'depth', depth: '6' }, { outlines: [circle('7', '3', '20')] });
    const at = { kind: 'concentric', with: ['rod.wall'] };
    const tube = PLATE_MM3 + Math.PI * 100 * 6 - Math.PI * 16 * 16;
    expect(volume(boss, hole({ plane: { surface: 'rod.end' }, at }))).toBeCloseTo(tube, 5);
    const ring = { kind: 'bolt-circle', center: ['0', '0'], diameter: '20', count: '6', skip: [2, 5] };
    expect(volume(hole({ at: ring, diameter: '3' }))).toBeCloseTo(PLATE_MM3 - 4 * Math.PI * 2.25 * 10, 5);
  });

  it('refuses sizes that contradict each other', () => {
    const code = (more: object) => problemOf(kernel, onPlate(hole(more))).code;
    expect(code({ counterbore: { diameter: '7', depth: '2' } })).toBe('counterbore-too-small');
    expect(code({ countersink: { diameter: '14' }, counterbore: { diameter: '20', depth: '1' } })).toBe('two-recesses');
    expect(code({ countersink: { diameter: '14', angle: '180' } })).toBe('bad-angle');
    expect(code({ depth: { kind: 'blind', depth: '2' }, counterbore: { diameter: '12', depth: '3' } })).toBe(
      'counterbore-too-deep',
    );
    expect(code({ at: { kind: 'concentric', with: ['base.right'] } })).toBe('surface-not-round');
  });
});

describe('rounds and chamfers', () => {
  const corners = ['left', 'right'].flatMap((u) =>
    ['lower', 'upper'].map((v) => ({ between: [`base.${u}`, `base.${v}`] })),
  );
  // What a round of radius r takes from a right corner: r2 - pi r2 / 4.
  const nook = (r: number) => r * r * (1 - Math.PI / 4);

  it('edges are chosen by their surfaces, by direction, around a face, or by a point', () => {
    const fillet = (edges: unknown[]) => ({ id: 'soft', op: 'fillet', radius: '4', edges });
    const all = PLATE_MM3 - 4 * nook(4) * 10;
    expect(volume(fillet(corners))).toBeCloseTo(all, 5);
    expect(volume(fillet([{ along: 'z', count: '4' }]))).toBeCloseTo(all, 5);
    expect(volume(fillet([{ near: ['30', '15', '5'] }]))).toBeCloseTo(PLATE_MM3 - nook(4) * 10, 5);
    expect(volume({ id: 'soft', op: 'chamfer', size: '1', edges: [{ around: 'base.end' }] })).toBeCloseTo(
      // Two long and two short prisms; at each corner both would take the same pyramid of 1/3.
      PLATE_MM3 - (0.5 * 2 * (60 + 30) - (4 * 1) / 3),
      5,
    );
  });

  it('one note rounds every edge save those of a face', () => {
    const soft = { id: 'soft', op: 'fillet', radius: '2', edges: [{ every: 'convex', except: ['base.start'] }] };
    const { volumeMm3, lost } = measured(kernel, onPlate(soft));
    // A plate with rounded top and sides: core, slabs, quarter rods and eighths of a ball.
    const core = 56 * 26 * 10 + 2 * (56 + 26) * 2 * 8;
    expect(volumeMm3).toBeCloseTo(
      core + Math.PI * 4 * 8 + (Math.PI * 4 * 2 * (56 + 26)) / 4 + (Math.PI * 8 * 2) / 3,
      4,
    );
    expect(lost).toEqual([]);
  });

  it('a chamfer has two sizes, the first on the named face, or a size and an angle', () => {
    const chamfer = (more: object) => ({
      id: 'chamfer',
      op: 'chamfer',
      size: '2',
      edges: [{ between: ['base.end', 'base.right'] }],
      ...more,
    });
    const { volumeMm3, centroidMm, lost } = measured(kernel, onPlate(chamfer({ other: '5' })));
    expect(volumeMm3).toBeCloseTo(PLATE_MM3 - 5 * 30, 5);
    expect(lost).toEqual([]);
    // The triangle cut away has its centroid a third of 2 in from the side and a third of 5 below the top.
    expect(centroidMm[2]).toBeCloseTo((PLATE_MM3 * 5 - 150 * (10 - 5 / 3)) / (PLATE_MM3 - 150), 6);
    const turned = measured(kernel, onPlate(chamfer({ other: '5', on: 'base.right' })));
    expect(turned.centroidMm[2]).toBeCloseTo((PLATE_MM3 * 5 - 150 * (10 - 2 / 3)) / (PLATE_MM3 - 150), 6);
    expect(volume(chamfer({ angle: '30' }))).toBeCloseTo(PLATE_MM3 - 2 * Math.tan(Math.PI / 6) * 30, 5);
    expect(problemOf(kernel, onPlate(chamfer({ other: '1', angle: '30' }))).code).toBe('chamfer-sizes');
  });

  it('a full round takes the place of the middle of three faces', () => {
    const full = { id: 'nose', op: 'full-round', sides: ['base.lower', 'base.upper'], middle: 'base.right' };
    const { volumeMm3, lost } = measured(kernel, onPlate(full));
    expect(volumeMm3).toBeCloseTo(PLATE_MM3 - (15 * 30 - (Math.PI * 225) / 2) * 10, 5);
    expect(lost).toEqual(['base.right']);
  });

  it('an edge that is not there is refused with a suggestion', () => {
    const far = { id: 'soft', op: 'fillet', radius: '1', edges: [{ between: ['base.left', 'base.right'] }] };
    const { code, message } = problemOf(kernel, onPlate(far));
    expect(code).toBe('no-edge');
    expect(message).toContain('base.left meets base.start, base.end, base.lower, base.upper');
    const few = { id: 'soft', op: 'fillet', radius: '1', edges: [{ along: 'z', count: '3' }] };
    expect(problemOf(kernel, onPlate(few)).message).toContain('3 edges along z were expected, the part has 4');
  });
});

describe('ribs and lofts', () => {
  const upright = {
    id: 'upright',
    op: 'extrude',
    mode: 'add',
    plane: { surface: 'base.left' },
    outlines: [{ shape: 'corner-rectangle', corner: ['-15', '-40'], width: '30', height: '40' }],
    extent: { kind: 'depth', depth: '8' },
  };

  it('a rib fills the corner behind its line', () => {
    const rib = { id: 'web', op: 'rib', plane: { base: 'XZ' }, from: ['-30', '30'], to: ['10', '10'], thickness: '5' };
    const without = volume(upright);
    expect(volume(upright, { ...rib, side: 'right' }) - without).toBeCloseTo((40 * 20 * 5) / 2, 4);
    expect(problemOf(kernel, onPlate(upright, { ...rib, side: 'left' })).code).toBe('rib-open');
  });

  it('a loft between two circles is a cone', () => {
    const cone = {
      id: 'spout',
      op: 'loft',
      mode: 'add',
      plane: top,
      outline: circle('0', '0', '20'),
      distance: '12',
      to: circle('0', '0', '10'),
    };
    const { volumeMm3, lost } = measured(kernel, onPlate(cone));
    expect(volumeMm3).toBeCloseTo(PLATE_MM3 + (Math.PI * 12 * (100 + 50 + 25)) / 3, 4);
    expect(lost).toEqual(['spout.start']);
  });
});

describe('copies', () => {
  const pin = rod({ kind: 'depth', depth: '5' }, { outlines: [circle('20', '8', '4')] });
  const bore = {
    id: 'bore',
    op: 'hole',
    plane: top,
    at: { kind: 'points', points: [['20', '-8']] },
    diameter: '3',
    depth: { kind: 'through' },
  };
  const [PIN, BORE] = [Math.PI * 4 * 5, Math.PI * 2.25 * 10];

  it('of steps: mirrored, in rows, around an axis, with places left out', () => {
    const steps = ['rod', 'bore'];
    const mirrored = onPlate(pin, bore, { id: 'twin', op: 'mirror', plane: { base: 'YZ' }, steps });
    const twin = measured(kernel, mirrored);
    expect(twin.volumeMm3).toBeCloseTo(PLATE_MM3 + 2 * PIN - 2 * BORE, 5);
    // Its foot lies within the plate.
    expect(twin.lost).toEqual(['rod.start', 'twin.rod.start']);
    const row = (more: object) => ({
      id: 'row',
      op: 'linear-pattern',
      steps,
      direction: { base: 'X' },
      count: '3',
      spacing: '-15',
      ...more,
    });
    expect(volume(pin, bore, row({}))).toBeCloseTo(PLATE_MM3 + 3 * PIN - 3 * BORE, 5);
    expect(volume(pin, bore, row({ skip: [2] }))).toBeCloseTo(PLATE_MM3 + 2 * PIN - 2 * BORE, 5);
    const second = { direction: { base: 'Y' }, count: '2', spacing: '-4' };
    expect(volume(pin, row({ steps: ['rod'], second }))).toBeCloseTo(PLATE_MM3 + 6 * PIN, 5);
    const ring = { id: 'ring', op: 'circular-pattern', steps: ['rod'], axis: { base: 'Z' }, count: '2' };
    expect(volume(pin, ring)).toBeCloseTo(PLATE_MM3 + 2 * PIN, 5);
    const half = { ...ring, count: '3', angle: '180', skip: [2] };
    expect(volume(pin, half)).toBeCloseTo(PLATE_MM3 + 2 * PIN, 5);
  });

  it('of the whole body', () => {
    const half = { id: 'whole', op: 'mirror', plane: { surface: 'base.right' } };
    const { volumeMm3, centroidMm } = measured(kernel, onPlate(bore, half));
    expect(volumeMm3).toBeCloseTo(2 * (PLATE_MM3 - BORE), 5);
    expect(centroidMm[0]).toBeCloseTo(30, 6);
  });

  it('of a round are refused, and of the first place too', () => {
    const soft = { id: 'soft', op: 'fillet', radius: '2', edges: [{ along: 'z' }] };
    const row = { id: 'row', op: 'linear-pattern', direction: { base: 'X' }, count: '2', spacing: '5' };
    expect(problemOf(kernel, onPlate(soft, { ...row, steps: ['soft'] })).code).toBe('cannot-copy');
    expect(problemOf(kernel, onPlate(pin, { ...row, steps: ['rod'], skip: [1] })).code).toBe('skips-original');
  });
});

describe('planes and axes', () => {
  const on = (plane: unknown, ...datums: unknown[]) =>
    measured(kernel, onPlate(...datums, rod({ kind: 'depth', depth: '20' }, { plane }))).volumeMm3 - PLATE_MM3;

  it('offset, middle, angled and tangent', () => {
    const datum = (by: unknown) => ({ id: 'datum', op: 'plane', by });
    const plane = { plane: 'datum' };
    expect(on(plane, datum({ kind: 'offset', from: top, distance: '-5' }))).toBeCloseTo(DISC * 15, 5);
    expect(on(plane, datum({ kind: 'middle', between: ['base.end', 'base.start'] }))).toBeCloseTo(DISC * 15, 5);
    // Turned by 90 degrees about the edge of top and right side, it looks along x or against it: the rod hangs half
    // out of the plate, its axis in the top face.
    const angled = on(plane, datum({ kind: 'angled', from: 'base.end', about: 'base.right', angle: '90' }));
    expect([DISC * 20, (DISC * 20) / 2].some((value) => Math.abs(value - angled) < 1e-4)).toBe(true);
    const boss = rod({ kind: 'depth', depth: '20' }, { id: 'boss', outlines: [circle('0', '0', '12')] });
    const tangent = datum({ kind: 'tangent', to: 'boss.wall', facing: { base: 'YZ' } });
    const nub = rod({ kind: 'depth', depth: '4' }, { plane, outlines: [box(['0', '20'], '2', '2')], start: '-1' });
    expect(volume(boss, tangent, nub) - PLATE_MM3 - Math.PI * 36 * 20).toBeGreaterThan(3 * 4);
  });

  it('an axis where two planes meet carries a ring of copies', () => {
    const line = { id: 'line', op: 'axis', by: { kind: 'meeting', between: [{ base: 'XZ' }, { base: 'YZ' }] } };
    const pin = rod({ kind: 'depth', depth: '5' }, { outlines: [circle('10', '0', '4')] });
    const ring = { id: 'ring', op: 'circular-pattern', steps: ['rod'], axis: { axis: 'line' }, count: '4' };
    expect(volume(line, pin, ring)).toBeCloseTo(PLATE_MM3 + 4 * Math.PI * 4 * 5, 5);
  });

  it('that do not exist are named with those that do', () => {
    expect(
      problemOf(kernel, onPlate(rod({ kind: 'depth', depth: '5' }, { plane: { plane: 'nowhere' } }))).message,
    ).toBe('Step "rod": There is no plane "nowhere"; earlier steps made none.');
  });
});
