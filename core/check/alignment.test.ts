import { beforeAll, describe, expect, it } from 'vitest';

import { alignFrames, measureSubmission, prepareReference, type Reference } from '#core/check';
import type { Exercise } from '#core/exercise';
import { gradeMeasurement } from '#core/grade';
import type { Kernel } from '#core/kernel';
import { readModel } from '#core/model';
import { unwrap } from '#core/problem';
import { buildRecipe, type Step } from '#core/recipe';
import { RECIPE_SOURCE, type Solid } from '#core/solid';
import { determinant, IDENTITY, type Mat3, type Vec3 } from '#core/vector';
import { loadKernel } from '#runtime';

import { exerciseOf } from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const hole = (id: string, at: readonly (readonly [string, string])[], extra: object = {}): Step => ({
  id,
  op: 'hole',
  plane: { surface: 'base.end' },
  at: { kind: 'points', points: at },
  diameter: '8',
  depth: { kind: 'through' },
  ...extra,
});

const BASE: Step = {
  id: 'base',
  op: 'extrude',
  mode: 'add',
  plane: { base: 'XY' },
  outlines: [{ shape: 'rectangle', center: ['30', '20'], width: '60', height: '40' }],
  extent: { kind: 'depth', depth: '10' },
};
/** On a plate 60 x 40 x 10, holes that make it one of a hand: no mirror image of it is itself. */
const HANDED = [
  hole('bores', [
    ['10', '10'],
    ['45', '12'],
    ['20', '31'],
  ]),
  hole('pin', [['50', '30']], {
    diameter: '5',
    depth: { kind: 'blind', depth: '6' },
    counterbore: { diameter: '9', depth: '2' },
  }),
];

const exercise = (checks: readonly object[], steps: readonly Step[] = HANDED): Exercise =>
  exerciseOf({
    steps: [BASE, ...steps],
    checks: checks.map((check, i) => ({ id: `c${String(i)}`, label: `Check ${String(i)}`, weight: 1, ...check })),
  });

function referenceOf(document: Exercise): Reference {
  const { shape, surfaces, scope } = unwrap(buildRecipe(kernel, document.recipe));
  return unwrap(prepareReference(document, unwrap(kernel.analyze(shape, RECIPE_SOURCE)), surfaces, scope));
}

function submission(by: Mat3 = IDENTITY, to: Vec3 = [0, 0, 0], steps: readonly Step[] = HANDED): Solid {
  const { shape } = unwrap(buildRecipe(kernel, exercise([{ kind: 'unit' }], steps).recipe));
  const bytes = kernel.writeStep(kernel.moved(shape, by, to), 'mm', 'plate');
  return unwrap(readModel(kernel, bytes));
}

const turn = (degrees: number): Mat3 => {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  return [
    [c, -s * c, s * s],
    [s, c * c, -c * s],
    [0, s, c],
  ];
};
const MIRROR: Mat3 = [
  [1, 0, 0],
  [0, -1, 0],
  [0, 0, 1],
];

describe('how a part lies', () => {
  const own = (): Solid => referenceOf(exercise([{ kind: 'volume', tolerancePercent: 1 }])).solid;

  it.each([
    ['as modeled', IDENTITY, [0, 0, 0], 'as-modeled'],
    ['moved', IDENTITY, [7, -3, 11], 'moved'],
    ['turned by 23 degrees about two axes', turn(23), [1, 2, 3], 'turned'],
    ['turned by 141 degrees about two axes', turn(141), [0, 0, 0], 'turned'],
    ['mirrored', MIRROR, [0, 0, 0], 'mirrored'],
  ] as const)('%s is found and sure', (_what, by, to, kind) => {
    const frame = alignFrames(own(), submission(by, to));
    expect(frame.kind).toBe(kind);
    expect(frame.agreement).toBeGreaterThan(0.999);
    expect(frame.certainty).toBeGreaterThan(0.9);
    expect(Math.sign(determinant(frame.placement.rotation))).toBe(kind === 'mirrored' ? -1 : 1);
  });

  it('mirrored and turned at once is still the wrong hand', () => {
    const both: Mat3 = turn(37).map((row) => [row[0], -row[1], row[2]]) as unknown as Mat3;
    expect(alignFrames(own(), submission(both, [4, 5, 6])).kind).toBe('mirrored');
  });

  it('a symmetric part is never called mirrored', () => {
    const plain = [hole('bores', [['30', '20']])];
    const symmetric = referenceOf(exercise([{ kind: 'volume', tolerancePercent: 1 }], plain)).solid;
    expect(alignFrames(symmetric, submission(MIRROR, [0, 40, 0], plain)).kind).toBe('as-modeled');
  });

  it('the frame is judged once: the center of mass is that of the part where the plan has a check for the frame', () => {
    const reference = referenceOf(exercise([{ kind: 'frame' }, { kind: 'center-of-mass', tolerance: '0.05' }]));
    const { lines, causes } = gradeMeasurement(
      reference,
      measureSubmission(reference, submission(turn(23), [1, 2, 3])),
      {
        typed: [],
        policy: {
          partialReach: 5,
          typedValueWeight: 0,
          notOneBodyCap: 50,
        },
      },
    );
    expect(lines.map(({ verdict }) => verdict)).toEqual(['wrong', 'right']);
    expect(causes[0]?.id).toBe('wrong-plane');
  });

  it('the wrong hand is named as the cause', () => {
    const reference = referenceOf(exercise([{ kind: 'frame' }]));
    const report = gradeMeasurement(reference, measureSubmission(reference, submission(MIRROR)), {
      typed: [],
      policy: {
        partialReach: 5,
        typedValueWeight: 0,
        notOneBodyCap: 50,
      },
    });
    expect(report.causes[0]?.id).toBe('wrong-hand');
  });
});

describe('kinds of checks', () => {
  const measured = (check: object, steps: readonly Step[] = HANDED): number | string | null => {
    const reference = referenceOf(exercise([check]));
    const [result] = measureSubmission(reference, submission(IDENTITY, [0, 0, 0], steps)).checks;
    return result!.measured ?? result!.reason ?? null;
  };
  const size = (nominal: string, tolerance: string | object = '0.05') => ({ nominal, tolerance });

  it.each([
    ['thickness of the plate', { kind: 'thickness', from: 'base.start', to: 'base.end', ...size('10') }, 10],
    ['angle of two sides', { kind: 'angle', from: 'base.left', to: 'base.end', ...size('90', '0.1') }, 90],
    ['angle of an axis with a face', { kind: 'angle', from: 'bores.1.wall', to: 'base.end', ...size('90', '0.1') }, 90],
    [
      'center distance as seen along X',
      { kind: 'center-distance', from: 'bores.1.wall', to: 'bores.2.wall', along: 'x', ...size('35') },
      35,
    ],
    ['depth of a blind hole', { kind: 'hole-size', of: 'pin.wall', size: 'depth', ...size('6') }, 6],
    ['counterbore diameter', { kind: 'hole-size', of: 'pin.wall', size: 'counterbore-diameter', ...size('9') }, 9],
    ['counterbore depth', { kind: 'hole-size', of: 'pin.wall', size: 'counterbore-depth', ...size('2') }, 2],
    ['number of holes', { kind: 'feature-count', feature: 'hole', nominal: '4' }, 4],
    ['a hole that is there', { kind: 'presence', of: 'pin.wall' }, 1],
    ['not symmetric about X', { kind: 'symmetric', axis: 'x' }, 0],
    ['no needless edges', { kind: 'no-needless-edges' }, 0],
    ['principal moments', { kind: 'principal-moments', tolerancePercent: 0.1 }, 0],
    ['unit', { kind: 'unit' }, 1],
    ['two bores on one axis', { kind: 'concentric', from: 'pin.wall', to: 'pin.recess', tolerance: '0.01' }, 0],
    ['flush faces', { kind: 'flush', from: 'base.end', to: 'base.end', tolerance: '0.01' }, 0],
  ])('%s', (_what, check, value) => {
    expect(measured(check)).toBeCloseTo(value, 5);
  });

  it.each([
    ['as drawn', IDENTITY],
    ['turned by 23 degrees about two axes', turn(23)],
    ['turned by 90 degrees about two axes', turn(90)],
    ['of the other hand', MIRROR],
  ] as const)('a center distance along an axis is along that of the part, %s', (_, by) => {
    const reference = referenceOf(
      exercise(
        (['x', 'y'] as const).map((along) => ({
          kind: 'center-distance',
          from: 'bores.1.wall',
          to: 'bores.2.wall',
          along,
          ...size(along === 'x' ? '35' : '2'),
        })),
      ),
    );
    // Bores at (10, 10) and (45, 12).
    const [x, y] = measureSubmission(reference, submission(by, [3, 4, 5])).checks;
    expect([x?.measured, y?.measured]).toEqual([expect.closeTo(35, 5), expect.closeTo(2, 5)]);
  });

  it.each([
    ['8.015', 4],
    ['7.985', 4],
    ['8.03', 3],
    ['7.97', 3],
  ])('one hole more of diameter %s makes %d of 8 mm: drills come in tenths', (diameter, count) => {
    const check = { kind: 'hole-count', like: 'bores.1.wall', nominal: '3' };
    const more = [...HANDED, hole('more', [['30', '8']], { diameter })];
    const reference = referenceOf(exercise([check]));
    expect(measureSubmission(reference, submission(IDENTITY, [0, 0, 0], more)).checks[0]!.measured).toBe(count);
  });

  it.each([
    // A hole through the middle, moved along X, or blind: one plane of symmetry less each.
    ['through the middle', hole('bore', [['30', '20']]), [1, 1, 1]],
    ['moved along X', hole('bore', [['34', '20']]), [0, 1, 1]],
    ['moved along X by a tenth', hole('bore', [['30.1', '20']]), [0, 1, 1]],
    ['moved along Y', hole('bore', [['30', '24']]), [1, 0, 1]],
    ['moved along both', hole('bore', [['34', '24']]), [0, 0, 1]],
    ['blind', hole('bore', [['30', '20']], { depth: { kind: 'blind', depth: '4' } }), [1, 1, 0]],
  ] as const)('a plate with a hole %s is symmetric about X, Y and Z: %s', (_, bore, wanted) => {
    const axes = ['x', 'y', 'z'] as const;
    const reference = referenceOf(exercise(axes.map((axis) => ({ kind: 'symmetric', axis }))));
    const measuredOf = (by: Mat3): (number | null)[] =>
      measureSubmission(reference, submission(by, [0, 0, 0], [bore])).checks.map((check) => check.measured);
    expect(measuredOf(IDENTITY)).toEqual(wanted);
  });

  it('a bolt circle is the circle through its holes; one beside it shows', () => {
    const circle = (angles: readonly number[], odd = 0): Step =>
      hole(
        'bolts',
        angles.map((angle, i) => {
          const r = 14 + (i === 1 ? odd : 0);
          return [`30 + ${String(r)}*cos(${String(angle)})`, `20 + ${String(r)}*sin(${String(angle)})`] as const;
        }),
        { diameter: '4' },
      );
    const right = [circle([0, 90, 180, 270])];
    const check = {
      kind: 'bolt-circle',
      of: ['bolts.1.wall', 'bolts.2.wall', 'bolts.3.wall', 'bolts.4.wall'],
      ...size('28'),
    };
    const reference = referenceOf(exercise([check], right));
    const value = (steps: readonly Step[]): number =>
      measureSubmission(reference, submission(IDENTITY, [0, 0, 0], steps)).checks[0]!.measured!;
    expect(value(right)).toBeCloseTo(28, 5);
    expect(Math.abs(value([circle([0, 90, 180, 270], 0.4)]) - 28)).toBeGreaterThan(0.2);
  });

  it('a hole that is not on the model cannot be measured, and the report says why', () => {
    expect(measured({ kind: 'hole-size', of: 'pin.wall', size: 'depth', ...size('6') }, HANDED.slice(0, 1))).toBe(
      'The hole is not on the model.',
    );
  });

  it('upper and lower deviations are told apart', () => {
    const check = { kind: 'diameter', of: ['bores.1.wall'], ...size('8', { upper: '0.2', lower: '0' }) };
    const reference = referenceOf(exercise([check]));
    const verdict = (diameter: string): string => {
      const steps = [{ ...HANDED[0]!, diameter } as Step, HANDED[1]!];
      const measurement = measureSubmission(reference, submission(IDENTITY, [0, 0, 0], steps));
      const policy = { partialReach: 1, typedValueWeight: 0, notOneBodyCap: 50 };
      return gradeMeasurement(reference, measurement, { typed: [], policy }).lines[0]!.verdict;
    };
    expect([verdict('8.15'), verdict('8'), verdict('7.9'), verdict('8.3')]).toEqual([
      'right',
      'right',
      'wrong',
      'wrong',
    ]);
  });

  it('features on one of the two parts only are listed', () => {
    const reference = referenceOf(exercise([{ kind: 'volume', tolerancePercent: 1 }]));
    const more = [...HANDED, hole('odd', [['30', '20']], { diameter: '3' })];
    const { missing, extra } = measureSubmission(reference, submission(IDENTITY, [0, 0, 0], more));
    expect(missing).toEqual([]);
    expect(extra).toMatchObject([{ kind: 'hole', sizeMm: expect.closeTo(3, 5) }]);
    expect(measureSubmission(reference, submission(IDENTITY, [0, 0, 0], HANDED.slice(0, 1))).missing).toMatchObject([
      { kind: 'hole', sizeMm: expect.closeTo(5, 5) },
    ]);
  });
});
