import { beforeAll, describe, expect, it } from 'vitest';

import { prepareExercise } from '#core/attempt';
import { measureSubmission, prepareReference, type CheckMeasurement, type Reference } from '#core/check';
import type { Kernel } from '#core/kernel';
import { withPart } from '#core/model';
import { suggestPlan } from '#core/plan';
import { unwrap } from '#core/problem';
import type { Solid } from '#core/solid';
import { loadKernel } from '#runtime';

import { blockStep, exerciseOf, pocketStep, sizeCheck } from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const UPRIGHT = [
  ['left', 'lower'],
  ['right', 'lower'],
  ['left', 'upper'],
  ['right', 'upper'],
] as const;

/** A block of 60 x 40 x 20 with chamfers on its upright edges, each with legs on the long and on the short side. */
const steps = (...legs: readonly (readonly [number, number])[]): readonly object[] => [
  blockStep([60, 40, 20]),
  ...legs.map(([long, short], i) => {
    const [side, edge] = UPRIGHT[i]!;
    return {
      id: `corner${String(i + 1)}`,
      op: 'chamfer',
      edges: [{ between: [`block.${edge}`, `block.${side}`] }],
      size: String(long),
      other: String(short),
    };
  }),
];
const FOUR = steps([2, 2], [2, 2], [2, 2], [2, 2]);
const leg = (on: string, to: string, nominal: number, id = 'corner'): object =>
  sizeCheck(id, 'chamfer-size', nominal, { on: `block.${on}`, to: `block.${to}` });

function partOf(of: readonly object[], checks: readonly object[]): { solid: Solid; reference: () => Reference } {
  const exercise = exerciseOf({ steps: of, checks });
  return withPart(kernel, exercise, {}, ({ solid, surfaces, scope }) => ({
    solid,
    reference: () => unwrap(prepareReference(exercise, solid, surfaces, scope)),
  }));
}
const measured = (
  of: readonly object[],
  checks: readonly object[],
  handedIn: readonly object[],
): readonly CheckMeasurement[] => measureSubmission(partOf(of, checks).reference(), partOf(handedIn, []).solid).checks;

describe('chamfers that one size is written for', () => {
  const check = [leg('lower', 'left', 2)];

  it('are all measured: the one that is farthest off speaks', () => {
    expect(measured(FOUR, check, FOUR)[0]?.measured).toBeCloseTo(2, 6);
    expect(measured(FOUR, check, steps([2, 2], [2, 2], [3, 3], [2, 2]))[0]?.measured).toBeCloseTo(3, 6);
    expect(measured(FOUR, check, steps([2, 2], [1.5, 1.5], [2.2, 2.2], [2, 2]))[0]?.measured).toBeCloseTo(1.5, 6);
  });

  it('are missing where one of them is, and it is said how many are there', () => {
    expect(measured(FOUR, check, steps([2, 2], [2, 2], [2, 2]))[0]).toMatchObject({
      measured: null,
      reason: '3 of the 4 chamfers are on the model.',
    });
  });

  it('are not those that another check has, nor those of another size', () => {
    const two = [leg('lower', 'left', 2), leg('lower', 'right', 2, 'other')];
    const [first, second] = measured(FOUR, two, steps([2, 2], [3, 3], [2, 2], [2, 2]));
    expect(first?.measured).toBeCloseTo(2, 6);
    expect(second?.measured).toBeCloseTo(3, 6);
    const uneven = steps([2, 2], [4, 4]);
    expect(measured(uneven, check, steps([2, 2], [5, 5]))[0]?.measured).toBeCloseTo(2, 6);
  });

  it('keep their legs apart', () => {
    const slanting = steps([2, 5], [2, 5], [2, 5], [2, 5]);
    const swapped = steps([2, 5], [2, 5], [2, 5], [5, 2]);
    expect(measured(slanting, [leg('lower', 'left', 2)], slanting)[0]?.measured).toBeCloseTo(2, 6);
    expect(measured(slanting, [leg('left', 'lower', 5)], slanting)[0]?.measured).toBeCloseTo(5, 6);
    expect(measured(slanting, [leg('lower', 'left', 2)], swapped)[0]?.measured).toBeCloseTo(5, 6);
  });

  it('are counted on the sheet, once', () => {
    const words = (of: readonly object[]): readonly string[] => {
      const blank = exerciseOf({ steps: of, checks: [] });
      const checks = withPart(kernel, blank, {}, (part) => suggestPlan({ exercise: blank, ...part }));
      const { sheet } = unwrap(prepareExercise(kernel, { ...blank, checks: [...checks] }));
      return sheet.pages.flatMap(({ entities }) =>
        entities.flatMap((entity) => (entity.kind === 'text' && entity.text.includes('x 45°') ? [entity.text] : [])),
      );
    };
    expect(words(FOUR)).toEqual(['4 x 2 x 45°']);
    expect(words(steps([2, 2]))).toEqual(['2 x 45°']);
    expect([...words(steps([2, 2], [3, 3]))].sort()).toEqual(['2 x 45°', '3 x 45°']);
  });
});

describe('a slope that takes most of a face', () => {
  const slope = {
    id: 'slope',
    op: 'chamfer',
    edges: [{ between: ['block.end', 'block.right'] }],
    size: '5',
    other: '6',
  };
  /** A block of 60 x 40 x 20 with the slope, and a notch from below that leaves so much of its right side. */
  const cut = (rightMm: number): object => ({
    ...pocketStep('notch', [40, -1], [21, 42, 20]),
    plane: { base: 'XY', offset: String(20 - rightMm) },
  });
  const legs = [
    sizeCheck('upper', 'chamfer-size', 5, { on: 'block.end', to: 'block.right' }),
    sizeCheck('side', 'chamfer-size', 6, { on: 'block.right', to: 'block.end' }),
  ];

  it('is there, and has its legs', () => {
    // Of 20 of the right side 6 are gone; of 8, too.
    const found = measured([blockStep([60, 40, 20]), slope], legs, [blockStep([60, 40, 20]), slope, cut(8)]);
    expect(found.map((one) => one.measured)).toEqual([expect.closeTo(5, 6), expect.closeTo(6, 6)]);
  });

  it('is not, where nothing leans so', () => {
    const found = measured([blockStep([60, 40, 20]), slope], legs, [blockStep([60, 40, 20]), cut(8)]);
    expect(found.map((one) => one.reason)).toEqual(legs.map(() => 'The chamfer is not on the model.'));
  });
});

it('a chamfer whose face has moved away below it is still measured on the face that it leans on', () => {
  const upright = (
    id: string,
    plane: object,
    [from, width, across]: readonly [number, number, number],
    depth: number,
  ) => ({
    id,
    op: 'extrude',
    mode: 'add',
    plane,
    outlines: [
      { shape: 'corner-rectangle', corner: ['0', String(from)], width: String(width), height: String(across) },
    ],
    extent: { kind: 'depth', depth: String(depth) },
  });
  /** A stem of 75 on a foot, flush on the right side where the foot is as long; its slope goes 8 along the top at 30°. */
  const onFoot = (footMm: number): readonly object[] => [
    upright('foot', { base: 'XY' }, [0, footMm, 50], 11),
    upright('stem', { surface: 'foot.end' }, [17.5, 75, 15], 30),
    {
      id: 'slope',
      op: 'chamfer',
      size: '8',
      angle: '30',
      on: 'stem.end',
      edges: [{ between: ['stem.end', 'stem.right'] }],
    },
  ];
  const down = 8 * Math.tan(Math.PI / 6);
  const legs = [
    sizeCheck('along', 'chamfer-size', 8, { on: 'stem.end', to: 'foot.right' }),
    sizeCheck('down', 'chamfer-size', down, { on: 'foot.right', to: 'stem.end' }),
  ];
  const found = measured(onFoot(75), legs, onFoot(73));
  expect(found.map((one) => one.measured)).toEqual([expect.closeTo(8, 6), expect.closeTo(down, 6)]);
});
