import { beforeAll, describe, expect, it } from 'vitest';

import { gradeFile, prepareExercise } from '#core/attempt';
import type { Exercise } from '#core/exercise';
import type { Report } from '#core/grade';
import type { Kernel } from '#core/kernel';
import { withPart } from '#core/model';
import { suggestPlan } from '#core/plan';
import { unwrap } from '#core/problem';
import { buildRecipe, RecipeSchema } from '#core/recipe';
import { loadKernel } from '#runtime';
import * as v from 'valibot';

import { blockStep, exerciseOf, holesStep, pocketStep } from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const PLACES = [
  [10, 10],
  [50, 10],
  [10, 30],
  [50, 30],
] as const;
const BLOCK = blockStep([60, 40, 20]);

/** A block with four like holes, and the plan that is suggested for it. */
function fourHoles(hole: object): Exercise {
  const exercise = exerciseOf({ steps: [BLOCK, holesStep('hole', PLACES, 6, hole)], checks: [] });
  const checks = withPart(kernel, exercise, {}, (part) => suggestPlan({ exercise, ...part }));
  return { ...exercise, checks: [...checks] };
}

/** The report on the same block with the last hole made otherwise, or left out. */
function reportOn(exercise: Exercise, hole: object, last: object | null): Report {
  const steps = PLACES.flatMap((place, i) => {
    const change = i === 3 ? last : hole;
    return change === null ? [] : [holesStep(`hole${String(i)}`, [place], 6, change)];
  });
  const recipe = v.parse(RecipeSchema, { ...exercise.recipe, steps: [BLOCK, ...steps] });
  const { shape } = unwrap(buildRecipe(kernel, recipe));
  const bytes = kernel.writeStep(shape, 'mm', 'Student');
  shape.free();
  const { reference } = unwrap(prepareExercise(kernel, exercise));
  return unwrap(gradeFile(kernel, reference, { bytes, policy: exercise.scoring })).report;
}
const wrongLabels = ({ lines }: Report): readonly string[] =>
  lines.flatMap(({ label, verdict, kind }) =>
    verdict === 'right' || ['volume', 'area', 'mass', 'center-of-mass'].includes(kind) ? [] : [label],
  );
const words = ({ causes }: Report): readonly string[] => causes.map(({ message }) => message);

describe('of four like holes, whose sizes the sheet writes once', () => {
  const blind = { depth: { kind: 'blind', depth: '8' } };
  const bored = { depth: { kind: 'through' }, counterbore: { diameter: '12', depth: '3' } };
  const sunk = { depth: { kind: 'through' }, countersink: { diameter: '11', angle: '90' } };
  const through = { depth: { kind: 'through' } };

  it.each([
    ['blind', blind],
    ['counterbored', bored],
    ['countersunk', sunk],
  ])('all %s ones that are right get full marks', (_name, hole) => {
    const report = reportOn(fourHoles(hole), hole, hole);
    expect([report.score, words(report)]).toEqual([100, []]);
  });

  it.each([
    [
      'is deeper',
      blind,
      { depth: { kind: 'blind', depth: '9' } },
      ['Hole depth'],
      'Hole depth is 9.0 mm where the sheet says 8.0 mm.',
    ],
    ['goes through', blind, through, ['Hole depth'], 'Hole depth: a hole goes through on the model.'],
    [
      'has a deeper counterbore',
      bored,
      { ...bored, counterbore: { diameter: '12', depth: '4' } },
      ['Hole counterbore depth'],
      'Hole counterbore depth is 4.0 mm where the sheet says 3.0 mm.',
    ],
    [
      'has no counterbore',
      bored,
      through,
      ['Hole counterbore diameter', 'Hole counterbore depth'],
      'Hole counterbore depth: a hole has no counterbore on the model.',
    ],
    [
      'has a smaller countersink',
      sunk,
      { ...sunk, countersink: { diameter: '10', angle: '90' } },
      ['Hole countersink diameter'],
      'Hole countersink diameter is 10.0 mm where the sheet says 11.0 mm.',
    ],
    [
      'has a countersink of another angle',
      sunk,
      { ...sunk, countersink: { diameter: '11', angle: '82' } },
      ['Hole countersink angle'],
      'Hole countersink angle is 82.00° where the sheet says 90.00°.',
    ],
    [
      'has no countersink',
      sunk,
      through,
      ['Hole countersink diameter', 'Hole countersink angle'],
      'Hole countersink diameter: a hole has no countersink on the model.',
    ],
  ] as const)('one that %s is told', (_name, hole, last, labels, cause) => {
    const report = reportOn(fourHoles(hole), hole, last);
    expect(wrongLabels(report)).toEqual(labels);
    expect(words(report)).toEqual([cause]);
  });

  it('one that is missing fails the count and its place, not the size of the three others', () => {
    const report = reportOn(fourHoles(blind), blind, null);
    expect(wrongLabels(report)).toEqual([
      'Hole 4 from Block left along X',
      'Hole 4 from Block lower along Y',
      'Number of holes',
    ]);
    expect(words(report)).toEqual(['One hole of diameter 6.0 mm is missing: the sheet shows 4, the model has 3.']);
  });

  it('one that is missing fails their depth where nothing counts them', () => {
    const counted = fourHoles(blind);
    const plan = { ...counted, checks: counted.checks.filter(({ kind }) => kind !== 'hole-count') };
    const { lines } = reportOn(plan, blind, null);
    expect(lines.find(({ label }) => label === 'Hole depth')).toMatchObject({
      verdict: 'missing',
      reason: '3 of the 4 holes are on the model.',
    });
  });

  it('those of another angle, or another thickness to go through, are none of them', () => {
    // Two holes with a countersink of 11, of 90 and of 82 degrees; two through a plate of 20 with a step of 12.
    const ones = (...steps: readonly object[]): number => {
      const exercise = exerciseOf({ steps: [BLOCK, ...steps], checks: [] });
      const plan = withPart(kernel, exercise, {}, (part) => suggestPlan({ exercise, ...part }));
      const depth = { id: 'through', label: 'Through', kind: 'hole-size', of: 'a.wall', size: 'depth', weight: 1 };
      const checks = [...plan, { ...depth, nominal: '20', tolerance: '0.05' }] as Exercise['checks'];
      const full = { ...exercise, checks };
      const { shape } = unwrap(buildRecipe(kernel, full.recipe));
      const bytes = kernel.writeStep(shape, 'mm', 'Right');
      shape.free();
      const { reference } = unwrap(prepareExercise(kernel, full));
      return unwrap(gradeFile(kernel, reference, { bytes, policy: full.scoring })).report.score;
    };
    const sink = (angle: string): object => ({ ...through, countersink: { diameter: '11', angle } });
    expect(ones(holesStep('a', [PLACES[0]], 6, sink('90')), holesStep('b', [PLACES[1]], 6, sink('82')))).toBe(100);
    const step = pocketStep('step', [30, -1], [31, 42, 8]);
    expect(ones(step, holesStep('a', [PLACES[0]], 6, through), holesStep('b', [PLACES[1]], 6, through))).toBe(100);
  });

  it('those that a check of their own has are measured by that alone', () => {
    const exercise = fourHoles(blind);
    const own = exercise.checks.find(({ kind }) => kind === 'hole-size')!;
    const plan = {
      ...exercise,
      checks: [...exercise.checks, { ...own, id: 'last', label: 'Depth of the last', of: 'hole.4.wall' } as typeof own],
    };
    expect(wrongLabels(reportOn(plan, blind, { depth: { kind: 'blind', depth: '9' } }))).toEqual(['Depth of the last']);
  });
});
