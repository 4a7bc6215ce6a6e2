import { beforeAll, describe, expect, it } from 'vitest';

import type { Check } from '#core/check';
import type { Kernel } from '#core/kernel';
import { evaluatePlan, slightChanges, suggestPlan, withSlightChanges, type PlanBasis } from '#core/plan';
import { unwrap } from '#core/problem';
import { buildRecipe, type ParameterValues } from '#core/recipe';
import { RECIPE_SOURCE } from '#core/solid';
import { loadKernel } from '#runtime';

import { blockStep, exerciseOf, holesStep, pocketStep } from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

interface Letters {
  readonly parameters?: readonly object[];
  readonly values?: ParameterValues;
}

function basisOf(steps: readonly object[], { parameters = [], values = {} }: Letters = {}): PlanBasis {
  const exercise = exerciseOf({ parameters, steps, checks: [] });
  const { shape, surfaces, scope } = unwrap(buildRecipe(kernel, exercise.recipe, values));
  const solid = unwrap(kernel.analyze(shape, RECIPE_SOURCE));
  shape.free();
  return { exercise, solid, surfaces, scope };
}

/** The plan as lines: kind, what it is called, nominal; a star where it is checked and not written on the sheet. */
const lines = (checks: readonly Check[]): string[] =>
  checks.map(
    (check) =>
      `${check.kind} ${check.label}${'nominal' in check ? ` ${check.nominal}` : ''}${'onSheet' in check && check.onSheet === false ? ' *' : ''}`,
  );
const planOf = (...args: Parameters<typeof basisOf>): string[] => lines(suggestPlan(basisOf(...args)));
const BLOCK = blockStep([60, 40, 20]);
const SIZES = ['overall-size Length 60', 'overall-size Width 40', 'overall-size Height 20'];
/** Checks of features and of the whole part, which every plan has besides its dimensions. */
const WHOLE = [
  'volume',
  'area',
  'mass',
  'center-of-mass',
  'single-body',
  'unit',
  'no-needless-edges',
  'square',
  'nothing-else',
];
const dimensions = (...args: Parameters<typeof basisOf>): string[] =>
  planOf(...args).filter((line) => !WHOLE.some((kind) => line.startsWith(kind)) && !SIZES.includes(line));
describe('a plan for a block of 60 x 40 x 20', () => {
  it('has its three sizes and what holds of every part, and nothing else', () => {
    expect(planOf([BLOCK])).toEqual([
      ...SIZES,
      'square Square and parallel as drawn',
      'nothing-else Nothing that the sheet does not show',
      'volume Volume',
      'area Surface area',
      'mass Mass',
      'center-of-mass Center of mass',
      'single-body One closed body',
      'unit Unit',
      'no-needless-edges No needless edges',
    ]);
  });

  it('places a hole from two sides of the block, and gives its diameter', () => {
    expect(dimensions([BLOCK, holesStep('bore', [[15, 12]], 8)])).toEqual([
      'hole-position Bore from Block left along X 15',
      'hole-position Bore from Block lower along Y 12',
      'diameter Bore hole diameter 8',
    ]);
  });

  it('places two holes that mirror each other by their distance, and what the center line says only checks', () => {
    const bores = holesStep(
      'bores',
      [
        [10, 20],
        [50, 20],
      ],
      8,
    );
    expect(dimensions([BLOCK, bores])).toEqual([
      'center-distance Bores 1 and 2 apart along X 40',
      'hole-position Bores 1 from Block lower along Y 20 *',
      'hole-position Bores 2 from Block lower along Y 20 *',
      'diameter Bores hole diameter 8',
      'hole-count Number of bores holes 2',
    ]);
  });

  it('gives the depths of a blind hole and of its counterbore, each once', () => {
    const bore = holesStep('bore', [[15, 12]], 8, {
      depth: { kind: 'blind', depth: '6' },
      counterbore: { diameter: '12', depth: '2' },
    });
    expect(dimensions([BLOCK, bore]).slice(2)).toEqual([
      'diameter Bore hole diameter 8',
      'diameter Bore counterbore diameter 12',
      'hole-size Bore depth 6',
      'hole-size Bore counterbore depth 2',
    ]);
  });

  it('places holes on a circle by the circle', () => {
    const points = [
      [40, 20],
      [30, 30],
      [20, 20],
      [30, 10],
    ] as const;
    expect(dimensions([BLOCK, holesStep('bolts', points, 5)])).toEqual([
      'diameter Bolts hole diameter 5',
      'bolt-circle Bolts circle 20',
      'hole-count Number of bolts holes 4',
    ]);
  });

  it('places a slot in the middle by its width, and one at the side from the side', () => {
    // 8 deep in 20: its floor lies 12 up.
    expect(dimensions([BLOCK, pocketStep('slot', [20, -1], [20, 42, 8])])).toEqual([
      'distance Slot size along X 20',
      'distance Block start to Slot end 12',
    ]);
    expect(dimensions([BLOCK, pocketStep('slot', [5, -1], [20, 42, 8])])).toEqual([
      'distance Block left to Slot left 5',
      'distance Block left to Slot right 25',
      'distance Block start to Slot end 12',
    ]);
  });

  it('places holes in a row from a side, and then from each other', () => {
    const row = holesStep(
      'row',
      [
        [10, 12],
        [25, 12],
        [45, 12],
      ],
      5,
    );
    expect(dimensions([BLOCK, row])).toEqual([
      'hole-position Row 1 from Block left along X 10',
      'center-distance Row 1 and 2 apart along X 15',
      'center-distance Row 1 and 3 apart along X 35',
      'hole-position Row 1 from Block lower along Y 12',
      'hole-position Row 2 from Block lower along Y 12 *',
      'hole-position Row 3 from Block lower along Y 12 *',
      'diameter Row hole diameter 5',
      'hole-count Number of row holes 3',
    ]);
  });

  it('places holes of another size from a side, not from those beside them', () => {
    expect(dimensions([BLOCK, holesStep('a', [[10, 15]], 8), holesStep('b', [[25, 8]], 5)]).slice(0, 4)).toEqual([
      'hole-position A from Block left along X 10',
      'hole-position B from Block left along X 25',
      'hole-position A from Block lower along Y 15',
      'hole-position B from Block lower along Y 8',
    ]);
  });

  it('does so where the part has a step too, whose height is no end of it', () => {
    const step = pocketStep('step', [50, -1], [30, 50, 8]);
    expect(
      dimensions([BLOCK, step, holesStep('a', [[10, 15]], 8), holesStep('b', [[25, 8]], 5)]).filter(
        (line) => !line.startsWith('distance') && !line.startsWith('diameter'),
      ),
    ).toEqual([
      'hole-position A from Block left along X 10',
      'hole-position B from Block left along X 25',
      'hole-position A from Block lower along Y 15',
      'hole-position B from Block lower along Y 8',
    ]);
  });

  it('places a boss by its axis, and what is bored in it by being concentric', () => {
    const boss = {
      id: 'boss',
      op: 'extrude',
      mode: 'add',
      plane: { surface: 'block.end' },
      outlines: [{ shape: 'circle', center: ['20', '15'], diameter: '18' }],
      extent: { kind: 'depth', depth: '8' },
    };
    const bore = holesStep('bore', [[20, 15]], 10, { plane: { surface: 'boss.end' } });
    expect(dimensions([BLOCK, boss, bore])).toEqual([
      'hole-position Boss from Block left along X 20',
      'hole-position Bore from Block left along X 20 *',
      'hole-position Boss from Block lower along Y 15',
      'hole-position Bore from Block lower along Y 15 *',
      'overall-size Height 28',
      'distance Block thickness 20',
      'diameter Boss diameter 18',
      'diameter Bore hole diameter 10',
      'concentric Bore concentric with Boss',
    ]);
  });

  it('gives like steps at both ends by what stands between them, one alone from its own side', () => {
    const left = pocketStep('left', [-1, -1], [11, 50, 8]);
    const right = pocketStep('right', [50, -1], [30, 50, 8]);
    // From 10 to 50, and 8 down from 20.
    expect(dimensions([BLOCK, left, right])).toEqual([
      'distance Left right to Right left 40',
      'distance Block start to Left end 12',
    ]);
    expect(dimensions([BLOCK, right])).toEqual([
      'distance Block left to Right left 50',
      'distance Block start to Right end 12',
    ]);
  });

  it('gives rounds of one radius once, outer and inner ones apart', () => {
    const rounded = (id: string, step: string, radius: string, sides: readonly string[]): object => ({
      id,
      op: 'fillet',
      edges: sides.map((side) => ({ between: [`${step}.${side}`, `${step}.lower`] })),
      radius,
    });
    const plan = suggestPlan(
      basisOf([
        BLOCK,
        rounded('outer', 'block', '5', ['left', 'right']),
        pocketStep('pocket', [20, 10], [20, 15, 8]),
        rounded('inner', 'pocket', '5', ['left']),
      ]),
    );
    const rounds = plan.filter(({ kind }) => kind === 'radius');
    expect(rounds.map((check) => [check.label, 'nominal' in check && check.nominal])).toEqual([
      ['Outer radius', '5'],
      ['Inner radius', '5'],
    ]);
    expect(rounds.map((check) => ('of' in check ? check.of.length : 0))).toEqual([2, 1]);
  });

  it('gives a hexagon by its width across flats, once', () => {
    const hexagon = {
      id: 'nut',
      op: 'extrude',
      mode: 'add',
      plane: { base: 'XY' },
      outlines: [{ shape: 'polygon', center: ['0', '0'], sides: '6', size: '30', across: 'flats' }],
      extent: { kind: 'depth', depth: '20' },
    };
    // Its flats across X are the length of the whole part.
    expect(dimensions([hexagon]).filter((line) => line.endsWith(' 30'))).toEqual(['overall-size Length 30']);
  });

  it('gives chamfers and rounds by their size', () => {
    const chamfer = { id: 'edge', op: 'chamfer', edges: [{ between: ['block.end', 'block.right'] }], size: '2' };
    const fillet = { id: 'corner', op: 'fillet', edges: [{ between: ['block.left', 'block.lower'] }], radius: '5' };
    expect(dimensions([BLOCK, chamfer])).toEqual(['chamfer-size Chamfer on Block right 2']);
    expect(dimensions([BLOCK, fillet])).toEqual(['radius Corner radius 5']);
  });
});

describe('copies around a bore', () => {
  const ring = (more: object): readonly object[] => [
    BLOCK,
    holesStep('bore', [[30, 20]], 8),
    holesStep('bolt', [[42, 20]], 5),
    { id: 'ring', op: 'circular-pattern', steps: ['bolt'], axis: { surface: 'bore.wall' }, ...more },
  ];
  const ofRing = (more: object): readonly string[] =>
    dimensions(ring(more)).filter((line) => /^(spacing|bolt-circle|hole-count|center-distance)/.test(line));

  it('are given by their circle, angle and number, and by no distance that the circle says', () => {
    expect(ofRing({ count: '6' })).toEqual([
      'bolt-circle Bolt circle 24',
      'spacing Ring spacing 60',
      'hole-count Number of bolt holes 6',
    ]);
  });

  it('keep the angle between neighbors where one is left out', () => {
    expect(ofRing({ count: '6', skip: [3] })).toEqual([
      'bolt-circle Bolt circle 24',
      'spacing Ring spacing 60',
      'hole-count Number of bolt holes 5',
    ]);
  });

  it('over a part of the turn have the angle from one to the next', () => {
    // Four over 120 degrees: three gaps of 40.
    expect(ofRing({ count: '4', angle: '120' })).toContain('spacing Ring spacing 40');
  });

  it('of two steps at once are given for each of them', () => {
    const steps = [
      BLOCK,
      holesStep('bore', [[30, 20]], 8),
      holesStep('bolt', [[42, 20]], 5),
      holesStep('pin', [[46, 20]], 2),
      { id: 'ring', op: 'circular-pattern', steps: ['bolt', 'pin'], axis: { surface: 'bore.wall' }, count: '4' },
    ];
    const circles = dimensions(steps).filter((line) => line.startsWith('bolt-circle'));
    // 2 x (42 - 30) and 2 x (46 - 30).
    expect(circles.map((line) => line.split(' ').at(-1)).sort()).toEqual(['24', '32']);
  });

  it('are about the bore that stands in their middle', () => {
    const spacing = suggestPlan(basisOf(ring({ count: '5' }))).find(({ kind }) => kind === 'spacing');
    expect(spacing).toMatchObject({ about: 'bore.wall', nominal: '72', tolerance: '0.5' });
  });
});

describe('what a callout counts', () => {
  const diameterOf = (steps: readonly object[]): Check | undefined =>
    suggestPlan(basisOf(steps)).find(({ kind }) => kind === 'diameter');

  it('are the holes of one size, where there are several', () => {
    const bores = holesStep(
      'bores',
      [
        [10, 20],
        [25, 20],
        [50, 20],
      ],
      8,
    );
    expect(diameterOf([BLOCK, bores])).toMatchObject({ prefix: '3 x' });
  });

  it('is nothing where there is one', () => {
    expect(diameterOf([BLOCK, holesStep('bore', [[15, 12]], 8)])).not.toHaveProperty('prefix');
  });
});

describe('rounds of a corner', () => {
  const corner = (names: readonly (readonly [string, string])[]): object => ({
    id: 'rounds',
    op: 'fillet',
    edges: names.map((between) => ({ between })),
    radius: '4',
  });

  it('are one radius, with the ball where three of them meet', () => {
    const three = corner([
      ['block.end', 'block.right'],
      ['block.end', 'block.upper'],
      ['block.right', 'block.upper'],
    ]);
    const radii = suggestPlan(basisOf([BLOCK, three])).filter(({ kind }) => kind === 'radius');
    expect(radii).toHaveLength(1);
    expect(radii[0]).toMatchObject({ nominal: '4', label: 'Rounds radius' });
    expect(radii[0] && 'of' in radii[0] ? radii[0].of : []).toEqual(
      expect.arrayContaining(['rounds.1.fillet', 'rounds.2.fillet', 'rounds.3.fillet']),
    );
  });

  it('do not count the ball of a dimple', () => {
    // A quarter circle about (30, 20) from (36, 20) to (30, 14), turned about its upright side: a ball of 6 in the upper face.
    const dimple = {
      id: 'dimple',
      op: 'revolve',
      mode: 'cut',
      plane: { base: 'XZ', offset: '-20' },
      outlines: [
        {
          shape: 'path',
          start: ['30', '20'],
          segments: [
            { move: 'line', to: ['36', '20'], name: 'top' },
            { move: 'arc-around', center: ['30', '20'], angle: '-90', name: 'ball' },
            { move: 'close', name: 'side' },
          ],
        },
      ],
      axis: { from: ['30', '0'], to: ['30', '20'] },
    };
    const radii = suggestPlan(basisOf([BLOCK, dimple, corner([['block.end', 'block.right']])])).filter(
      ({ kind }) => kind === 'radius',
    );
    expect(radii).toMatchObject([{ of: ['rounds.fillet'], nominal: '4' }]);
  });
});

describe('weights', () => {
  const weightOf = (checks: readonly Check[], ...kinds: readonly string[]): number =>
    checks.reduce((sum, { kind, weight }) => sum + (kinds.includes(kind) ? weight : 0), 0);

  it('give dimensions 60, features 10, properties 20 and the file 10 of 100', () => {
    const checks = suggestPlan(
      basisOf([
        BLOCK,
        holesStep(
          'bores',
          [
            [10, 20],
            [50, 20],
          ],
          8,
        ),
      ]),
    );
    expect(weightOf(checks, 'hole-count', 'square', 'nothing-else')).toBeCloseTo(10, 9);
    expect(weightOf(checks, 'volume', 'area', 'mass', 'center-of-mass')).toBeCloseTo(20, 9);
    expect(weightOf(checks, 'single-body', 'unit', 'no-needless-edges')).toBeCloseTo(10, 9);
    expect(checks.reduce((sum, { weight }) => sum + weight, 0)).toBeCloseTo(100, 9);
  });

  it('are whole hundredths that differ by one at most within a group', () => {
    const checks = suggestPlan(basisOf([BLOCK, holesStep('bore', [[15, 12]], 8)]));
    const sizes = checks.filter(({ kind }) => ['overall-size', 'hole-position', 'diameter'].includes(kind));
    const hundredths = sizes.map(({ weight }) => weight * 100);
    for (const one of hundredths) expect(one).toBeCloseTo(Math.round(one), 6);
    expect(Math.max(...hundredths) - Math.min(...hundredths)).toBeLessThan(1.000001);
  });
});

describe('letters in a plan', () => {
  const parameters = [
    { name: 'A', value: '60' },
    { name: 'B', value: '40' },
    { name: 'D', value: '8' },
  ];
  /** A hole half of A along, and 12 from the upper side: at B - 12. */
  const steps = [
    blockStep(['A', 'B', 20]),
    holesStep('bore', [['A/4', 'B - 12']], 'D'),
    pocketStep('slot', ['A/2', -1], ['A', 70, 8]),
  ];
  const others = (basis: PlanBasis): readonly PlanBasis[] =>
    slightChanges(basis.exercise.recipe, basis.scope).flatMap(([values]) =>
      values === undefined ? [] : [basisOf(steps, { parameters, values })],
    );
  const nominals = (): ReadonlyMap<string, string> => {
    const basis = basisOf(steps, { parameters });
    return new Map(
      suggestPlan(basis, others(basis)).flatMap((check) =>
        'nominal' in check ? [[check.label, check.nominal] as const] : [],
      ),
    );
  };

  it('are the nominals of what follows them: a letter, a share of it, a letter less a number', () => {
    const found = nominals();
    expect([found.get('Length'), found.get('Width'), found.get('Height')]).toEqual(['A', 'B', '20']);
    expect(found.get('Bore hole diameter')).toBe('D');
    expect(found.get('Bore from Block left along X')).toBe('A/4');
    expect(found.get('Bore from Block lower along Y')).toBe('B - 12');
    expect(found.get('Block left to Slot left')).toBe('A/2');
  });

  it('hold for other values of the letters', () => {
    const basis = basisOf(steps, { parameters });
    const checks = suggestPlan(basis, others(basis));
    const other = basisOf(steps, { parameters, values: { A: '72', B: '50', D: '9' } });
    const states = evaluatePlan({ ...other, exercise: { ...other.exercise, checks: [...checks] } });
    expect(states.flatMap((state) => (state.kind === 'measured' && !state.passes ? [state.checkId] : []))).toEqual([]);
    expect(states.find(({ checkId }) => checkId === 'length')).toMatchObject({ nominal: 72, measured: 72 });
  });

  it('are tried one at a time, each with some values near its own', () => {
    const basis = basisOf(steps, { parameters });
    const tries = slightChanges(basis.exercise.recipe, basis.scope);
    expect(tries).toHaveLength(3);
    tries.forEach((options, i) => {
      expect(options.length).toBeGreaterThan(0);
      for (const values of options) {
        expect(Object.keys(values)).toEqual([parameters[i]?.name]);
        const [now, then] = [Number(parameters[i]?.value), Number(Object.values(values)[0])];
        // By one or two hundredths of it, and by no round amount.
        expect(Math.abs(then / now - 1)).toBeGreaterThan(0.01);
        expect(Math.abs(then / now - 1)).toBeLessThan(0.02);
        expect(Number((then - now).toFixed(1))).not.toBeCloseTo(then - now, 9);
        expect(String(then).length).toBeLessThanOrEqual(9);
      }
    });
  });
});

describe('letters that are changed', () => {
  it('are ten at most, and one that is zero is changed all the same', () => {
    const names = Array.from({ length: 12 }, (_, i) => String.fromCodePoint(65 + i));
    const many = names.map((name, i) => ({ name, value: String(i * 3) }));
    const { exercise, scope } = basisOf([BLOCK], { parameters: many });
    const tries = slightChanges(exercise.recipe, scope);
    expect(tries.flatMap(([first]) => Object.keys(first ?? {}))).toEqual(names.slice(0, 10));
    expect(Number(Object.values(tries[0]?.[0] ?? {})[0])).toBeCloseTo(0.0137, 9);
    expect(Number(Object.values(tries[0]?.[1] ?? {})[0])).toBeCloseTo(-0.0119, 9);
  });

  it('that follow from others are left alone', () => {
    const parameters = [
      { name: 'A', value: '10' },
      { name: 'B', value: 'A/2' },
    ];
    const { exercise, scope } = basisOf([BLOCK], { parameters });
    expect(slightChanges(exercise.recipe, scope).map(([first]) => Object.keys(first ?? {}))).toEqual([['A']]);
  });
});

describe('parts with one letter changed', () => {
  const basis = (): PlanBasis => basisOf([BLOCK], { parameters: ['A', 'B'].map((name) => ({ name, value: '10' })) });

  it('are those that can be built with the first value', () => {
    const { exercise, scope } = basis();
    const parts = withSlightChanges(exercise.recipe, scope, (values) => values);
    expect(parts).toEqual(slightChanges(exercise.recipe, scope).map(([first]) => first));
    expect(parts).toHaveLength(2);
  });

  it('go the other way where that cannot be built, and are left out where neither can', () => {
    const { exercise, scope } = basis();
    const shrunk = withSlightChanges(exercise.recipe, scope, (values) =>
      Object.values(values).every((value) => Number(value) < 10) ? values : null,
    );
    expect(shrunk.map((values) => Object.keys(values))).toEqual([['A'], ['B']]);
    for (const values of shrunk) for (const value of Object.values(values)) expect(Number(value)).toBeLessThan(10);
    expect(withSlightChanges(exercise.recipe, scope, () => null)).toEqual([]);
  });
});

describe('tolerances', () => {
  it('are half of the last decimal that the sheet writes', () => {
    for (const [decimals, tolerance] of [
      [0, '0.5'],
      [1, '0.05'],
      [3, '0.0005'],
    ] as const) {
      const basis = basisOf([BLOCK]);
      const [length] = suggestPlan({ ...basis, exercise: { ...basis.exercise, decimals } });
      expect(length && 'tolerance' in length ? length.tolerance : '').toBe(tolerance);
    }
  });
});
