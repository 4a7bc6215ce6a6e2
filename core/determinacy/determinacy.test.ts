import { beforeAll, describe, expect, it } from 'vitest';

import { DeterminacyStudy, openSizesOf, type OpenSizes } from '#core/determinacy';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { withPart } from '#core/model';
import type { PlanBasis } from '#core/plan';
import { loadKernel } from '#runtime';

import {
  blockStep,
  circleOutline,
  exerciseOf,
  holesStep,
  pocketStep,
  raisedStep,
  rectangleOutline,
  sizeCheck,
} from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const basisOf = (exercise: Exercise): PlanBasis =>
  withPart(kernel, exercise, {}, ({ solid, surfaces, scope }) => ({ exercise, solid, surfaces, scope }));

interface Part {
  readonly parameters?: readonly object[];
  readonly steps: readonly object[];
  readonly checks: readonly object[];
  readonly notes?: readonly string[];
}

function openIn({ notes = [], ...part }: Part): OpenSizes {
  const basis = basisOf(exerciseOf(part, { notes }));
  const study = new DeterminacyStudy(kernel, basis);
  try {
    return openSizesOf(study, basis);
  } finally {
    study.free();
  }
}

/** What the sheet leaves open, with the check that is proposed: kind and nominal. */
const unsaid = (part: Part): readonly (readonly [string, string | null])[] =>
  openIn(part).undetermined.map(({ what, proposal }) => [
    what,
    proposal === null ? null : `${proposal.kind} ${'nominal' in proposal ? proposal.nominal : ''}`,
  ]);

const BLOCK = blockStep([60, 40, 20]);
const overall = (axis: string, nominal: number | string): object =>
  sizeCheck(`overall-${axis}`, 'overall-size', nominal, { axis });
const SIZES = [overall('x', 60), overall('y', 40), overall('z', 20)];
const placeOf = (of: string, from: string, nominal: number | string, rest: object = {}): object =>
  sizeCheck(`${of}-${from}`.replaceAll('.', '-'), 'hole-position', nominal, { of, from, ...rest });
const diameterOf = (of: string, nominal: number | string): object =>
  sizeCheck(`${of}-size`.replaceAll('.', '-'), 'diameter', nominal, { of: [of] });

/** A hole of 8 at (15, 12), through. */
const BORE = holesStep('bore', [[15, 12]], 8);
const BORE_CHECKS = [
  placeOf('bore.wall', 'block.left', 15),
  placeOf('bore.wall', 'block.lower', 12),
  diameterOf('bore.wall', 8),
];

describe('a sheet of a block with a hole', () => {
  it('that has three sizes, the diameter and two places leaves nothing open', () => {
    const { undetermined, unchecked, needed } = openIn({ steps: [BLOCK, BORE], checks: [...SIZES, ...BORE_CHECKS] });
    expect([undetermined, unchecked]).toEqual([[], []]);
    expect(needed).toHaveLength(6);
  });

  it('needs none of two dimensions that follow from each other, and each of the others', () => {
    // 45 from the right side is 60 less 15 from the left one.
    const twice = placeOf('bore.wall', 'block.right', 45);
    const { needed } = openIn({ steps: [BLOCK, BORE], checks: [...SIZES, ...BORE_CHECKS, twice] });
    expect([...needed].sort()).toEqual(['bore-wall-block-lower', 'bore-wall-size', 'overall-y', 'overall-z']);
  });

  it.each([
    [0, 'the place of Bore along X (left to right)', 'hole-position 15'],
    [1, 'the place of Bore along Y (front to back)', 'hole-position 12'],
    [2, 'the diameter of Bore', 'diameter 8'],
  ])('without the dimension %i of the hole leaves that open, and proposes it', (left, what, proposal) => {
    const checks = [...SIZES, ...BORE_CHECKS.filter((_, i) => i !== left)];
    expect(unsaid({ steps: [BLOCK, BORE], checks })).toEqual([[what, proposal]]);
  });

  it.each([
    [0, 'the size of Block along X (left to right)'],
    [1, 'the size of Block along Y (front to back)'],
    [2, 'the size of Block along Z (up)'],
  ])('without the size of the block along axis %i leaves that open', (axis, what) => {
    const checks = [...SIZES.filter((_, i) => i !== axis), ...BORE_CHECKS];
    const [first] = openIn({ steps: [BLOCK, BORE], checks }).undetermined;
    expect(first?.what).toBe(what);
    expect(first?.proposal).toMatchObject({ nominal: String([60, 40, 20][axis]) });
  });

  it('measures no place where a size that is checked is not on the sheet: that is open, and would be noticed', () => {
    const hidden = placeOf('bore.wall', 'block.left', 15, { onSheet: false });
    const checks = [...SIZES, hidden, ...BORE_CHECKS.slice(1)];
    const { undetermined, unchecked } = openIn({ steps: [BLOCK, BORE], checks });
    expect(undetermined.map(({ what }) => what)).toEqual(['the place of Bore along X (left to right)']);
    expect(undetermined[0]?.proposal).toMatchObject({ kind: 'hole-position', onSheet: true, nominal: '15' });
    expect(unchecked).toEqual([]);
  });

  it('is not helped by mass properties: volume, area and center of mass say no size', () => {
    const properties = [
      { kind: 'volume', id: 'volume', label: 'Volume', tolerancePercent: 0.5, weight: 1 },
      { kind: 'center-of-mass', id: 'center', label: 'Center of mass', tolerance: '0.1', weight: 1 },
    ];
    const checks = [...SIZES, ...BORE_CHECKS.slice(1), ...properties];
    const { undetermined, unchecked } = openIn({ steps: [BLOCK, BORE], checks });
    expect([undetermined, unchecked].map((list) => list.map(({ what }) => what))).toEqual([
      ['the place of Bore along X (left to right)'],
      ['the place of Bore along X (left to right)'],
    ]);
  });

  it('proposes a size as the recipe writes it, where the recipe has a letter for it', () => {
    const parameters = [{ name: 'A', value: '60' }];
    const steps = [blockStep(['A', 40, 20]), holesStep('bore', [['A/4', 12]], 8)];
    const checks = [overall('x', 'A'), ...SIZES.slice(1), ...BORE_CHECKS.slice(1)];
    expect(unsaid({ parameters, steps, checks })).toEqual([
      ['the place of Bore along X (left to right)', 'hole-position A/4'],
    ]);
  });
});

describe('what a sheet says without numbers', () => {
  const twoHoles = holesStep(
    'holes',
    [
      [15, 20],
      [45, 20],
    ],
    8,
  );
  const apart = sizeCheck('apart', 'center-distance', 30, { from: 'holes.1.wall', to: 'holes.2.wall' });
  const size = sizeCheck('holes-size', 'diameter', 8, { of: ['holes.1.wall', 'holes.2.wall'] });

  it('places holes evenly about the middle of a part that is symmetric as a whole', () => {
    expect(unsaid({ steps: [BLOCK, twoHoles], checks: [...SIZES, apart, size] })).toEqual([]);
  });

  it('changes the letters before it believes that a hole stands in the middle of a post', () => {
    const parameters = [{ name: 'B', value: '18' }];
    const partOf = (across: string): Part => ({
      parameters,
      steps: [
        BLOCK,
        {
          ...raisedStep('post', rectangleOutline([8, 6], 18, 30), 12),
          outlines: [{ shape: 'corner-rectangle', corner: ['8', '6'], width: 'B', height: '30' }],
        },
        { ...holesStep('bore', [[across, 21]], 6), plane: { surface: 'post.end' } },
      ],
      checks: [
        ...SIZES.slice(0, 2),
        sizeCheck('base', 'distance', 20, { from: 'block.start', to: 'block.end' }),
        sizeCheck('high', 'distance', 12, { from: 'block.end', to: 'post.end' }),
        sizeCheck('wide', 'distance', 'B', { from: 'post.left', to: 'post.right' }),
        sizeCheck('deep', 'distance', 30, { from: 'post.lower', to: 'post.upper' }),
        sizeCheck('y', 'distance', 6, { from: 'block.lower', to: 'post.lower' }),
        diameterOf('bore.wall', 6),
        placeOf('bore.wall', 'block.lower', 21),
        placeOf('bore.wall', 'block.left', across),
      ],
    });
    // 17 is 8 and half of 18: by chance in one recipe, by construction in the other.
    expect(unsaid(partOf('8 + B/2'))).toEqual([]);
    expect(unsaid(partOf('17')).map(([what]) => what)).toEqual([
      expect.stringMatching(/^the place of Post .* along X/),
    ]);
  });

  it('says so by a note, and not by one that denies it', () => {
    const steps = [BLOCK, twoHoles, pocketStep('pocket', [-1, -1], [9, 12, 5])];
    const checks = [...SIZES, apart, size];
    const places = (notes: readonly string[]): number =>
      unsaid({ steps, checks, notes }).filter(([what]) => what.startsWith('the place of Holes')).length;
    expect(places(['Holes symmetric about both middle planes'])).toBe(0);
    expect(places(['Holes not symmetric'])).toBe(2);
    expect(places(['Asymmetric part'])).toBe(2);
  });

  it('does not take it for symmetric where the two holes lie about the middle by chance', () => {
    const steps = [BLOCK, twoHoles, pocketStep('pocket', [-1, -1], [9, 12, 5])];
    const pocket = [
      sizeCheck('pocket-x', 'distance', 8, { from: 'block.left', to: 'pocket.right' }),
      sizeCheck('pocket-y', 'distance', 11, { from: 'block.lower', to: 'pocket.upper' }),
      sizeCheck('pocket-z', 'distance', 5, { from: 'block.end', to: 'pocket.end' }),
    ];
    expect(unsaid({ steps, checks: [...SIZES, apart, size, ...pocket] }).map(([what]) => what)).toEqual([
      expect.stringMatching(/^the place of Holes \d along X/),
      expect.stringMatching(/^the place of Holes \d along Y/),
    ]);
  });

  it('draws two holes of one step at one height in one line: one place says both', () => {
    const steps = [
      BLOCK,
      holesStep(
        'holes',
        [
          [15, 12],
          [40, 12],
        ],
        8,
      ),
    ];
    const checks = [
      ...SIZES,
      placeOf('holes.1.wall', 'block.left', 15),
      placeOf('holes.1.wall', 'block.lower', 12),
      sizeCheck('apart', 'center-distance', 25, { from: 'holes.1.wall', to: 'holes.2.wall', along: 'x' }),
      size,
    ];
    expect(unsaid({ steps, checks })).toEqual([]);
  });

  it('draws a hexagon about the center of the round that it stands on', () => {
    const steps = [
      raisedStep('disc', circleOutline([0, 0], 50), 10, { base: 'XY' }),
      raisedStep('hub', { shape: 'polygon', center: ['0', '0'], sides: '6', size: '24', across: 'flats' }, 8, {
        surface: 'disc.end',
      }),
      // So that the part as a whole is not symmetric.
      { ...holesStep('pin', [[18, 6]], 4), plane: { surface: 'disc.end' } },
    ];
    const checks = [
      diameterOf('disc.wall', 50),
      sizeCheck('thick', 'distance', 10, { from: 'disc.start', to: 'disc.end' }),
      sizeCheck('high', 'distance', 8, { from: 'disc.end', to: 'hub.end' }),
      sizeCheck('flats', 'distance', 24, { from: 'hub.side1', to: 'hub.side4' }),
      diameterOf('pin.wall', 4),
      sizeCheck('pin-x', 'center-distance', 18, { from: 'disc.wall', to: 'pin.wall', along: 'x' }),
      sizeCheck('pin-y', 'center-distance', 6, { from: 'disc.wall', to: 'pin.wall', along: 'y' }),
    ];
    expect(unsaid({ steps, checks })).toEqual([]);
  });

  const TUBE = raisedStep('tube', circleOutline([0, 0], 30), 60, { base: 'XY' });
  const TUBE_CHECKS = [
    diameterOf('tube.wall', 30),
    sizeCheck('long', 'distance', 60, { from: 'tube.start', to: 'tube.end' }),
  ];
  const drilled = (across: string): object => ({
    id: 'pin',
    op: 'hole',
    plane: { base: 'XZ', offset: '-20' },
    at: { kind: 'points', points: [[across, '25']] },
    diameter: '6',
    depth: { kind: 'through' },
  });
  const PIN_CHECKS = [diameterOf('pin.wall', 6), placeOf('pin.wall', 'tube.start', 25)];

  it('drills a cross hole on the center line that it is drawn on, and one beside it where a dimension says', () => {
    const checks = [...TUBE_CHECKS, ...PIN_CHECKS];
    expect(unsaid({ steps: [TUBE, drilled('0')], checks })).toEqual([]);
    expect(unsaid({ steps: [TUBE, drilled('4')], checks }).map(([what]) => what)).toEqual([
      'the place of Pin along X (left to right)',
    ]);
  });

  it('takes two pieces of a tube that are drawn without a step for one', () => {
    const longer = raisedStep('more', circleOutline([0, 0], 30), 20, { surface: 'tube.end' });
    const checks = [
      diameterOf('tube.wall', 30),
      sizeCheck('long', 'distance', 80, { from: 'tube.start', to: 'more.end' }),
    ];
    // Where one piece ends and the other begins is seen nowhere.
    expect(unsaid({ steps: [TUBE, longer], checks })).toEqual([]);
  });

  it('lets the ends of a slot follow from its width, for they run on smoothly into its sides', () => {
    const slot = {
      id: 'slot',
      op: 'extrude',
      mode: 'cut',
      plane: { surface: 'block.end' },
      outlines: [{ shape: 'slot', center: ['25', '15'], length: '20', width: '8' }],
      extent: { kind: 'through' },
    };
    const width = sizeCheck('wide', 'distance', 8, { from: 'slot.side1', to: 'slot.side2' });
    const apart = sizeCheck('apart', 'center-distance', 20, { from: 'slot.end1', to: 'slot.end2' });
    const places = [placeOf('slot.end1', 'block.left', 35), placeOf('slot.end1', 'block.lower', 15)];
    const found = unsaid({ steps: [BLOCK, slot], checks: [...SIZES, width, ...places] });
    expect(found.length).toBe(1);
    expect(unsaid({ steps: [BLOCK, slot], checks: [...SIZES, width, apart, ...places] })).toEqual([]);
  });

  it('puts faces of two features that are drawn in one plane there', () => {
    const post = (id: string, x: number): object => raisedStep(id, rectangleOutline([x, 0], 10, 40), 12);
    const checks = [
      overall('x', 60),
      overall('y', 40),
      sizeCheck('base', 'distance', 20, { from: 'block.start', to: 'block.end' }),
      sizeCheck('high', 'distance', 12, { from: 'block.end', to: 'one.end' }),
      sizeCheck('one-x', 'distance', 5, { from: 'block.left', to: 'one.left' }),
      sizeCheck('one-wide', 'distance', 10, { from: 'one.left', to: 'one.right' }),
      sizeCheck('two-x', 'distance', 15, { from: 'one.right', to: 'two.left' }),
      sizeCheck('two-wide', 'distance', 10, { from: 'two.left', to: 'two.right' }),
    ];
    expect(unsaid({ steps: [BLOCK, post('one', 5), post('two', 30)], checks })).toEqual([]);
  });

  it('has no depth to say where a cut goes deeper than the part is high', () => {
    const slot = pocketStep('slot', [20, 10], [10, 42, 25]);
    const checks = [
      ...SIZES,
      sizeCheck('slot-x', 'distance', 20, { from: 'block.left', to: 'slot.left' }),
      sizeCheck('slot-wide', 'distance', 10, { from: 'slot.left', to: 'slot.right' }),
    ];
    expect(unsaid({ steps: [BLOCK, slot], checks }).map(([what]) => what)).toEqual([
      expect.stringMatching(/^the place of Slot \(lower\) along Y/),
    ]);
  });
});

describe('sizes that sheets forget', () => {
  const round = (notes: readonly string[]): Part => ({
    steps: [BLOCK, { id: 'corners', op: 'fillet', radius: '6', edges: [{ along: 'z' }] }],
    checks: SIZES,
    notes,
  });

  it('are radii of arcs by their radius, and of holes by their diameter', () => {
    const corner = { id: 'corner', op: 'fillet', radius: '6', edges: [{ between: ['block.right', 'block.upper'] }] };
    expect(unsaid({ steps: [BLOCK, corner], checks: SIZES })).toEqual([['the radius of Corner', 'radius 6']]);
    const checks = [...SIZES, ...BORE_CHECKS.slice(0, 2)];
    expect(unsaid({ steps: [BLOCK, BORE], checks })).toEqual([['the diameter of Bore', 'diameter 8']]);
  });

  it('are radii of rounds, unless a general note says them', () => {
    expect(unsaid(round([])).map(([what]) => what)).toEqual(['the radius of Corners']);
    expect(unsaid(round(['Rounds R6'])).map(([what]) => what)).toEqual([]);
    expect(unsaid(round(['Rounds R16'])).map(([what]) => what)).toEqual(['the radius of Corners']);
  });

  it('are the second leg of a chamfer, which the callout gives by its angle and no check decides', () => {
    const steps = [
      BLOCK,
      { id: 'edge', op: 'chamfer', size: '3', other: '5', edges: [{ between: ['block.end', 'block.right'] }] },
    ];
    const checks = [...SIZES, sizeCheck('leg', 'chamfer-size', 3, { on: 'block.end', to: 'block.right' })];
    const { undetermined, unchecked } = openIn({ steps, checks });
    expect(undetermined).toEqual([]);
    expect(unchecked.map(({ what }) => what)).toEqual(['the size on the other face of Edge']);
    // The callout says it by the angle: it is checked off the sheet.
    const leg = unchecked[0]?.proposal;
    expect(leg).toMatchObject({ kind: 'chamfer-size', nominal: '5', on: 'block.right', onSheet: false });
    expect(openIn({ steps, checks: [...checks, ...(leg ? [leg] : [])] }).unchecked).toEqual([]);
  });

  it('are how the slope of a rib lies', () => {
    const steps = [
      BLOCK,
      raisedStep('wall', rectangleOutline([0, 0], 10, 40), 30),
      {
        id: 'rib',
        op: 'rib',
        plane: { base: 'XZ', offset: '-20' },
        from: ['10', '40'],
        to: ['40', '20'],
        thickness: '6',
        side: 'right',
      },
    ];
    const checks = [
      overall('x', 60),
      overall('y', 40),
      sizeCheck('base', 'distance', 20, { from: 'block.start', to: 'block.end' }),
      overall('z', 50),
      sizeCheck('wall-thick', 'distance', 10, { from: 'block.left', to: 'wall.right' }),
      sizeCheck('rib-thick', 'distance', 6, { from: 'rib.face1', to: 'rib.face2' }),
    ];
    const [[what, first] = []] = unsaid({ steps, checks });
    expect([what, first]).toEqual(['the angle and the place of Rib (edge)', 'edge-distance 40']);
    const foot = { from: 'block.left', of: 'rib.edge', on: 'block.end' };
    const top = { from: 'block.start', of: 'rib.edge', on: 'wall.right' };
    const ends = [sizeCheck('foot', 'edge-distance', 40, foot), sizeCheck('top', 'edge-distance', 40, top)];
    expect(unsaid({ steps, checks: [...checks, ...ends.slice(0, 1)] })).toHaveLength(1);
    expect(unsaid({ steps, checks: [...checks, ...ends] })).toEqual([]);
  });

  it('are the pitch of a row; how many there are is seen, and noticed only where a check counts them', () => {
    const steps = [
      BLOCK,
      holesStep('bore', [[10, 12]], 6),
      { id: 'row', op: 'linear-pattern', steps: ['bore'], direction: { base: 'X' }, count: '3', spacing: '15' },
    ];
    const checks = [
      ...SIZES,
      placeOf('bore.wall', 'block.left', 10),
      placeOf('bore.wall', 'block.lower', 12),
      diameterOf('bore.wall', 6),
    ];
    const { undetermined, unchecked } = openIn({ steps, checks });
    expect(undetermined.map(({ what }) => what)).toEqual([expect.stringMatching(/^the place of Row .* along X/)]);
    expect(unchecked.map(({ what }) => what)).toContain('the number of Row');
  });
});

describe('what nobody would notice though the sheet shows it', () => {
  /** A foot of 60 x 40 x 8 with an upright of 8 x 40 x 30 at its end: their long sides make one face. */
  const FOOT = blockStep([60, 40, 8], 'foot');
  const upright = (width: number): object =>
    raisedStep('upright', rectangleOutline([0, 0], 8, width), 30, { surface: 'foot.end' });
  const checks = [
    ...SIZES.slice(0, 2),
    sizeCheck('foot-height', 'distance', 8, { from: 'foot.start', to: 'foot.end' }),
    sizeCheck('height', 'distance', 30, { from: 'foot.end', to: 'upright.end' }),
    sizeCheck('depth', 'distance', 8, { from: 'foot.left', to: 'upright.right' }),
  ];

  it('is a foot that ends earlier than the upright on it, for the part is as wide as before: both have to be flush', () => {
    const { unchecked } = openIn({ steps: [FOOT, upright(40)], checks });
    const proposals = unchecked.map(({ what, proposal }) => [what, proposal?.kind]);
    expect(proposals).toContainEqual(['the size of Foot along Y (front to back)', 'flush']);
  });

  it('is the height of a pad that happens to be that of a floor elsewhere', () => {
    // Block of 20 with a pocket 14 deep: its floor is at 6, as high as a pad beside the block.
    const steps = [
      BLOCK,
      pocketStep('pocket', [10, 10], [30, 20, 14]),
      raisedStep('pad', rectangleOutline([60, 10], 15, 20), 6, { base: 'XY' }),
    ];
    const { unchecked } = openIn({
      steps,
      checks: [sizeCheck('floor', 'distance', 6, { from: 'block.start', to: 'pocket.end' })],
    });
    const pad = unchecked.find(({ what }) => what === 'the size of Pad along Z (up)');
    expect(pad?.proposal).toMatchObject({ kind: 'distance', nominal: '6' });
  });
});

describe('a study', () => {
  it('builds the variations once, and answers for one plan after the other', () => {
    const exercise = exerciseOf({ steps: [BLOCK, BORE], checks: [...SIZES, ...BORE_CHECKS] });
    const basis = basisOf(exercise);
    const study = new DeterminacyStudy(kernel, basis);
    const built = [...study.build()];
    const [, total] = built.at(-1) ?? [0, 0];
    expect(built).toHaveLength(total);
    expect([...study.build()]).toEqual([]);
    expect(study.determine(exercise).undetermined).toHaveLength(0);
    const fewer = { ...exercise, checks: exercise.checks.slice(0, -1) };
    expect(study.determine(fewer).undetermined).toHaveLength(1);
    study.free();
  });
});
