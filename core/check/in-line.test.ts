import { beforeAll, describe, expect, it } from 'vitest';
import * as v from 'valibot';

import { gradeFile, prepareExercise } from '#core/attempt';
import { prepareReference, type Check } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Report } from '#core/grade';
import type { Kernel } from '#core/kernel';
import { trianglesOf, writeStl } from '#core/mesh';
import { withPart } from '#core/model';
import { suggestPlan } from '#core/plan';
import { unwrap } from '#core/problem';
import { buildRecipe, RecipeSchema } from '#core/recipe';
import { loadKernel } from '#runtime';

import { blockStep, exerciseOf, pocketStep } from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const BLOCK = blockStep([80, 40, 20]);
const LEFT = [8, 24, 40, 56] as const;
/** Four slots of 8 x 20, 6 deep, 16 apart, 10 from the lower side. */
const ROW = [
  BLOCK,
  pocketStep('slot', [LEFT[0], 10], [8, 20, 6]),
  { id: 'row', op: 'linear-pattern', steps: ['slot'], direction: { base: 'X' }, count: '4', spacing: '16' },
];

function planned(steps: readonly object[]): Exercise {
  const exercise = exerciseOf({ steps, checks: [] });
  const checks = withPart(kernel, exercise, {}, (part) => suggestPlan({ exercise, ...part }));
  return { ...exercise, checks: [...checks] };
}

/** The report on the four slots, of which the third has other sizes. */
function reportOn(
  exercise: Exercise,
  { depth = 6, lower = 10, length = 20, left = LEFT[2] as number, as = 'step' as 'step' | 'stl' },
): Report {
  const steps = LEFT.map((at, i) =>
    i === 2
      ? pocketStep(`slot${String(i)}`, [left, lower], [8, length, depth])
      : pocketStep(`slot${String(i)}`, [at, 10], [8, 20, 6]),
  );
  const { shape } = unwrap(
    buildRecipe(kernel, v.parse(RecipeSchema, { ...exercise.recipe, steps: [BLOCK, ...steps] })),
  );
  const bytes =
    as === 'step'
      ? kernel.writeStep(shape, 'mm', 'Student')
      : writeStl(trianglesOf(kernel.displayMesh(shape, { toleranceMm: 0.05, angleRad: 0.3 })));
  shape.free();
  const { reference } = unwrap(prepareExercise(kernel, exercise));
  return unwrap(gradeFile(kernel, reference, { bytes, policy: exercise.scoring }, { unit: 'mm' })).report;
}
const line = ({ lines }: Report) => lines.find(({ kind }) => kind === 'in-line');
const inLine = (of: readonly string[]): Check => ({
  id: 'line',
  label: 'Line',
  kind: 'in-line',
  of,
  tolerance: '0.05',
  weight: 1,
});

describe('copies that the sheet draws in line', () => {
  it('are one check of the plan: their floors and sides, each plane once', () => {
    const check = planned(ROW).checks.find(({ kind }) => kind === 'in-line');
    expect(check).toMatchObject({ label: 'Slot in line' });
    expect(check?.kind === 'in-line' ? check.of : []).toEqual(['slot.end', 'slot.lower', 'slot.upper']);
  });

  it.each(['step', 'stl'] as const)('have no step on a right part, as %s', (as) => {
    const report = reportOn(planned(ROW), { as });
    expect([report.score, report.causes]).toEqual([100, []]);
    expect(line(report)).toMatchObject({ verdict: 'right' });
  });

  it.each([
    ['deeper', { depth: 7 }, 1],
    ['shallower', { depth: 5.7 }, 0.3],
    ['set higher', { lower: 11 }, 1],
    ['longer at one end', { length: 20.4 }, 0.4],
  ] as const)('fail where one of them is %s', (_name, change, stepMm) => {
    const report = reportOn(planned(ROW), change);
    expect(line(report)).toMatchObject({ verdict: 'wrong' });
    expect(line(report)?.measured).toBeCloseTo(stepMm, 6);
    // Both the slots and their row are out of line by the same: told once.
    expect(report.causes.map(({ message }) => message)).toEqual([
      expect.stringMatching(
        new RegExp(`^Slot in line.*: what the sheet draws in line has a step of ${stepMm.toFixed(1)} mm`),
      ),
    ]);
  });

  it('are in line though one is off along the line, which other checks tell', () => {
    expect(line(reportOn(planned(ROW), { left: 41 }))).toMatchObject({ verdict: 'right' });
  });
});

describe('a check of what lies in line is refused', () => {
  const refused = (of: readonly string[]): string => {
    const exercise = { ...exerciseOf({ steps: ROW, checks: [] }), checks: [inLine(of)] };
    const prepared = withPart(kernel, exercise, {}, ({ solid, surfaces, scope }) =>
      prepareReference(exercise, solid, surfaces, scope),
    );
    return prepared.ok ? '' : prepared.problem.message;
  };

  it('where nothing else lies in a plane of it, or a surface is not flat or not there', () => {
    expect(refused(['slot.end', 'row.2.slot.left'])).toContain('nothing else lies in the plane of "row.2.slot.left"');
    expect(refused(['slot.end'])).toBe('');
    expect(refused(['slot.end', 'nowhere.end'])).toContain('nowhere.end');
  });
});
