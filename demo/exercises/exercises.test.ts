import { beforeAll, describe, expect, it } from 'vitest';

import { gradeFile, prepareExercise } from '#core/attempt';
import type { Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import {
  cleatPlateExercise,
  demoExercises,
  fairleadBlockExercise,
  gudgeonBracketExercise,
  winchDrumExercise,
} from '#demo/exercises';
import { loadKernel } from '#runtime';

const { PI } = Math;

/** A piece of a part, in its drawing unit: volume (negative where material is taken away) and center. */
type Piece = readonly [volume: number, x: number, y: number, z: number];

function sum(pieces: readonly Piece[]): { volume: number; center: [number, number, number] } {
  const volume = pieces.reduce((total, [v]) => total + v, 0);
  const mean = (i: 1 | 2 | 3) => pieces.reduce((total, piece) => total + piece[0] * piece[i], 0) / volume;
  return { volume, center: [mean(1), mean(2), mean(3)] };
}

/** Square of side r less a quarter circle: area (1 - pi/4) r^2, its center r / (6 (1 - pi/4)) from the circle center. */
const spandrelArea = (r: number) => (1 - PI / 4) * r * r;
const spandrelOffset = (r: number) => r / 6 / (1 - PI / 4);

/** 120 x 64 x 10, corners R8, 4 holes of 9, 2 slots 30 x 12 (18 between centers). Symmetric about both middle planes. */
function cleatPlate(): readonly Piece[] {
  const area = 120 * 64 - 4 * spandrelArea(8) - 4 * PI * 4.5 ** 2 - 2 * (18 * 12 + PI * 6 ** 2);
  return [[area * 10, 0, 0, 5]];
}

/** Block less two steps, a groove, an eye across, two counterbored holes and two bevels; symmetric in x and y. */
function fairleadBlock(): readonly Piece[] {
  const [a, b, c] = [3.5, 1.875, 1.625];
  const bevel = 1 / 8;
  return [
    [a * b * c, 0, 0, c / 2],
    [-2 * 0.8 * (c - 0.625) * b, 0, 0, (c + 0.625) / 2],
    [-0.5 * 0.45 * b, 0, 0, c - 0.225],
    [-PI * 0.375 ** 2 * b, 0, 0, 0.65],
    [-2 * PI * 0.172 ** 2 * (0.625 - 0.2), 0, 0, (0.625 - 0.2) / 2],
    [-2 * PI * 0.281 ** 2 * 0.2, 0, 0, 0.625 - 0.1],
    [-2 * 0.5 * bevel ** 2 * b, 0, 0, c - bevel / 3],
  ];
}

/** Three disks less bore, six bolt holes and the bevel of the upper flange; all about the Z axis. */
function winchDrum(): readonly Piece[] {
  const [a, b, c] = [3.25, 4, 2.25];
  const drum = a - 0.5 - 0.375;
  const [flange, bevel] = [1.4375, 1 / 16];
  // A triangle turned about the axis (Pappus); its center lies off that of the triangle because r varies over it:
  // z = A - c/3 + cov(r, z) / r, with cov = (1/12) sum (ri - r)(zi - z) = -c^2 / 36 for this right triangle.
  const middle = flange - bevel / 3;
  return [
    [PI * (b / 2) ** 2 * 0.375, 0, 0, 0.1875],
    [PI * (c / 2) ** 2 * drum, 0, 0, 0.375 + drum / 2],
    [PI * flange ** 2 * 0.5, 0, 0, a - 0.25],
    [-PI * 0.5 ** 2 * a, 0, 0, a / 2],
    [-6 * PI * (9 / 64) ** 2 * 0.375, 0, 0, 0.1875],
    [-2 * PI * middle * 0.5 * bevel ** 2, 0, 0, a - bevel / 3 - bevel ** 2 / 36 / middle],
  ];
}

/** Base, upright on it, gusset; less rounds, counterbored holes and the pin hole. Symmetric in y. */
function gudgeonBracket(): readonly Piece[] {
  const [a, b, c, t] = [80, 50, 70, 8];
  return [
    [a * b * t, a / 2, 0, t / 2],
    [t * b * (c - t), t / 2, 0, t + (c - t) / 2],
    [0.5 * 40 * 36 * 6, t + 40 / 3, 0, t + 36 / 3],
    [-2 * spandrelArea(12) * t, t / 2, 0, c - 12 + spandrelOffset(12)],
    [-2 * spandrelArea(10) * t, a - 10 + spandrelOffset(10), 0, t / 2],
    [-2 * PI * 4.5 ** 2 * 5, 62, 0, 2.5],
    [-2 * PI * 7.5 ** 2 * 3, 62, 0, 6.5],
    [-PI * 8 ** 2 * t, t / 2, 0, c - 16],
  ];
}

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

describe('volume and center of mass agree with closed formulas to 1e-6', () => {
  const parts: readonly (readonly [string, Exercise, () => readonly Piece[]])[] = [
    ['cleat plate', cleatPlateExercise, cleatPlate],
    ['fairlead block', fairleadBlockExercise, fairleadBlock],
    ['winch drum', winchDrumExercise, winchDrum],
    ['gudgeon bracket', gudgeonBracketExercise, gudgeonBracket],
  ];
  it.each(parts)('%s', (_name, exercise, pieces) => {
    const built = unwrap(buildRecipe(kernel, exercise.recipe));
    const { volumeMm3, centroidMm } = kernel.massProperties(built.shape);
    built.shape.free();
    const factor = exercise.recipe.unit === 'in' ? 25.4 : 1;
    const { volume, center } = sum(pieces());
    expect(Math.abs(volumeMm3 / (volume * factor ** 3) - 1)).toBeLessThan(1e-6);
    center.forEach((x, i) => {
      // Parts are about 100 mm large: 1e-6 of that.
      expect(Math.abs((centroidMm[i] ?? Number.NaN) - x * factor)).toBeLessThan(1e-4);
    });
  });

  it('the surface of the cleat plate', () => {
    const built = unwrap(buildRecipe(kernel, cleatPlateExercise.recipe));
    const { areaMm2 } = kernel.massProperties(built.shape);
    built.shape.free();
    const face = 120 * 64 - 4 * spandrelArea(8) - 4 * PI * 4.5 ** 2 - 2 * (18 * 12 + PI * 36);
    // Straight sides and quarter circles outside, circles and slots inside, each 10 high.
    const outline = 2 * (120 - 16) + 2 * (64 - 16) + 2 * PI * 8 + 4 * PI * 9 + 2 * (36 + PI * 12);
    expect(areaMm2 / (2 * face + 10 * outline)).toBeCloseTo(1, 8);
  });
});

describe('every demo exercise', () => {
  it.each(demoExercises.map((exercise) => [exercise.title, exercise] as const))(
    '%s: the reference passes its own check plan, and scores 100 when handed in as STEP',
    (_title, exercise) => {
      const prepared = unwrap(prepareExercise(kernel, exercise));
      expect(prepared.failing).toEqual([]);
      const policy = { ...exercise.scoring, typedValueWeight: 0 };
      const { report } = unwrap(gradeFile(kernel, prepared.reference, prepared.step, [], policy));
      expect(report.score).toBe(100);
      expect(report.causes).toEqual([]);
      expect(report.frame.kind).toBe('as-modeled');
    },
  );

  it('follows its letters: a longer plate is still checked by the same plan', () => {
    const prepared = unwrap(prepareExercise(kernel, cleatPlateExercise, { A: '150', B: '80' }));
    expect(prepared.failing).toEqual([]);
    const pitch = prepared.reference.targets.find((target) => target.checkId === 'bolt-pitch-x');
    expect(pitch && 'nominal' in pitch && pitch.nominal).toBe(122);
  });
});
