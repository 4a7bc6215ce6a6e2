import { beforeAll, describe, expect, it } from 'vitest';

import type { Check } from '#core/check';
import { blankExercise, type Exercise } from '#core/exercise';
import type { Recipe } from '#core/recipe';
import type { Kernel } from '#core/kernel';
import { applyEdits, mistakesOf } from '#core/mistake';
import type { MistakeKind } from '#core/cause';
import { unwrap } from '#core/problem';
import { loadKernel } from '#runtime';

import { measured, onPlate, PLATE_MM3, recipeOf } from '../recipe/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const exerciseOf = (recipe: Recipe, changes: Partial<Exercise> = {}): Exercise => ({
  ...blankExercise('SB-1', 'Part', 'mm'),
  recipe,
  ...changes,
});

/** The recipe with a mistake of a kind: the one whose id holds some words. */
function withMistake(exercise: Exercise, kind: MistakeKind, words: string): Recipe {
  const found = mistakesOf(exercise).find((one) => one.kind === kind && one.id.includes(words));
  if (found === undefined) throw new Error(`no ${kind} ${words}`);
  return unwrap(applyEdits(exercise.recipe, found.edits));
}
const volumeWith = (exercise: Exercise, kind: MistakeKind, words: string): number =>
  measured(kernel, withMistake(exercise, kind, words)).volumeMm3;

// On the plate of 60 x 30 x 10 with its middle at the origin and its top at 10.
const top = { surface: 'base.end' };
const at = (...points: readonly (readonly [string, string])[]) => ({ kind: 'points', points });
const hole = (changes: object = {}) => ({
  id: 'hole',
  op: 'hole',
  plane: top,
  at: at(['0', '0']),
  diameter: '8',
  depth: { kind: 'through' },
  ...changes,
});
const pad = (changes: object = {}) => ({
  id: 'pad',
  op: 'extrude',
  mode: 'add',
  plane: top,
  outlines: [{ shape: 'rectangle', center: ['0', '0'], width: '20', height: '10' }],
  extent: { kind: 'depth', depth: '6' },
  ...changes,
});
const onePad = exerciseOf(onPlate(pad()));
const PAD_MM3 = 20 * 10 * 6;
const drilled = (...radii: readonly number[]): number =>
  radii.reduce((sum, r) => sum - Math.PI * r * r * 10, PLATE_MM3);
const round = { id: 'round', op: 'fillet', radius: '3', edges: [{ between: ['base.right', 'base.upper'] }] };
const bored = hole({ diameter: '6', counterbore: { diameter: '12', depth: '4' } });
const sunk = hole({ diameter: '6', countersink: { diameter: '12' } });
const row = { id: 'row', op: 'linear-pattern', steps: ['peg'], direction: { base: 'X' }, count: '3', spacing: '15' };
const peg = pad({
  id: 'peg',
  outlines: [{ shape: 'rectangle', center: ['-15', '0'], width: '5', height: '5' }],
  extent: { kind: 'depth', depth: '4' },
});
const PEG_MM3 = 5 * 5 * 4;
const ring = { kind: 'bolt-circle', center: ['0', '0'], diameter: '20', count: '6' };
const written = (id: string, nominal: string): Check => ({
  kind: 'overall-size',
  id,
  label: id,
  axis: 'x',
  nominal,
  tolerance: '0.1',
  weight: 1,
});

describe('a number that is another than the sheet gives', () => {
  it.each<readonly [what: string, exercise: Exercise, kind: MistakeKind, words: string, volumeMm3: number]>([
    [
      'the radius typed for a diameter',
      exerciseOf(onPlate(hole())),
      'radius-for-diameter',
      'hole/diameter',
      drilled(2),
    ],
    [
      'the diameter taken for a radius',
      exerciseOf(onPlate(hole())),
      'diameter-for-radius',
      'hole/diameter',
      drilled(8),
    ],
    ['half of a height', onePad, 'half-for-whole', 'pad/extent/depth', PLATE_MM3 + PAD_MM3 / 2],
    ['twice a width', onePad, 'whole-for-half', 'pad/outlines/0/width', PLATE_MM3 + 2 * PAD_MM3],
    [
      'a height with its decimal point slipped',
      onePad,
      'decimal-point',
      'pad/extent/depth=0.6',
      PLATE_MM3 + PAD_MM3 / 10,
    ],
    ['a height in inches', onePad, 'unit-of-one-value', 'pad/extent/depth', PLATE_MM3 + 25.4 * PAD_MM3],
    // From the floor of the plate, which is 10 thick, to the top of the pad.
    ['a height from the other face', onePad, 'wrong-edge', 'pad/extent/depth=16', PLATE_MM3 + 20 * 10 * 16],
    [
      'a height with its digits swapped',
      exerciseOf(onPlate(pad({ extent: { kind: 'depth', depth: '12' } }))),
      'digits-swapped',
      'pad/extent/depth=21',
      PLATE_MM3 + 20 * 10 * 21,
    ],
    [
      'a number that stands beside it on the sheet',
      exerciseOf(onPlate(pad()), { checks: [written('other', '7.5')] }),
      'neighboring-dimension',
      'pad/extent/depth=7.5',
      PLATE_MM3 + 20 * 10 * 7.5,
    ],
    // A round of radius r takes (1 - pi/4) r2 off the corner.
    [
      'a default radius',
      exerciseOf(onPlate(round)),
      'default-size',
      'round/radius=2',
      PLATE_MM3 - (1 - Math.PI / 4) * 4 * 10,
    ],
    ['one copy too few', exerciseOf(onPlate(peg, row)), 'wrong-count', 'row/count=2', PLATE_MM3 + 2 * PEG_MM3],
    ['a letter of twice its value', exerciseOf(onPlate()), 'whole-for-half', 'A=120', 4 * PLATE_MM3],
  ])('%s', (_what, exercise, kind, words, volumeMm3) => {
    expect(volumeWith(exercise, kind, words)).toBeCloseTo(volumeMm3, 3);
  });

  it('an angle from the other side', () => {
    const arc = {
      id: 'arc',
      op: 'revolve',
      mode: 'add',
      plane: { base: 'XZ' },
      outlines: [{ shape: 'corner-rectangle', corner: ['10', '0'], width: '10', height: '5' }],
      axis: 'v',
      angle: '60',
    };
    // A ring of 10 to 20 that is 5 high, of which 120 degrees are there instead of 60.
    const expected = (Math.PI * (400 - 100) * 5) / 3;
    expect(volumeWith(exerciseOf(recipeOf([arc])), 'angle-from-other-side', 'arc/angle=120')).toBeCloseTo(expected, 3);
  });

  it('a place on the other side of the middle', () => {
    const exercise = exerciseOf(onPlate(hole({ at: at(['10', '5']) })));
    const { centroidMm } = measured(kernel, withMistake(exercise, 'feature-mirrored', 'at/points/0/0'));
    // The hole of pi 16 10 at x = -10 pulls the center of the plate to the other side.
    expect(centroidMm[0]).toBeCloseTo((Math.PI * 160 * 10) / drilled(4), 5);
  });

  it('the values of two letters mixed up', () => {
    const block = (parameters: readonly unknown[]) =>
      recipeOf(
        [
          {
            id: 'block',
            op: 'extrude',
            mode: 'add',
            plane: { base: 'XY' },
            outlines: [{ shape: 'corner-rectangle', corner: ['0', '0'], width: 'A', height: '10' }],
            extent: { kind: 'depth', depth: '2*B' },
          },
        ],
        parameters,
      );
    const letters = [
      { name: 'A', value: '40' },
      { name: 'B', value: '6' },
    ];
    const { centroidMm } = measured(kernel, withMistake(exerciseOf(block(letters)), 'letters-swapped', 'A-B'));
    // 6 long and 80 high.
    expect(centroidMm[0]).toBeCloseTo(3, 6);
    expect(centroidMm[2]).toBeCloseTo(40, 6);
  });

  it('the values of another variant', () => {
    const variants = [{ name: 'second', values: { A: '40' } }];
    // B is A/2.
    expect(volumeWith(exerciseOf(onPlate(), { variants }), 'wrong-variant', 'second')).toBeCloseTo(40 * 20 * 10, 6);
  });
});

describe('a wall of a turned outline', () => {
  // A shaft along X: a collar of 40 over 10, then 20 across to 50.
  const to = (u: string, v: string, name: string) => ({ move: 'line', to: [u, v], name });
  const shaft = exerciseOf(
    recipeOf([
      {
        id: 'body',
        op: 'revolve',
        mode: 'add',
        plane: { base: 'XZ' },
        axis: 'u',
        outlines: [
          {
            shape: 'path',
            start: ['0', '0'],
            segments: [
              to('0', '20', 'head'),
              to('10', '20', 'collar'),
              to('10', '10', 'seat'),
              to('50', '10', 'shank'),
              to('50', '0', 'tip'),
              { move: 'close' },
            ],
          },
        ],
      },
    ]),
    { checks: [written('shank', '40')] },
  );
  const disk = (radius: number, long: number): number => Math.PI * radius ** 2 * long;

  it.each<readonly [what: string, kind: MistakeKind, words: string, volumeMm3: number]>([
    // Both corners of the collar move: it stays a cylinder.
    ['has its diameter typed as radius', 'diameter-for-radius', 'segments/0/to/1', disk(40, 10) + disk(10, 40)],
    ['has its radius taken for a diameter', 'radius-for-diameter', 'segments/2/to/1', disk(20, 10) + disk(5, 40)],
    // 50 read from the seat at 10: the tip lies at 60.
    ['is measured from the shoulder before', 'wrong-edge', 'segments/3/to/0/chained', disk(20, 10) + disk(10, 50)],
  ])('%s', (_, kind, words, volumeMm3) => {
    expect(volumeWith(shaft, kind, words)).toBeCloseTo(volumeMm3, 3);
  });

  it('is told as a diameter, by the name of its line', () => {
    const found = mistakesOf(shaft).find(({ id }) => id.startsWith('diameter-for-radius:body/outlines/0/segments/0'));
    expect(found?.message).toMatch(
      /^Revolve "body": the diameter of "collar" is 80\.0 mm where the sheet gives 40\.0 mm\./,
    );
  });
});

describe('what lies as a whole beside its place', () => {
  it('is a pattern that was measured from another edge: all of its holes move, none is lost', () => {
    const two = exerciseOf(onPlate(hole({ at: at(['-15', '0'], ['15', '0']) })), { checks: [written('edge', '5')] });
    const moved = measured(kernel, withMistake(two, 'wrong-edge', 'hole/all/across+5'));
    expect(moved.volumeMm3).toBeCloseTo(drilled(4, 4), 3);
    // Two holes of 160 pi each, 5 to the right: the rest goes to the left by 2 * 160 pi * 5 over what is left.
    expect(moved.centroidMm[0]).toBeCloseTo((-2 * 160 * Math.PI * 5) / drilled(4, 4), 6);
  });

  it('is a step whose offset was forgotten', () => {
    const raised = exerciseOf(onPlate(pad({ plane: { ...top, offset: '-4' } })));
    expect(volumeWith(raised, 'offset-forgotten', 'pad/plane/offset')).toBeCloseTo(PLATE_MM3 + PAD_MM3, 3);
  });

  it('is a rib to one side of its line, or with its legs the wrong way round', () => {
    // A wall of 5 x 30 x 30 stands at the left end; the rib fills 20 along the plate and 10 up the wall.
    const wall = pad({
      id: 'wall',
      outlines: [{ shape: 'corner-rectangle', corner: ['-30', '-15'], width: '5', height: '30' }],
      extent: { kind: 'depth', depth: '30' },
    });
    const web = {
      id: 'web',
      op: 'rib',
      plane: { base: 'XZ' },
      from: ['-25', '20'],
      to: ['-5', '10'],
      thickness: '6',
      side: 'right',
    };
    const ribbed = exerciseOf(onPlate(wall, web));
    const whole = PLATE_MM3 + 5 * 30 * 30 + (20 * 10 * 6) / 2;
    expect(measured(kernel, ribbed.recipe).volumeMm3).toBeCloseTo(whole, 3);
    const beside = measured(kernel, withMistake(ribbed, 'one-sided', 'web/plane+'));
    expect(beside.volumeMm3).toBeCloseTo(whole, 3);
    // Half of the thickness of 6 off the middle, with 600 of the whole; the normal of XZ is -Y.
    expect(Math.abs(beside.centroidMm[1])).toBeCloseTo((3 * 600) / whole, 6);
    const turned = measured(kernel, withMistake(ribbed, 'legs-swapped', 'web'));
    expect(turned.volumeMm3).toBeCloseTo(whole, 3);
    expect(turned.centroidMm[2]).toBeGreaterThan(measured(kernel, ribbed.recipe).centroidMm[2]);
  });
});

describe('something that is missing, or too much', () => {
  it.each<readonly [what: string, recipe: Recipe, kind: MistakeKind, words: string, volumeMm3: number]>([
    ['a step', onPlate(pad()), 'feature-forgotten', 'pad', PLATE_MM3],
    ['one of two holes', onPlate(hole({ at: at(['-20', '0'], ['20', '0']) })), 'one-forgotten', 'points/1', drilled(4)],
    ['one hole of a circle', onPlate(hole({ at: ring })), 'one-forgotten', 'skip/3', drilled(4, 4, 4, 4, 4)],
    [
      'a skipped place that is filled',
      onPlate(hole({ at: { ...ring, skip: [2] } })),
      'one-too-many',
      'skip/2',
      drilled(4, 4, 4, 4, 4, 4),
    ],
    [
      'one of two outlines',
      onPlate(pad({ outlines: [...pad().outlines, { shape: 'circle', center: ['20', '0'], diameter: '4' }] })),
      'one-forgotten',
      'outlines/1',
      PLATE_MM3 + PAD_MM3,
    ],
    ['a counterbore', onPlate(bored), 'recess-forgotten', 'counterbore', drilled(3)],
    ['a countersink', onPlate(sunk), 'recess-forgotten', 'countersink', drilled(3)],
  ])('%s', (_what, recipe, kind, words, volumeMm3) => {
    expect(volumeWith(exerciseOf(recipe), kind, words)).toBeCloseTo(volumeMm3, 3);
  });
});

describe('a choice that the sheet shows otherwise', () => {
  const tall = hole({ plane: { surface: 'pad.end' }, diameter: '6' });
  const blind = hole({ diameter: '6', depth: { kind: 'blind', depth: '5', bottom: 'flat' } });
  // A cut through the middle of the edge leaves two walls of 3.
  const gap = {
    id: 'gap',
    op: 'extrude',
    mode: 'cut',
    plane: { base: 'XZ' },
    outlines: [{ shape: 'corner-rectangle', corner: ['-20', '3'], width: '40', height: '4' }],
    extent: { kind: 'through' },
  };
  const GAP_MM3 = 40 * 4 * 30;
  // A drill point of 118 degrees is r / tan 59 high.
  const POINT_MM3 = (Math.PI * 9 * (3 / Math.tan((59 * Math.PI) / 180))) / 3;

  it.each<readonly [what: string, recipe: Recipe, kind: MistakeKind, words: string, volumeMm3: number]>([
    [
      'a hole that ends inside',
      onPlate(pad(), tall),
      'blind-for-through',
      'hole/depth',
      PLATE_MM3 + PAD_MM3 - Math.PI * 9 * 10,
    ],
    ['a hole that goes through', onPlate(blind), 'through-for-blind', 'hole/depth', drilled(3)],
    [
      'a hole with a drill point',
      onPlate(blind),
      'drill-point',
      'hole/bottom',
      PLATE_MM3 - Math.PI * 9 * 5 - POINT_MM3,
    ],
    [
      'a hole through one wall',
      onPlate(gap, hole({ diameter: '6' })),
      'wall-or-all',
      'hole/walls',
      PLATE_MM3 - GAP_MM3 - Math.PI * 9 * 3,
    ],
    // From radius 6 to 3 over a depth of 3: pi/3 3 (36 + 18 + 9), of which pi 9 3 is the hole already.
    ['a countersink for a counterbore', onPlate(bored), 'recess-kind', 'countersink', drilled(3) - 36 * Math.PI],
    [
      'a counterbore for a countersink',
      onPlate(sunk),
      'recess-kind',
      'counterbore',
      drilled(3) - Math.PI * (36 - 9) * 3,
    ],
    [
      'a recess with its sizes swapped',
      onPlate(hole({ diameter: '6', counterbore: { diameter: '8', depth: '7' } })),
      'recess-swapped',
      'counterbore',
      drilled(3) - Math.PI * (3.5 ** 2 - 9) * 8,
    ],
    ['a pad that goes into the plate', onPlate(pad()), 'wrong-side', 'pad/reversed', PLATE_MM3],
    [
      'a cut that goes through',
      onPlate(pad({ mode: 'cut' })),
      'through-for-blind',
      'pad/extent',
      PLATE_MM3 - 20 * 10 * 10,
    ],
    // The hole is drilled first, and the block that stands in it fills it again.
    [
      'a hole that is filled again',
      onPlate(pad({ plane: { base: 'XY' }, extent: { kind: 'depth', depth: '16' } }), hole()),
      'wrong-order',
      'hole<pad',
      PLATE_MM3 + PAD_MM3,
    ],
  ])('%s', (_what, recipe, kind, words, volumeMm3) => {
    expect(volumeWith(exerciseOf(recipe), kind, words)).toBeCloseTo(volumeMm3, 3);
  });

  it('half of a symmetric depth, and all of it on one side', () => {
    const exercise = exerciseOf(onPlate(pad({ plane: { base: 'XZ' }, extent: { kind: 'symmetric', depth: '40' } })));
    // Across the plate, which is 30 wide: 5 stand out on either side, of 10 in height about the floor.
    const across = measured(kernel, exercise.recipe).volumeMm3;
    const { volumeMm3, centroidMm } = measured(kernel, withMistake(exercise, 'one-sided', 'pad/extent'));
    expect(volumeMm3).toBeGreaterThan(across);
    expect(Math.abs(centroidMm[1])).toBeGreaterThan(1);
    expect(volumeWith(exercise, 'one-sided', 'extent-half')).toBeLessThan(volumeMm3);
  });

  it('a chamfer the wrong way round takes off as much, elsewhere', () => {
    const chamfer = {
      id: 'chamfer',
      op: 'chamfer',
      size: '1',
      other: '3',
      edges: [{ between: ['base.end', 'base.right'] }],
    };
    const exercise = exerciseOf(onPlate(chamfer));
    const [right, wrong] = [
      measured(kernel, exercise.recipe),
      measured(kernel, withMistake(exercise, 'chamfer-reversed', 'sizes')),
    ];
    // A prism of 1 x 3 / 2 along the 30 of the edge.
    for (const { volumeMm3 } of [right, wrong]) expect(volumeMm3).toBeCloseTo(PLATE_MM3 - 45, 6);
    // Its middle lies a third of each leg from the corner: 1/3 along the end as drawn, 1 when
    // turned; what is cut off moves 2/3 inwards, and the centroid of what stays moves outwards.
    const shiftMm = (45 * (1 - 1 / 3)) / (PLATE_MM3 - 45);
    expect(wrong.centroidMm[0] - right.centroidMm[0]).toBeCloseTo(shiftMm, 6);
  });

  it('chamfers on the rims of a hole that stay sharp', () => {
    const chamfers = {
      id: 'chamfers',
      op: 'chamfer',
      size: '1',
      edges: [{ every: 'convex', except: ['hole.wall'] }],
    };
    const exercise = exerciseOf(onPlate(hole({ diameter: '6' }), chamfers));
    // At each of two rims a cone from radius 4 to 3 instead of the hole: pi/3 (16 + 12 + 9) - pi 9.
    const rim = (Math.PI / 3) * 37 - Math.PI * 9;
    const right = measured(kernel, exercise.recipe).volumeMm3;
    expect(volumeWith(exercise, 'edges-not-sharp', 'except')).toBeCloseTo(right - 2 * rim, 3);
  });
});

describe('how often a kind of mistake is made', () => {
  const kindsOf = (likelihoods: Record<string, number>) =>
    mistakesOf({ ...exerciseOf(onPlate()), likelihoods }).map(({ kind, prior }) => [kind, prior] as const);

  it('raises it above others, and leaves it out where it is never made', () => {
    const usual = Math.max(...kindsOf({}).flatMap(([kind, prior]) => (kind === 'digits-swapped' ? prior : [])));
    const often = kindsOf({ 'digits-swapped': 3, 'whole-for-half': 0 });
    expect(Math.max(...often.flatMap(([kind, prior]) => (kind === 'digits-swapped' ? prior : [])))).toBeCloseTo(
      3 * usual,
      9,
    );
    expect(often.map(([kind]) => kind)).not.toContain('whole-for-half');
    expect(kindsOf({}).map(([kind]) => kind)).toContain('whole-for-half');
  });
});
