import { beforeAll, describe, expect, it } from 'vitest';

import { gradeFile, prepareExercise } from '#core/attempt';
import type { Exercise } from '#core/exercise';
import { OPERATIONS, buildRecipe, RecipeBuilder } from '#core/recipe';
import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import { polyhedronProperties, readStl, trianglesOf, writeStl } from '#core/mesh';
import { OUTLINE_SHAPES } from '#core/outline';
import { judgeVariants } from '#core/variant';
import { distance } from '#core/vector';
import {
  cleatPlateExercise,
  demoExercises,
  fairleadBlockExercise,
  bowRollerCheekExercise,
  gudgeonBracketExercise,
  mastStepExercise,
  rowlockSocketExercise,
  tillerPinExercise,
  winchDrumExercise,
} from '#demo/exercises';
import { loadKernel } from '#runtime';

import { sampleOf } from './testing.ts';

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

/** Block less two steps, a groove, an eye across, two counterbored holes and two chamfers; symmetric in x and y. */
function fairleadBlock(): readonly Piece[] {
  const [a, b, c] = [3.5, 1.875, 1.625];
  const chamfer = 1 / 8;
  return [
    [a * b * c, 0, 0, c / 2],
    [-2 * 0.8 * (c - 0.625) * b, 0, 0, (c + 0.625) / 2],
    [-0.5 * 0.45 * b, 0, 0, c - 0.225],
    [-PI * 0.375 ** 2 * b, 0, 0, 0.65],
    [-2 * PI * 0.172 ** 2 * (0.625 - 0.4), 0, 0, (0.625 - 0.4) / 2],
    [-2 * PI * 0.281 ** 2 * 0.4, 0, 0, 0.625 - 0.2],
    [-2 * 0.5 * chamfer ** 2 * b, 0, 0, c - chamfer / 3],
  ];
}

/** Three disks less bore, six bolt holes and the chamfer of the upper flange; all about the Z axis. */
function winchDrum(): readonly Piece[] {
  const [a, b, c] = [3.25, 4, 2.25];
  const drum = a - 0.5 - 0.375;
  const [flange, chamfer] = [1.4375, 1 / 16];
  // A triangle turned about the axis (Pappus); its center lies off that of the triangle because r varies over it:
  // z = A - c/3 + cov(r, z) / r, with cov = (1/12) sum (ri - r)(zi - z) = -c^2 / 36 for this right triangle.
  const middle = flange - chamfer / 3;
  return [
    [PI * (b / 2) ** 2 * 0.375, 0, 0, 0.1875],
    [PI * (c / 2) ** 2 * drum, 0, 0, 0.375 + drum / 2],
    [PI * flange ** 2 * 0.5, 0, 0, a - 0.25],
    [-PI * 0.5 ** 2 * a, 0, 0, a / 2],
    [-6 * PI * (9 / 64) ** 2 * 0.375, 0, 0, 0.1875],
    [-2 * PI * middle * 0.5 * chamfer ** 2, 0, 0, a - chamfer / 3 - chamfer ** 2 / 36 / middle],
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

/** Shank, head, two grooves, two chamfers, a cross hole. */
function tillerPin(): number {
  const chamfer = (r: number, across: number, down: number) => 2 * PI * (r - across / 3) * 0.5 * across * down;
  // A hole of radius r across a shaft of radius R: the integral of 2 sqrt(R2 - x2) over the disk, with x = r sin t, by
  // Simpson's rule, which is exact to rounding for this smooth periodic integrand.
  const [big, small, n] = [6, 1.5, 400];
  const integrand = (t: number) =>
    4 * small ** 2 * Math.cos(t) ** 2 * Math.sqrt(big ** 2 - small ** 2 * Math.sin(t) ** 2);
  const step = PI / n;
  let across = 0;
  for (let i = 0; i <= n; i++)
    across += ((i === 0 || i === n ? 1 : i % 2 === 1 ? 4 : 2) * integrand(-PI / 2 + i * step) * step) / 3;
  return (
    PI * 36 * 60 +
    PI * 121 * 6 -
    2 * PI * (36 - 25) * 2 -
    chamfer(6, 1, 1) -
    chamfer(11, 1.5, 1.5 * Math.tan(PI / 6)) -
    across
  );
}

/** Plate with chamfered corners and ends, stem, bore, two counterbored ears. */
function rowlockSocket(): number {
  const [a, b, c] = [3.5, 1.5, 0.5];
  // Across the last 1/4 inch the end chamfer gets s/2 deep while the corner chamfers make the plate b - 2 s wide:
  // the integral of (s/2)(b - 2 s) from 0 to 1/4.
  const end = (b / 4) * 0.25 ** 2 - 0.25 ** 3 / 3;
  const ear = PI * (9 / 64) ** 2 * (c - 3 / 16) + (PI / 16) * (3 / 16);
  const lip = 2 * PI * (0.625 - 1 / 48) * 0.5 * (1 / 16) ** 2;
  return (
    (a * b - 4 * 0.5 * 0.25 ** 2) * c + PI * 0.625 ** 2 * 1.25 - PI * 0.375 ** 2 * (c + 1.25) - 2 * ear - 2 * end - lip
  );
}

/** Plate with two corner arcs, flange with a round edge and an inside round, window, pin, stop and bolt holes. */
function bowRollerCheek(): number {
  const plate = (110 * 64 - 2 * spandrelArea(30)) * 8;
  const flange = 22 * 7 * 110 - (7 * 3.5 - (PI * 3.5 ** 2) / 2) * 110 + spandrelArea(5) * 110;
  // The outline 14 further in leaves 14 to 96 by 14 to 50 with corners of 30 - 14; the window takes it from 58 and 20.
  const window = (38 * 30 - spandrelArea(16)) * 8;
  return plate + flange - window - PI * 8 ** 2 * 8 - 3 * PI * 2 ** 2 * 8 - 3 * PI * 3.25 ** 2 * 7;
}

/** Block less end steps, pocket, slots and holes; with two ribs and the rounds of the pocket. */
function mastStep(): number {
  const [a, b, c] = [6, 3, 1.25];
  const pocket = (a - 3) * (b - 0.75) - 4 * spandrelArea(0.25);
  const slot = (1 - 3 / 16) * (3 / 16) + PI * (3 / 32) ** 2;
  const pilot = PI * (1 / 16) ** 2 * (0.25 + 1 / 16 / Math.tan((59 * PI) / 180) / 3);
  return (
    a * b * c -
    2 * b * (c - 0.375) -
    pocket * 0.625 -
    3 * slot * (c - 0.625) -
    4 * PI * (5 / 32) ** 2 * 0.375 +
    2 * 0.5 * 0.875 * 0.75 * 0.25 -
    2 * pilot
  );
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

  it.each([
    ['tiller pin', tillerPinExercise, tillerPin],
    ['rowlock socket', rowlockSocketExercise, rowlockSocket],
    ['bow-roller cheek', bowRollerCheekExercise, bowRollerCheek],
    ['mast step', mastStepExercise, mastStep],
  ] as const)('%s, volume alone', (_name, exercise, volume) => {
    const built = unwrap(buildRecipe(kernel, exercise.recipe));
    const { volumeMm3 } = kernel.massProperties(built.shape);
    built.shape.free();
    const factor = exercise.recipe.unit === 'in' ? 25.4 : 1;
    expect(volumeMm3 / (volume() * factor ** 3)).toBeCloseTo(1, 6);
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
  it.each(sampleOf(demoExercises, 6).map((exercise) => [exercise.title, exercise] as const))(
    '%s: its volume is that of its own fine STL, summed over the triangles',
    (_title, exercise) => {
      const built = unwrap(buildRecipe(kernel, exercise.recipe));
      const { volumeMm3, centroidMm } = kernel.massProperties(built.shape);
      const stl = writeStl(trianglesOf(kernel.displayMesh(built.shape, { toleranceMm: 0.01, angleRad: 0.08 })));
      built.shape.free();
      const [triangles] = readStl(stl).parts;
      const mesh = polyhedronProperties(triangles!);
      // A chord of 0.08 rad leaves (0.08)^2 / 8 of the radius, 0.08 % of it.
      expect(Math.abs(mesh.volumeMm3 / volumeMm3 - 1)).toBeLessThan(1e-3);
      expect(distance(mesh.centroidMm, centroidMm)).toBeLessThan(0.02);
    },
  );

  it('together they use every operation, extent, hole and outline', () => {
    const text = JSON.stringify(demoExercises.map(({ recipe }) => recipe));
    for (const operation of OPERATIONS) expect(text).toContain(`"op":"${operation}"`);
    for (const shape of OUTLINE_SHAPES) expect(text).toContain(`"shape":"${shape}"`);
    for (const kind of ['depth', 'symmetric', 'two-sided', 'through', 'to-next', 'to-surface', 'wall', 'blind'])
      expect(text).toContain(`"kind":"${kind}"`);
    for (const kind of ['points', 'bolt-circle', 'concentric', 'offset', 'angled', 'middle', 'tangent'])
      expect(text).toContain(`"kind":"${kind}"`);
    for (const word of ['counterbore', 'countersink', 'tapped', 'drill-point', 'skip', 'second', 'start', 'other'])
      expect(text).toContain(`"${word}"`);
    expect(demoExercises.filter(({ variants }) => variants.length >= 6).length).toBeGreaterThanOrEqual(3);
    expect(demoExercises.filter(({ stages }) => stages.length > 0)).not.toHaveLength(0);
  });

  it.each(
    sampleOf(
      demoExercises.filter(({ variants }) => variants.length > 0),
      2,
    ).map((exercise) => [exercise.title, exercise] as const),
  )('%s: every variant rebuilds, keeps its surfaces and differs from the others', (_title, exercise) => {
    const builder = new RecipeBuilder(kernel);
    const verdicts = judgeVariants(kernel, builder, exercise);
    builder.free();
    expect(verdicts.filter(({ problem }) => problem !== null)).toEqual([]);
  });

  it.each(demoExercises.map((exercise) => [exercise.title, exercise] as const))(
    '%s: the reference passes its own check plan, and scores 100 when handed in as STEP',
    (_title, exercise) => {
      const prepared = unwrap(prepareExercise(kernel, exercise));
      expect(prepared.failing).toEqual([]);
      const policy = { ...exercise.scoring, typedValueWeight: 0 };
      const { report } = unwrap(gradeFile(kernel, prepared.reference, { bytes: prepared.file, policy }));
      expect(report.score).toBe(100);
      expect(report.causes).toEqual([]);
      expect(report.frame.kind).toBe('as-modeled');
    },
  );

  it('follows its letters: a longer plate is still checked by the same plan', () => {
    const prepared = unwrap(prepareExercise(kernel, cleatPlateExercise, { values: { A: '150', B: '80' } }));
    expect(prepared.failing).toEqual([]);
    const pitch = prepared.reference.targets.find((target) => target.checkId === 'bolt-pitch-x');
    expect(pitch && 'nominal' in pitch && pitch.nominal).toBe(122);
  });
});
