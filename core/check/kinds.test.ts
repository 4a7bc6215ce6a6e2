import * as v from 'valibot';
import { beforeAll, describe, expect, it } from 'vitest';

import { measureSubmission, prepareReference, type CheckMeasurement, type Reference } from '#core/check';
import { ExerciseSchema, type Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { readModel } from '#core/model';
import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import { RECIPE_SOURCE, type Face, type Solid } from '#core/solid';
import { loadKernel } from '#runtime';

import { exerciseOf } from '../exercise/testing.ts';

import type { MeasureContext } from './kind.ts';
import { kindOf } from './kinds/index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const sized = { tolerance: '0.05', weight: 1 };

/** A block 50 x 30 x 20 with two holes of 6 at (10, 15) and (40, 15) and a step 8 deep along one end. */
const exercise = (checks: readonly object[], change: object = {}): Exercise =>
  exerciseOf(
    {
      parameters: [
        { name: 'A', value: '50' },
        { name: 'D', value: '6' },
        { name: 'H', value: '20' },
        { name: 'P', value: '40' },
      ],
      steps: [
        {
          id: 'block',
          op: 'extrude',
          mode: 'add',
          plane: { base: 'XY' },
          outlines: [{ shape: 'rectangle', center: ['A/2', '15'], width: 'A', height: '30' }],
          extent: { kind: 'depth', depth: 'H' },
        },
        {
          id: 'step',
          op: 'extrude',
          mode: 'cut',
          plane: { base: 'XZ' },
          outlines: [{ shape: 'rectangle', center: ['A - 2', 'H - 4'], width: '4', height: '8' }],
          extent: { kind: 'through' },
        },
        {
          id: 'holes',
          op: 'hole',
          plane: { surface: 'block.end' },
          at: {
            kind: 'points',
            points: [
              ['10', '15'],
              ['P', '15'],
            ],
          },
          diameter: 'D',
          depth: { kind: 'through' },
        },
      ],
      checks,
    },
    change,
  );

function built(document: Exercise, values: Record<string, string> = {}) {
  const { shape, surfaces, scope } = unwrap(buildRecipe(kernel, document.recipe, values));
  const solid = unwrap(kernel.analyze(shape, RECIPE_SOURCE));
  const step = kernel.writeStep(shape, 'mm', 'Test block');
  shape.free();
  return { solid, step, prepare: () => prepareReference(document, solid, surfaces, scope) };
}

/** Measures one check on a submission whose letters have other values; the submission comes back through STEP. */
function measure(check: object, values: Record<string, string>): CheckMeasurement {
  const document = exercise([{ id: 'c', label: 'Check', ...check }]);
  const reference: Reference = unwrap(built(document).prepare());
  const submission: Solid = unwrap(readModel(kernel, built(document, values).step));
  const [measured] = measureSubmission(reference, submission).checks;
  if (!measured) throw new Error('not measured');
  return measured;
}

describe('each kind of check measures the submission, not the reference', () => {
  it.each([
    [
      'distance',
      { kind: 'distance', from: 'block.start', to: 'block.end', nominal: 'H', ...sized },
      { H: '21.5' },
      21.5,
    ],
    [
      'distance to a step',
      { kind: 'distance', from: 'step.lower', to: 'block.end', nominal: '8', ...sized },
      { H: '22' },
      8,
    ],
    [
      'diameter',
      { kind: 'diameter', of: ['holes.1.wall', 'holes.2.wall'], nominal: 'D', ...sized },
      { D: '7.25' },
      7.25,
    ],
    [
      'hole position',
      { kind: 'hole-position', of: 'holes.2.wall', from: 'block.left', nominal: 'P', ...sized },
      { P: '38' },
      38,
    ],
    [
      'center distance',
      { kind: 'center-distance', from: 'holes.1.wall', to: 'holes.2.wall', nominal: 'P - 10', ...sized },
      { P: '36.5' },
      26.5,
    ],
    ['overall size', { kind: 'overall-size', axis: 'x', nominal: 'A', ...sized }, { A: '55' }, 55],
    ['hole count', { kind: 'hole-count', like: 'holes.1.wall', nominal: '2', weight: 1 }, {}, 2],
    // 50 x 30 x 20 less the step 4 x 8 x 30 and two holes of 6; brass 8.5 g/cm3.
    ['volume', { kind: 'volume', tolerancePercent: 0.1, weight: 1 }, {}, 30_000 - 960 - 2 * Math.PI * 9 * 20],
    ['mass', { kind: 'mass', tolerancePercent: 0.1, weight: 1 }, {}, (30_000 - 960 - 2 * Math.PI * 9 * 20) * 0.0085],
    // Six sides (a step changes no area of its ends but cuts 4 x 8 from both), less 4 disks, plus two walls.
    [
      'area',
      { kind: 'area', tolerancePercent: 0.1, weight: 1 },
      {},
      2 * (50 * 30 + 50 * 20 + 30 * 20) - 2 * 32 - 4 * Math.PI * 9 + 2 * Math.PI * 6 * 20,
    ],
    ['single body', { kind: 'single-body', weight: 1 }, {}, 1],
  ])('%s', (_name, check, values, expected) => {
    expect(measure(check, values).measured).toBeCloseTo(expected, 5);
  });

  it('the center of mass is a distance from where it should be, in the frame of the part', () => {
    const measured = measure({ kind: 'center-of-mass', tolerance: '0.1', weight: 1 }, {});
    expect(measured.measured).toBeCloseTo(0, 6);
    expect(measured.point?.[1]).toBeCloseTo(15, 6);
  });

  it('gives the faces it is about, for the viewer', () => {
    const measured = measure(
      { kind: 'diameter', of: ['holes.1.wall', 'holes.2.wall'], nominal: 'D', ...sized },
      { D: '8' },
    );
    expect(measured.faceIds).toHaveLength(2);
    expect(measured.members).toEqual([8, 8]);
  });
});

describe('what is not there is missing, not zero', () => {
  it('a hole that was never made', () => {
    const document = exercise([
      { id: 'c', label: 'Second hole', kind: 'diameter', of: ['holes.2.wall'], nominal: 'D', ...sized },
      {
        id: 'p',
        label: 'Its place',
        kind: 'hole-position',
        of: 'holes.2.wall',
        from: 'block.left',
        nominal: 'P',
        ...sized,
      },
    ]);
    const reference = unwrap(built(document).prepare());
    const hole = document.recipe.steps[2];
    if (hole?.op !== 'hole') throw new Error('not a hole');
    const one = {
      ...document,
      recipe: {
        ...document.recipe,
        steps: [
          ...document.recipe.steps.slice(0, 2),
          { ...hole, at: { kind: 'points' as const, points: [['10', '15'] as const] } },
        ],
      },
    };
    const { checks } = measureSubmission(reference, unwrap(readModel(kernel, built(one).step)));
    expect(checks.map((check) => check.measured)).toEqual([null, null]);
  });
});

describe('a check plan that does not fit the part is refused when it is prepared', () => {
  const codeOf = (checks: readonly object[], change: object = {}): string => {
    const result = built(exercise(checks, change)).prepare();
    return result.ok ? 'prepared' : result.problem.code;
  };
  it.each([
    [
      'a surface that no step made',
      { kind: 'distance', from: 'block.start', to: 'block.roof', nominal: '3', ...sized },
      'check-anchor',
    ],
    [
      'a count of something that is not a hole',
      { kind: 'hole-count', like: 'block.left', nominal: '1', weight: 1 },
      'check-anchor',
    ],
    ['an unknown letter', { kind: 'overall-size', axis: 'x', nominal: 'Z + 1', ...sized }, 'unknown-name'],
  ])('%s', (_name, check, code) => {
    expect(codeOf([{ id: 'c', label: 'Check', ...check }])).toBe(code);
  });

  it('a surface that a later step has removed', () => {
    // The step takes the upper end of the right side away, but not the right side itself; "holes.1.floor" never was.
    expect(
      codeOf([
        { id: 'c', label: 'Floor', kind: 'distance', from: 'block.start', to: 'holes.1.floor', nominal: '1', ...sized },
      ]),
    ).toBe('check-anchor');
  });
});

describe('an exercise document', () => {
  it.each([
    ['an unknown kind of check', { checks: [{ id: 'c', label: 'C', kind: 'beauty', weight: 1 }] }],
    ['two checks of one name', { checks: [1, 2].map(() => ({ id: 'c', label: 'C', kind: 'single-body', weight: 1 })) }],
    ['a negative weight', { checks: [{ id: 'c', label: 'C', kind: 'single-body', weight: -1 }] }],
    ['a field that nobody knows', { secret: true }],
    ['another version', { version: 99 }],
  ])('with %s is not valid', (_name, change) => {
    const good = exercise([{ id: 'c', label: 'C', kind: 'single-body', weight: 1 }]);
    expect(v.safeParse(ExerciseSchema, { ...good, ...change }).success).toBe(false);
  });
});

describe('the limits of a check plan', () => {
  const accepts = (check: object): boolean =>
    v.safeParse(ExerciseSchema, {
      ...exercise([]),
      checks: [{ id: 'c', label: 'C', kind: 'volume', tolerancePercent: 1, weight: 1, ...check }],
    }).success;

  it.each([
    ['a weight', 'weight', [0, 0.5, 1000], [-0.001, 1000.5]],
    ['a tolerance in percent', 'tolerancePercent', [0.0001, 1, 50], [0, 51]],
    ['the stage it begins with', 'fromStage', [2, 3, 5], [1, 6, 2.5]],
    ['an id', 'id', ['c', 'hole-2', `a${'b'.repeat(39)}`], ['', '2-hole', 'Hole', `a${'b'.repeat(40)}`]],
    ['a label', 'label', ['L', 'x'.repeat(80)], ['', 'x'.repeat(81)]],
    ['a group', 'group', ['dimensions', 'features', 'properties', 'model-quality'], ['other', '']],
    ['being off', 'off', [true, false], ['yes']],
  ] as const)('%s has two ends', (_name, field, good, bad) => {
    for (const value of good) expect([value, accepts({ [field]: value })]).toEqual([value, true]);
    for (const value of bad) expect([value, accepts({ [field]: value })]).toEqual([value, false]);
  });

  it('a list of surfaces has 1 to 100 names', () => {
    const circle = (count: number): object => ({
      id: 'c',
      label: 'C',
      kind: 'diameter',
      of: Array.from({ length: count }, (_, i) => `holes.${String(i + 1)}.wall`),
      nominal: '8',
      tolerance: '0.1',
      weight: 1,
      tolerancePercent: undefined,
    });
    const fits = (count: number): boolean =>
      v.safeParse(ExerciseSchema, {
        ...exercise([]),
        checks: [Object.fromEntries(Object.entries(circle(count)).filter(([, value]) => value !== undefined))],
      }).success;
    expect([0, 1, 100, 101].map(fits)).toEqual([false, true, true, false]);
  });
});

describe('how far a face leans from square', () => {
  /** A flat face of 100 x 100 mm that looks along Z, leaning by so many degrees, and known so well. */
  const leaning = (id: number, degrees: number, uncertaintyMm: number): Face =>
    ({
      id,
      surface: {
        kind: 'plane',
        origin: [0, 0, 0],
        normal: [Math.sin((degrees * Math.PI) / 180), 0, Math.cos((degrees * Math.PI) / 180)],
      },
      areaMm2: 10_000,
      uncertaintyMm,
    }) as unknown as Face;
  const measuredOf = (...partners: readonly Face[]) =>
    kindOf('square').measure(
      {} as never,
      {
        reference: { faces: partners.map(({ id }) => leaning(id, 0, 0)) },
        partner: ([id]: readonly number[]) => partners.find((face) => face.id === id) ?? null,
        directionInFile: (direction: unknown) => direction,
      } as unknown as MeasureContext,
    );

  it('is told of the face that leans most beyond what is known of it', () => {
    // Known to 0.5 mm at both ends of 100 mm, a face is 2 x 0.5 / 100 rad = 0.573 degrees in doubt: 0.8 says less than 0.5.
    for (const faces of [
      [leaning(0, 0.5, 0), leaning(1, 0.8, 0.5)],
      [leaning(1, 0.8, 0.5), leaning(0, 0.5, 0)],
    ]) {
      const found = measuredOf(...faces);
      expect(found.measured).toBeCloseTo(0.5, 9);
      expect(found.faceIds).toEqual([0]);
    }
    // At 1.2 it leans by 0.627 more than its doubt.
    const found = measuredOf(leaning(0, 0.5, 0), leaning(1, 1.2, 0.5));
    expect(found.measured).toBeCloseTo(1.2, 9);
    expect(found.uncertainty).toBeCloseTo((2 * 0.5 * 180) / (Math.PI * 100), 6);
  });

  it('is nothing where all faces are square, or none has a partner', () => {
    expect(measuredOf(leaning(0, 0, 0)).measured).toBe(0);
    expect(measuredOf(leaning(0, 0, 0)).faceIds).toEqual([]);
  });
});
