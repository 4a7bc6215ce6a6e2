import { beforeAll, describe, expect, it } from 'vitest';

import { gradeFile, prepareExercise } from '#core/attempt';
import { measureSubmission, type Reference } from '#core/check';
import type { Exercise } from '#core/exercise';
import { gradeMeasurement, type Report } from '#core/grade';
import type { Kernel } from '#core/kernel';
import { readModel } from '#core/model';
import { unwrap } from '#core/problem';
import { buildRecipe, type Recipe, type Step } from '#core/recipe';
import { AXIS_ROTATIONS, type Mat3, type Vec3 } from '#core/vector';
import { cleatPlateExercise, fairleadBlockExercise, gudgeonBracketExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';

let kernel: Kernel;
const references = new Map<string, Reference>();
beforeAll(async () => {
  kernel = await loadKernel();
  for (const exercise of [cleatPlateExercise, fairleadBlockExercise, gudgeonBracketExercise])
    references.set(exercise.number, unwrap(prepareExercise(kernel, exercise)).reference);
});

/** Changes the steps of a recipe as a student would have built them, and grades the STEP file of the result. */
function gradeSteps(
  exercise: Exercise,
  change: (step: Step) => Step | null,
  motion?: { turn: Mat3; by: Vec3 },
): Report {
  const recipe: Recipe = {
    ...exercise.recipe,
    steps: exercise.recipe.steps.flatMap((step) => {
      const changed = change(step);
      return changed === null ? [] : [changed];
    }),
  };
  const { shape } = unwrap(buildRecipe(kernel, recipe));
  const placed = motion ? kernel.moved(shape, motion.turn, motion.by) : shape;
  const step = kernel.writeStep(placed, recipe.unit, 'Student');
  shape.free();
  if (motion) placed.free();
  const reference = references.get(exercise.number);
  if (!reference) throw new Error('no reference');
  const policy = { ...exercise.scoring, typedValueWeight: 0 };
  return unwrap(gradeFile(kernel, reference, { bytes: step, policy })).report;
}

const wrongIds = (report: Report): string[] =>
  report.lines.filter((line) => line.verdict !== 'right').map((line) => line.checkId);

describe('built another way, the same part earns the same', () => {
  it('holes as circles that are cut, instead of the hole operation', () => {
    const report = gradeSteps(cleatPlateExercise, (step) =>
      step.op === 'hole' && step.at.kind === 'points'
        ? {
            id: step.id,
            op: 'extrude',
            mode: 'cut',
            plane: step.plane,
            outlines: step.at.points.map((center) => ({ shape: 'circle', center, diameter: step.diameter })),
            extent: { kind: 'through' },
          }
        : step,
    );
    expect(report.score).toBe(100);
    expect(report.causes).toEqual([]);
  });

  it('the plate drawn from its upper face downwards', () => {
    const report = gradeSteps(cleatPlateExercise, (step) =>
      step.id === 'base' && step.op === 'extrude'
        ? { ...step, plane: { base: 'XY', offset: 'C/2' }, extent: { kind: 'symmetric', depth: 'C' } }
        : step,
    );
    expect(report.score).toBe(100);
  });
});

describe('a mistake shows where it is, and only there', () => {
  it('one round of another radius: the rounds are named, with the corner', () => {
    const report = gradeSteps(cleatPlateExercise, (step) => (step.op === 'fillet' ? { ...step, radius: '6' } : step));
    expect(report.lines.find((line) => line.checkId === 'corner-radius')).toMatchObject({
      measured: 6,
      verdict: 'wrong',
    });
    expect(report.causes[0]?.checkIds).toEqual(['corner-radius']);
  });

  it('rounds forgotten: they are missing, the sizes around them are right', () => {
    const report = gradeSteps(cleatPlateExercise, (step) => (step.op === 'fillet' ? null : step));
    expect(report.lines.find((line) => line.checkId === 'corner-radius')?.verdict).toBe('missing');
    for (const id of ['length', 'width', 'thickness', 'bolt-diameter', 'bolt-count', 'slot-width'])
      expect(wrongIds(report)).not.toContain(id);
  });

  it('holes without their counterbores: the recess is missing, the holes are right', () => {
    const report = gradeSteps(gudgeonBracketExercise, (step) => {
      if (step.op !== 'hole' || !step.counterbore) return step;
      const { counterbore: _forgotten, ...plain } = step;
      return plain;
    });
    expect(report.lines.find((line) => line.checkId === 'recess-diameter')?.verdict).toBe('missing');
    expect(report.lines.find((line) => line.checkId === 'recess-depth')?.verdict).toBe('missing');
    expect(report.lines.find((line) => line.checkId === 'bolt-diameter')?.verdict).toBe('right');
    expect(report.lines.find((line) => line.checkId === 'bolt-count')?.verdict).toBe('right');
  });

  it('a counterbore too deep: its depth alone among the sizes', () => {
    const report = gradeSteps(fairleadBlockExercise, (step) =>
      step.op === 'hole' && step.counterbore ? { ...step, counterbore: { ...step.counterbore, depth: '0.3' } } : step,
    );
    const sizes = report.lines.filter((line) => line.group === 'dimensions' && line.verdict !== 'right');
    expect(sizes.map((line) => line.checkId)).toEqual(['recess-depth']);
    expect(sizes[0]?.measured).toBeCloseTo(0.3 * 25.4, 6);
  });

  it('a hole in the wrong place is found there, and its diameter still counts as right', () => {
    const report = gradeSteps(gudgeonBracketExercise, (step) =>
      step.id === 'pin' && step.op === 'hole' ? { ...step, at: { kind: 'points', points: [['0', 'C - 20']] } } : step,
    );
    expect(report.lines.find((line) => line.checkId === 'pin-diameter')?.verdict).toBe('right');
    expect(report.lines.find((line) => line.checkId === 'pin-height')).toMatchObject({ measured: 50, deviation: -4 });
  });

  it('the gusset forgotten: its thickness is missing, and the volume is short by it', () => {
    const report = gradeSteps(gudgeonBracketExercise, (step) => (step.id === 'gusset' ? null : step));
    expect(report.lines.find((line) => line.checkId === 'gusset-thickness')?.verdict).not.toBe('right');
    // A triangle of 40 x 36, 6 thick.
    expect(report.lines.find((line) => line.checkId === 'volume')?.deviation).toBeCloseTo(-0.5 * 40 * 36 * 6, 4);
  });
});

describe('on the wrong plane', () => {
  it.each([2, 7, 16])(
    'turned by axis rotation %i: every size is right, the center of mass is not, and it is said once',
    (i) => {
      const turn = AXIS_ROTATIONS[i];
      if (!turn) throw new Error('no rotation');
      const report = gradeSteps(gudgeonBracketExercise, (step) => step, { turn, by: [0, 0, 0] });
      expect(wrongIds(report)).toEqual(['center-of-mass']);
      expect(report.causes.map((cause) => cause.id)).toEqual(['wrong-plane']);
    },
  );
});

describe('another exercise handed in', () => {
  it('matches hardly anything, earns little, and no cause is claimed with certainty', () => {
    const reference = references.get('SB-202');
    const other = unwrap(prepareExercise(kernel, cleatPlateExercise));
    if (!reference) throw new Error('no reference');
    const policy = { ...gudgeonBracketExercise.scoring, typedValueWeight: 0 };
    const { report } = unwrap(gradeFile(kernel, reference, { bytes: other.file, policy }));
    expect(report.score).toBeLessThan(40);
    expect(report.frame.agreement).toBeLessThan(0.5);
    expect(report.causes.some((cause) => ['wrong-unit', 'shifted-origin', 'wrong-plane'].includes(cause.id))).toBe(
      false,
    );
  });
});

it('a changed policy scores stored measurements anew, without the kernel', () => {
  const reference = references.get('SB-101');
  const { file } = unwrap(prepareExercise(kernel, cleatPlateExercise, { values: { C: '10.1' } }));
  if (!reference) throw new Error('no reference');
  const measurement = measureSubmission(reference, unwrap(readModel(kernel, file)));
  const stored = JSON.parse(JSON.stringify(measurement)) as typeof measurement;
  const policy = { ...cleatPlateExercise.scoring, typedValueWeight: 0 };
  const lenient = gradeMeasurement(reference, stored, { typed: [], policy: { ...policy, partialReach: 100 } });
  const strict = gradeMeasurement(reference, stored, { typed: [], policy: { ...policy, partialReach: 1 } });
  expect(lenient.score).toBeGreaterThan(strict.score);
  // 0.1 off with a tolerance of 0.05: twice the tolerance is close with a long reach, wrong with none.
  expect(lenient.lines.find((line) => line.checkId === 'thickness')?.verdict).toBe('near');
  expect(strict.lines.find((line) => line.checkId === 'thickness')?.verdict).toBe('wrong');
});
