import { beforeAll, describe, expect, it } from 'vitest';

import { analyzeSheet, chainsOf, derivation, linksOf, placesAlong, type ChainFinding } from '#core/chain';
import { prepareReference, type Reference } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { withPart } from '#core/model';
import { unwrap } from '#core/problem';
import { loadKernel } from '#runtime';

import { blockStep, exerciseOf, holesStep, pocketStep, sizeCheck } from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

/** 60 x 40 x 20 with a hole of 8 at (15, 12). */
const BLOCK = [blockStep([60, 40, 20]), holesStep('bore', [[15, 12]], 8)];
const LENGTH = sizeCheck('length', 'overall-size', 60, { axis: 'x' });
const WIDTH = sizeCheck('width', 'overall-size', 40, { axis: 'y' });
const HEIGHT = sizeCheck('height', 'overall-size', 20, { axis: 'z' });
const BORE = sizeCheck('bore', 'diameter', 8, { of: ['bore.wall'] });
const ALONG = sizeCheck('along', 'hole-position', 15, { of: 'bore.wall', from: 'block.left' });
const ACROSS = sizeCheck('across', 'hole-position', 12, { of: 'bore.wall', from: 'block.lower' });
const BLOCK_PLAN = [LENGTH, WIDTH, HEIGHT, BORE, ALONG, ACROSS];

function prepared(steps: readonly object[], checks: readonly object[], change: object = {}) {
  const exercise = exerciseOf({ steps, checks }, change);
  const reference = withPart(kernel, exercise, {}, ({ solid, surfaces, scope }) =>
    unwrap(prepareReference(exercise, solid, surfaces, scope)),
  );
  return [exercise, reference] as const satisfies readonly [Exercise, Reference];
}

const findings = (steps: readonly object[], checks: readonly object[], change: object = {}): readonly ChainFinding[] =>
  analyzeSheet(...prepared(steps, checks, change));
const messages = (...args: Parameters<typeof findings>): string[] => findings(...args).map(({ message }) => message);
const without = (check: object): object[] => BLOCK_PLAN.filter((one) => one !== check);

describe('the sheet of a drilled block', () => {
  it('says every size once with three sizes, a diameter and two places', () => {
    expect(messages(BLOCK, BLOCK_PLAN)).toEqual([]);
  });

  it.each([
    [ALONG, 'X (left to right)', 15],
    [ACROSS, 'Y (front to back)', 12],
  ])('without a place of the hole says what is missing, from the nearest face', (check, axis, valueMm) => {
    const [finding, ...more] = findings(BLOCK, without(check));
    expect(more).toEqual([]);
    expect(finding).toMatchObject({ kind: 'missing', valueMm, checkIds: [] });
    expect([
      `Along ${axis} nothing says where the center line of a round lies. A dimension of ${String(valueMm)} mm to a flat face would say it.`,
      `Along ${axis} nothing says where a flat face lies. A dimension of ${String(valueMm)} mm to the center line of a round would say it.`,
    ]).toContain(finding?.message);
  });

  it('without a height misses it along the height, and nothing else', () => {
    expect(messages(BLOCK, without(HEIGHT))).toEqual([
      'Along Z (up) nothing says where a flat face lies. A dimension of 20 mm to a flat face would say it.',
    ]);
  });

  it('without the diameter misses the radius of the hole', () => {
    expect(findings(BLOCK, without(BORE))).toEqual([
      expect.objectContaining({
        kind: 'missing',
        message: 'Nothing says the radius of a hollow round of 4 mm.',
        valueMm: 4,
      }),
    ]);
  });

  it('takes a general note for the radius, but not a number that only begins or ends like it', () => {
    const noted = (note: string) => messages(BLOCK, without(BORE), { notes: [note] });
    expect(noted('All rounds R4')).toEqual([]);
    expect(noted('All rounds 4.0 mm')).toEqual([]);
    for (const other of ['All rounds R40', 'All rounds R14', 'All rounds R4.5', 'Heat 1.4 hours'])
      expect(noted(other), other).toHaveLength(1);
  });

  it('is not helped by a size that is checked and not written', () => {
    const hidden = { ...(ALONG as { id: string }), onSheet: false };
    expect(messages(BLOCK, [...without(ALONG), hidden])).toHaveLength(1);
  });

  it('says the depth of a blind hole, once for like ones', () => {
    const blind = { depth: { kind: 'blind', depth: '6' } };
    const steps = [
      BLOCK[0] ?? {},
      holesStep(
        'bore',
        [
          [15, 12],
          [45, 12],
        ],
        8,
        blind,
      ),
    ];
    const second = sizeCheck('second', 'hole-position', 45, { of: 'bore.2.wall', from: 'block.left' });
    const plan = BLOCK_PLAN.map(
      (check) => JSON.parse(JSON.stringify(check).replaceAll('bore.wall', 'bore.1.wall')) as object,
    );
    expect(messages(steps, [...plan, second])).toContain('Nothing says the depth of a hole of 6 mm.');
    const depth = sizeCheck('depth', 'hole-size', 6, { of: 'bore.1.wall', size: 'depth' });
    expect(messages(steps, [...plan, second, depth])).toEqual([]);
  });

  it('names a size that the part does not have', () => {
    const long = sizeCheck('length', 'overall-size', 61, { axis: 'x' });
    expect(findings(BLOCK, [long, ...without(LENGTH)])).toEqual([
      expect.objectContaining({
        kind: 'contradiction',
        message: '"length" says 61 mm, but on the part it is 60 mm.',
        checkIds: ['length'],
      }),
    ]);
  });

  it('keeps silent about a difference of less than a micrometer', () => {
    const close = sizeCheck('length', 'overall-size', 60.0009, { axis: 'x' });
    expect(messages(BLOCK, [close, ...without(LENGTH)])).toEqual([]);
  });

  it('says in inches what is missing, where it is drawn in inches', () => {
    const [{ recipe }] = [exerciseOf({ steps: [blockStep([2, 1, 0.5])], checks: [] })];
    const [length, width] = [
      sizeCheck('length', 'overall-size', 2, { axis: 'x' }),
      sizeCheck('width', 'overall-size', 1, { axis: 'y' }),
    ];
    expect(messages([], [length, width], { recipe: { ...recipe, unit: 'in' }, decimals: 3 })).toEqual([
      'Along Z (up) nothing says where a flat face lies. A dimension of 0.5 in to a flat face would say it.',
    ]);
  });
});

describe('what is said twice', () => {
  it('comes with its arithmetic, and names the sizes that it follows from', () => {
    const rest = sizeCheck('rest', 'hole-position', 45, { of: 'bore.wall', from: 'block.right' });
    expect(findings(BLOCK, [...BLOCK_PLAN, rest])).toEqual([
      expect.objectContaining({
        kind: 'repeated',
        message: '"rest" is said twice: it follows from "length", "along" (45 = 60 - 15). Take it off the sheet.',
        checkIds: ['rest', 'length', 'along'],
      }),
    ]);
  });

  it('counts like sizes together', () => {
    // Two holes 10 from either end of 60: what is between them is 60 - 2 x 10.
    const steps = [
      blockStep([60, 40, 20]),
      holesStep(
        'bore',
        [
          [10, 20],
          [50, 20],
        ],
        8,
      ),
    ];
    const plan = [
      LENGTH,
      WIDTH,
      HEIGHT,
      sizeCheck('bores', 'diameter', 8, { of: ['bore.1.wall', 'bore.2.wall'] }),
      sizeCheck('left', 'hole-position', 10, { of: 'bore.1.wall', from: 'block.left' }),
      sizeCheck('right', 'hole-position', 10, { of: 'bore.2.wall', from: 'block.right' }),
      sizeCheck('front', 'hole-position', 20, { of: 'bore.1.wall', from: 'block.lower' }),
      sizeCheck('pitch', 'center-distance', 40, { from: 'bore.1.wall', to: 'bore.2.wall' }),
    ];
    const [finding] = findings(steps, plan).filter(({ checkIds }) => checkIds.includes('pitch'));
    expect(finding?.message).toContain('(40 = 60 - 2 x 10)');
  });

  it('is the last of three sizes in a row, whichever was written last', () => {
    const steps = [
      blockStep([60, 40, 20]),
      {
        ...blockStep([20, 40, 10], 'pad'),
        plane: { surface: 'block.end' },
      },
    ];
    const part = sizeCheck('pad', 'distance', 10, { from: 'block.end', to: 'pad.end' });
    const foot = sizeCheck('foot', 'distance', 20, { from: 'block.start', to: 'block.end' });
    const all = sizeCheck('height', 'overall-size', 30, { axis: 'z' });
    const pad = sizeCheck('pad-length', 'distance', 20, { from: 'pad.left', to: 'pad.right' });
    const repeated = (...checks: object[]) =>
      findings(steps, [LENGTH, WIDTH, pad, ...checks]).filter(({ kind }) => kind === 'repeated');
    expect(repeated(part, foot, all)).toMatchObject([{ checkIds: ['height', 'foot', 'pad'] }]);
    expect(repeated(all, part, foot)[0]?.message).toContain('"foot" is said twice');
    expect(repeated(all, part, foot)[0]?.message).toContain('(20 = 30 - 10)');
    expect(repeated(all, part)).toEqual([]);
  });
});

describe('symmetry', () => {
  /** A slot 20 wide in the middle of 60. */
  const steps = [blockStep([60, 40, 20]), pocketStep('slot', [20, -1], [20, 42, 8])];
  const depth = sizeCheck('depth', 'distance', 8, { from: 'slot.end', to: 'block.end' });
  const width = sizeCheck('slot', 'distance', 20, { from: 'slot.left', to: 'slot.right' });

  it('places a slot that is drawn about the middle of the part by its width alone', () => {
    expect(messages(steps, [LENGTH, WIDTH, HEIGHT, depth, width])).toEqual([]);
  });

  it('does not place a slot by its distance from one end', () => {
    const left = sizeCheck('left', 'distance', 20, { from: 'block.left', to: 'slot.left' });
    expect(messages(steps, [LENGTH, WIDTH, HEIGHT, depth, left])).toEqual([
      'Along X (left to right) nothing says where a flat face lies. A dimension of 20 mm to a flat face would say it.',
    ]);
  });

  it('where a note says it, places one side by the other', () => {
    const left = sizeCheck('left', 'distance', 20, { from: 'block.left', to: 'slot.left' });
    expect(messages(steps, [LENGTH, WIDTH, HEIGHT, depth, left], { notes: ['Symmetrical about the middle'] })).toEqual(
      [],
    );
  });
});

describe('chamfers and rounds', () => {
  const chamfered = [
    blockStep([60, 40, 20]),
    {
      id: 'edge',
      op: 'chamfer',
      edges: [{ between: ['block.end', 'block.right'] }],
      size: '2',
    },
  ];
  const rounded = [
    blockStep([60, 40, 20]),
    { id: 'edge', op: 'fillet', edges: [{ between: ['block.left', 'block.lower'] }], radius: '5' },
  ];

  it('need a size', () => {
    const plan = [LENGTH, WIDTH, HEIGHT];
    expect(messages(chamfered, plan)).toEqual(['Nothing says the size of a chamfer of 2 mm.']);
    expect(messages(rounded, plan)).toEqual(['Nothing says the radius of a round of 5 mm.']);
  });

  it('have it from a check or a note', () => {
    const plan = [LENGTH, WIDTH, HEIGHT];
    expect(messages(rounded, [...plan, sizeCheck('r', 'radius', 5, { of: ['edge.fillet'] })])).toEqual([]);
    expect(messages(rounded, plan, { notes: ['Corner R5'] })).toEqual([]);
    expect(messages(chamfered, plan, { notes: ['Sharp edge broken 2 x 45°'] })).toEqual([]);
  });
});

describe('places and links', () => {
  it('along an axis are flat faces across it and axes of round walls, from low to high', () => {
    const [, { solid }] = prepared(BLOCK, BLOCK_PLAN);
    expect(placesAlong(solid, 0).map(({ at, kind }) => [at, kind])).toEqual([
      [0, 'face'],
      [15, 'axis'],
      [60, 'face'],
    ]);
    // The hole runs along the height: it has no place there.
    expect(placesAlong(solid, 2).map(({ at }) => at)).toEqual([0, 20]);
  });

  it('of a size say where it begins and ends along its axis', () => {
    const [, reference] = prepared(BLOCK, BLOCK_PLAN);
    const along = reference.targets.find(({ checkId }) => checkId === 'along');
    const [link, ...more] = along === undefined ? [] : linksOf(along, reference);
    expect(more).toEqual([]);
    expect(link).toMatchObject({ axis: 0, checkId: 'along', valueMm: 15 });
    expect([link?.from, link?.to].sort()).toEqual([0, 15]);
  });

  it('tie the places of each axis, and none of another', () => {
    const [, reference] = prepared(BLOCK, BLOCK_PLAN);
    const [x, y, z] = chainsOf(reference, reference.targets);
    expect([x.connected(0, 15), x.connected(15, 60), y.connected(0, 12), z.connected(0, 20)]).toEqual(
      Array(4).fill(true),
    );
    expect(x.connected(0, 12)).toBe(false);
    expect(x.groups()).toHaveLength(1);
  });

  it('give the arithmetic of a size that is not written', () => {
    const [exercise, reference] = prepared(BLOCK, BLOCK_PLAN);
    expect(derivation(exercise, reference, { axis: 0, from: 15, to: 60 })).toEqual({
      arithmetic: '45 = 60 - 15',
      steps: [
        { checkId: 'along', valueMm: 15, sign: -1 },
        { checkId: 'length', valueMm: 60, sign: 1 },
      ],
    });
    expect(derivation(exercise, reference, { axis: 0, from: 15, to: 15 })).toBeNull();
    expect(derivation(exercise, reference, { axis: 0, from: 15, to: 33 })).toBeNull();
  });
});
