import { beforeAll, describe, expect, it } from 'vitest';

import { gradeFile, prepareExercise } from '#core/attempt';
import type { Reference } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import { firstExercises } from '#demo/exercises';
import { modelLikeStudent, type Slip } from '#demo/workbench';
import { loadKernel } from '#runtime';

let kernel: Kernel;
const references = new Map<string, Reference>();
beforeAll(async () => {
  kernel = await loadKernel();
  for (const exercise of firstExercises)
    references.set(exercise.number, unwrap(prepareExercise(kernel, exercise)).reference);
});

const find = (number: string): Exercise => {
  const exercise = firstExercises.find((candidate) => candidate.number === number);
  if (!exercise) throw new Error(number);
  return exercise;
};

function gradeMistake(exercise: Exercise, mistake: Slip) {
  const handIn = unwrap(modelLikeStudent(kernel, exercise, mistake));
  const reference = references.get(exercise.number);
  if (!reference) throw new Error('no reference');
  return unwrap(gradeFile(kernel, reference, { bytes: handIn.step, typed: handIn.typed, policy: exercise.scoring }))
    .report;
}

const HOLES: Readonly<Record<string, readonly string[]>> = {
  'SB-101': ['bolts'],
  'SB-102': ['eye', 'bolts'],
  'SB-201': ['bolts'],
  'SB-202': ['bolts', 'pin'],
};

/** Every mistake of the workbench on every demo part, with the cause that an instructor would name. */
const CASES: readonly (readonly [number: string, cause: string, mistake: Slip])[] = firstExercises.flatMap(
  (exercise) => {
    const { number, recipe, material } = exercise;
    const other = material.id === 'brass' ? 'bronze' : 'brass';
    const shift = recipe.unit === 'mm' ? 12.5 : 0.5;
    return [
      ...(HOLES[number] ?? []).map(
        (step) => [number, 'radius-for-diameter', { kind: 'radius-for-diameter', step }] as const,
      ),
      [number, 'radius-for-diameter', { kind: 'radius-for-diameter', step: 'bolts', hole: 2 }] as const,
      [number, 'one-forgotten', { kind: 'one-forgotten', step: 'bolts', hole: 1 }] as const,
      [number, 'wrong-unit', { kind: 'unit-swapped' }] as const,
      [number, 'wrong-material', { kind: 'wrong-material', material: other }] as const,
      [number, 'shifted-origin', { kind: 'origin-shifted', by: [shift, -shift, 0] }] as const,
    ];
  },
);

describe('a single seeded mistake', () => {
  it.each(CASES)('%s: %s is the first cause named (%j)', (number, cause, mistake) => {
    const report = gradeMistake(find(number), mistake);
    expect(report.causes[0]?.id).toBe(cause);
    expect(report.score).toBeLessThan(100);
  });

  it.each([
    ['SB-101', 'A', '102', 'length'],
    ['SB-101', 'C', '8.5', 'thickness'],
    ['SB-102', 'B', '1.5', 'width'],
    ['SB-201', 'A', '3', 'length'],
    ['SB-201', 'C', '2.125', 'drum'],
    ['SB-202', 'B', '60', 'width'],
    ['SB-202', 'C', '74', 'height'],
  ])(
    '%s: %s = %s is blamed on the check "%s", and what follows from it is not blamed again',
    (number, letter, value, check) => {
      const report = gradeMistake(find(number), { kind: 'size-wrong', parameter: letter, value });
      expect(report.causes[0]?.checkIds[0]).toBe(check);
      expect(report.causes.filter((cause) => cause.certainty >= 0.6)).toHaveLength(1);
    },
  );
});

it('names which of four holes is wrong, and by how much', () => {
  const report = gradeMistake(find('SB-101'), { kind: 'radius-for-diameter', step: 'bolts', hole: 3 });
  const line = report.lines.find((candidate) => candidate.checkId === 'bolt-diameter');
  expect(line).toMatchObject({ verdict: 'wrong', measured: 4.5, nominal: 9, deviation: -4.5 });
  expect(line?.faceIds).toHaveLength(1);
  expect(line?.advice).toContain('number 3 of 4');
});

it('finds a swapped pair of digits and says what follows from it', () => {
  const report = gradeMistake(find('SB-101'), { kind: 'size-wrong', parameter: 'B', value: '46' });
  const [cause] = report.causes;
  expect(cause?.id).toBe('digits-swapped');
  // All that hangs on the width follows from it: the pitch of the holes, and the slots on the middle.
  expect(cause?.checkIds.slice(0, 2)).toEqual(['width', 'bolt-pitch-y']);
  expect(report.causes).toHaveLength(1);
});

it('keeps shape and frame apart: a shifted part loses nothing but its center of mass', () => {
  const report = gradeMistake(find('SB-202'), { kind: 'origin-shifted', by: [5, 0, 0] });
  const failed = report.lines.filter((line) => line.verdict !== 'right').map((line) => line.checkId);
  expect(failed).toEqual(['center-of-mass']);
  expect(report.causes[0]?.message).toContain('5.0 mm in X');
});

it('a right model with the right numbers is worth everything, in both units', () => {
  for (const exercise of firstExercises) {
    const report = gradeMistake(exercise, { kind: 'none' });
    expect(report.score).toBe(100);
    expect(report.causes).toEqual([]);
    expect(report.typed.every((line) => line.matchesReference && line.ofFile === 'yes')).toBe(true);
  }
});

it('refuses a mistake that the part does not offer', () => {
  const handIn = modelLikeStudent(kernel, find('SB-101'), { kind: 'one-forgotten', step: 'bolts', hole: 9 });
  expect(handIn.ok ? '' : handIn.problem.code).toBe('no-such-hole');
});
