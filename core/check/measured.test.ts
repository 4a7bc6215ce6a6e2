/** Every kind of check on a block whose sizes are known, handed in with one of them wrong. */
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';

import { beforeAll, describe, expect, it } from 'vitest';

import { CHECK_KINDS, measureSubmission, prepareReference, type CheckMeasurement, type Reference } from '#core/check';
import { gradeMeasurement } from '#core/grade';
import type { Kernel, Shape } from '#core/kernel';
import { trianglesOf, writeStl } from '#core/mesh';
import { readModel } from '#core/model';
import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import { RECIPE_SOURCE, type Solid } from '#core/solid';
import type { Mat3, Vec3 } from '#core/vector';
import { loadKernel } from '#runtime';

import { blockStep, exerciseOf, holesStep } from '../exercise/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

/** Sizes of the part, mm; one is changed in what a student hands in. */
const RIGHT = {
  length: 60,
  height: 20,
  blindX: 15,
  blind: 12,
  counterbore: 14,
  counterboreDepth: 4,
  sunkX: 45,
  sink: 12,
  sinkAngle: 90,
  pinX: 30,
  pinY: 20,
  chamfer: 2,
  chamferOther: 3,
  round: 5,
};
type Sizes = typeof RIGHT;

/**
 * A block of 60 x 40 x 20: a blind hole of 8 with a counterbore at (15, 12), a countersunk hole of 6 at (45, 28), three
 * holes of 4 on a circle of 12 about (30, 20), a chamfer of 2 x 3 along the upper right edge, a round of 5 at a corner.
 */
function stepsOf(sizes: Sizes, without: readonly string[] = []): readonly object[] {
  const pins = [90, 210, 330].map((degrees, i): readonly [number, number] => {
    const angle = (degrees * Math.PI) / 180;
    return i === 0 ? [sizes.pinX, sizes.pinY + 6] : [30 + 6 * Math.cos(angle), 20 + 6 * Math.sin(angle)];
  });
  const steps = [
    { ...blockStep([sizes.length, 40, sizes.height]) },
    holesStep('blind', [[sizes.blindX, 12]], 8, {
      depth: { kind: 'blind', depth: String(sizes.blind) },
      counterbore: { diameter: String(sizes.counterbore), depth: String(sizes.counterboreDepth) },
    }),
    holesStep('sunk', [[sizes.sunkX, 28]], 6, {
      countersink: { diameter: String(sizes.sink), angle: String(sizes.sinkAngle) },
    }),
    holesStep('pins', pins, 4),
    {
      id: 'edge',
      op: 'chamfer',
      edges: [{ between: ['block.end', 'block.right'] }],
      size: String(sizes.chamfer),
      other: String(sizes.chamferOther),
      on: 'block.end',
    },
    { id: 'corner', op: 'fillet', edges: [{ between: ['block.left', 'block.lower'] }], radius: String(sizes.round) },
  ];
  return steps.filter((step) => !without.includes((step as { id: string }).id));
}

type Part = ReturnType<typeof partOf>;
function partOf(steps: readonly object[]) {
  const { recipe } = exerciseOf({ steps, checks: [] });
  const { shape, surfaces, scope } = unwrap(buildRecipe(kernel, recipe));
  return { shape, surfaces, scope, solid: unwrap(kernel.analyze(shape, RECIPE_SOURCE)) };
}
/** Parts are built once, however many checks look at them. */
const parts = new Map<string, Part>();
function built(steps: readonly object[]): Part {
  const key = JSON.stringify(steps);
  const part = parts.get(key) ?? partOf(steps);
  parts.set(key, part);
  return part;
}

function referenceOf(steps: readonly object[], checks: readonly object[]): Reference {
  const document = exerciseOf({
    steps,
    checks: checks.map((check, i) => ({ id: `c${String(i)}`, ...CHECK, ...check })),
  });
  const { solid, surfaces, scope } = built(steps);
  return unwrap(prepareReference(document, solid, surfaces, scope));
}
const CHECK = { label: 'Check', weight: 1 };

interface HandedIn {
  readonly sizes?: Partial<Sizes>;
  readonly without?: readonly string[];
  readonly turn?: Mat3;
  readonly shift?: Vec3;
  /** As triangles, cut so coarsely; exact without. */
  readonly facetsMm?: number;
}

const sized = { nominal: '1', tolerance: '0.05' };

const solids = new Map<string, Solid>();
function handedIn(work: HandedIn): Solid {
  const key = JSON.stringify(work);
  const solid = solids.get(key) ?? solidOf(work);
  solids.set(key, solid);
  return solid;
}

function solidOf({ sizes = {}, without = [], turn, shift = [0, 0, 0], facetsMm }: HandedIn): Solid {
  const { shape } = built(stepsOf({ ...RIGHT, ...sizes }, without));
  const put = turn === undefined ? shape : kernel.moved(shape, turn, shift);
  if (facetsMm === undefined) return readBack(put);
  const mesh = trianglesOf(kernel.displayMesh(put, { toleranceMm: facetsMm, angleRad: 0.2 }));
  return unwrap(readModel(kernel, writeStl(mesh), { fileName: 'block.stl', unit: 'mm' }));
}
const readBack = (shape: Shape): Solid => unwrap(readModel(kernel, kernel.writeStep(shape, 'mm', 'Block')));

function measured(check: object, work: HandedIn = {}): CheckMeasurement {
  const [found] = measureSubmission(referenceOf(stepsOf(RIGHT), [check]), handedIn(work)).checks;
  if (found === undefined) throw new Error('not measured');
  return found;
}

const holeSize = (size: string, of = 'blind.wall'): object => ({ kind: 'hole-size', of, size, ...sized });
const PINS = ['pins.1.wall', 'pins.2.wall', 'pins.3.wall'];
const between = (kind: string, from: string, to: string, rest: object = {}): object => ({
  kind,
  from,
  to,
  ...sized,
  ...rest,
});

describe('a size of a hole is that of the model', () => {
  it.each([
    ['its depth', holeSize('depth'), { blind: 13.5 }, 13.5],
    ['the diameter of its counterbore', holeSize('counterbore-diameter'), { counterbore: 15 }, 15],
    ['the depth of its counterbore', holeSize('counterbore-depth'), { counterboreDepth: 5.5 }, 5.5],
    ['the diameter of its countersink', holeSize('countersink-diameter', 'sunk.wall'), { sink: 11 }, 11],
    ['the angle of its countersink', { kind: 'countersink-angle', of: 'sunk.wall', ...sized }, { sinkAngle: 82 }, 82],
  ] as const)('%s', (_what, check, sizes, expected) => {
    expect(measured(check, { sizes }).measured).toBeCloseTo(expected, 6);
  });

  it('and what it has not is said', () => {
    expect(measured(holeSize('counterbore-depth', 'sunk.wall'))).toMatchObject({
      measured: null,
      reason: 'The hole has no counterbore on the model.',
    });
    expect(measured({ kind: 'countersink-angle', of: 'blind.wall', ...sized })).toMatchObject({
      measured: null,
      reason: 'The hole has no countersink on the model.',
    });
  });
});

describe('distances of surfaces and axes', () => {
  it('along an axis of the part leave out the other two, also when the model was laid on another side', () => {
    const along = (axis: string) => between('center-distance', 'blind.wall', 'sunk.wall', { along: axis });
    // From (15, 12) to (45, 28), and for a student to (48, 28).
    expect(measured(along('x')).measured).toBeCloseTo(30, 6);
    expect(measured(along('y')).measured).toBeCloseTo(16, 6);
    expect(measured(along('x'), { sizes: { sunkX: 48 } }).measured).toBeCloseTo(33, 6);
    // A quarter turn about Z: what was along X is along Y of the file.
    const turn: Mat3 = [
      [0, -1, 0],
      [1, 0, 0],
      [0, 0, 1],
    ];
    const laid = { turn, shift: [100, -20, 7] as const };
    expect(measured(along('x'), laid).measured).toBeCloseTo(30, 6);
    expect(measured(along('y'), laid).measured).toBeCloseTo(16, 6);
    expect(measured(between('center-distance', 'blind.wall', 'sunk.wall'), laid).measured).toBeCloseTo(34, 6);
  });

  it('of two walls that should have one axis are how far the axes are apart', () => {
    const concentric = { kind: 'concentric', from: 'blind.wall', to: 'blind.recess', tolerance: '0.05' };
    expect(measured(concentric).measured).toBeCloseTo(0, 9);
    const apart = { kind: 'concentric', from: 'blind.wall', to: 'sunk.wall', tolerance: '0.05' };
    // The legs 30 and 16.
    expect(measured(apart).measured).toBeCloseTo(34, 6);
  });

  it('of faces that should be flush are the step between them', () => {
    const flush = { kind: 'flush', from: 'block.start', to: 'block.end', tolerance: '0.05' };
    expect(measured(flush, { sizes: { height: 21 } }).measured).toBeCloseTo(21, 6);
  });

  it('of a wall are its thickness, and a gap is none', () => {
    expect(measured(between('thickness', 'block.start', 'block.end'), { sizes: { height: 19 } }).measured).toBeCloseTo(
      19,
      6,
    );
    expect(measured(between('thickness', 'block.start', 'blind.floor'))).toMatchObject({ measured: 8 });
    expect(measured(between('thickness', 'block.end', 'blind.floor')).measured).toBeNull();
  });
});

describe('angles', () => {
  it('of two sides are those of the corner between them', () => {
    const corner = between('angle', 'block.right', 'block.upper', { nominal: '90' });
    expect(measured(corner).measured).toBeCloseTo(90, 6);
  });

  it('of a slope follow its legs: 2 up for 3 along', () => {
    const slope = between('angle', 'edge.chamfer', 'block.end', { nominal: '146' });
    const found = measured(slope);
    if (found.measured === null) throw new Error(String(found.reason));
    // The chamfer takes 2 from the upper face and 3 from the right one: inside the part 180 - atan(3 / 2).
    expect(found.measured).toBeCloseTo(180 - (Math.atan2(3, 2) * 180) / Math.PI, 6);
  });
});

describe('chamfers and rounds', () => {
  const leg = (on: string, to: string): object => ({ kind: 'chamfer-size', on, to, ...sized });
  it('have the leg that the sheet asks for', () => {
    expect(measured(leg('block.end', 'block.right')).measured).toBeCloseTo(2, 6);
    expect(measured(leg('block.right', 'block.end')).measured).toBeCloseTo(3, 6);
    expect(measured(leg('block.end', 'block.right'), { sizes: { chamfer: 2.5 } }).measured).toBeCloseTo(2.5, 6);
    expect(measured(leg('block.right', 'block.end'), { sizes: { chamferOther: 4 } }).measured).toBeCloseTo(4, 6);
  });

  it('that were forgotten are missing', () => {
    expect(measured(leg('block.end', 'block.right'), { without: ['edge'] })).toMatchObject({
      measured: null,
      reason: 'The chamfer is not on the model.',
    });
  });

  it('have the radius of the model', () => {
    const radius = { kind: 'radius', of: ['corner.fillet'], ...sized };
    expect(measured(radius, { sizes: { round: 6.5 } }).measured).toBeCloseTo(6.5, 6);
  });
});

describe('a circle of holes', () => {
  const circle = { kind: 'bolt-circle', of: PINS, nominal: '12', tolerance: '0.05' };
  it('has the diameter through their axes', () => {
    expect(measured(circle).measured).toBeCloseTo(12, 6);
  });

  it('of which one lies beside it has that of the circle through all three', () => {
    // Three axes always lie on one circle. The two others at (30 +- 6 cos 30, 17); the first 3 higher at (30, 29):
    // the center is on x = 30, at y where (29 - y)^2 = (6 cos 30)^2 + (17 - y)^2.
    const half = 6 * Math.cos(Math.PI / 6);
    const y = (29 ** 2 - 17 ** 2 - half ** 2) / (2 * (29 - 17));
    expect(measured(circle, { sizes: { pinY: 23 } }).measured).toBeCloseTo(2 * (29 - y), 6);
  });

  it('is missing where too few of its holes are there', () => {
    expect(measured(circle, { without: ['pins'] })).toMatchObject({
      measured: null,
      reason: 'Fewer than three of its holes are on the model.',
    });
  });
});

describe('what is there, and how often', () => {
  it('is told of a surface', () => {
    const there = { kind: 'presence', of: 'blind.wall' };
    expect(measured(there)).toMatchObject({ measured: 1 });
    expect(measured(there, { without: ['blind'] })).toMatchObject({
      measured: null,
      reason: 'It is not on the model.',
    });
  });

  it('is counted by kind of feature', () => {
    const holes = { kind: 'feature-count', feature: 'hole', nominal: '5' };
    expect(measured(holes).measured).toBe(5);
    expect(measured(holes, { without: ['sunk'] }).measured).toBe(4);
  });

  it('is symmetric or not about a plane across an axis', () => {
    const plain = ['blind', 'sunk', 'pins', 'edge', 'corner'];
    expect(measured({ kind: 'symmetric', axis: 'x' }, { without: plain }).measured).toBe(1);
    expect(measured({ kind: 'symmetric', axis: 'x' }, { without: plain.slice(1) }).measured).toBe(0);
  });
});

describe('the part as a whole', () => {
  const upright: Mat3 = [
    [1, 0, 0],
    [0, 0, -1],
    [0, 1, 0],
  ];
  it('lies where the sheet puts it, or does not', () => {
    expect(measured({ kind: 'frame' }).measured).toBe(1);
    expect(measured({ kind: 'frame' }, { turn: upright }).measured).toBe(0);
    expect(measured({ kind: 'unit' }, { turn: upright }).measured).toBe(1);
  });

  it('in another unit is no other frame', () => {
    // As when inches were taken for millimeters.
    const reference = referenceOf([blockStep([60, 40, 20])], [{ kind: 'unit' }, { kind: 'frame' }]);
    const solid = readBack(built([blockStep([60 * 25.4, 40 * 25.4, 20 * 25.4])]).shape);
    expect(measureSubmission(reference, solid).checks.map((check) => check.measured)).toEqual([0, 1]);
  });

  it('has principal moments that differ by so many percent', () => {
    const moments = { kind: 'principal-moments', tolerancePercent: 1 };
    expect(measured(moments).measured).toBeCloseTo(0, 6);
    const reference = referenceOf([blockStep([60, 40, 20])], [moments]);
    const [found] = measureSubmission(reference, readBack(built([blockStep([63, 40, 20])]).shape)).checks;
    // m (a2 + b2) / 12 with the mass 5 % larger: of x, y and z the one about y grows most, 1.05 (63^2 + 400) / (60^2 + 400).
    expect(found?.measured).toBeCloseTo(100 * ((1.05 * (63 ** 2 + 400)) / (60 ** 2 + 400) - 1), 5);
  });
});

describe('triangles carry how sure they are', () => {
  it('an exact file carries none', () => {
    expect(measured(holeSize('depth'))).not.toHaveProperty('uncertainty');
  });

  it.each([0.02, 0.1])('facets that are %d mm off leave a bore within their own doubt', (facetsMm) => {
    const found = measured({ kind: 'diameter', of: PINS, nominal: '4', tolerance: '0.05' }, { facetsMm });
    expect(Math.abs((found.measured ?? 0) - 4)).toBeLessThanOrEqual((found.uncertainty ?? 0) + 1e-4);
  });
});

describe('the material', () => {
  const brass = [{ kind: 'material', tolerancePercent: 1 }];
  /** A block of 48 cm3; brass of 8.5 asks for 408 g. */
  const graded = (mass: string | null) => {
    const steps = [blockStep([60, 40, 20])];
    const reference: Reference = { ...referenceOf(steps, brass), typedValues: ['mass'] };
    const typed = mass === null ? [] : [{ name: 'mass', text: mass, unit: 'g' } as const];
    const policy = { partialReach: 1, typedValueWeight: 0, notOneBodyCap: 50 };
    return gradeMeasurement(reference, measureSubmission(reference, readBack(built(steps).shape)), { typed, policy })
      .lines[0];
  };

  it('is told by the typed mass over the volume of the model', () => {
    expect(graded('408')).toMatchObject({ verdict: 'right' });
    expect(graded('408')?.measured).toBeCloseTo(8.5, 9);
    expect(graded('376.8')).toMatchObject({ verdict: 'wrong' });
    expect(graded('376.8')?.measured).toBeCloseTo(7.85, 9);
  });

  it('is missing where no mass was typed', () => {
    expect(graded(null)).toMatchObject({ verdict: 'missing' });
  });
});

it('no kind of check is without a test', () => {
  const folder = import.meta.dirname;
  const tests = readdirSync(folder)
    .filter((name) => name.endsWith('.test.ts'))
    .map((name) => readFileSync(path.join(folder, name), 'utf8'))
    .join();
  expect(
    CHECK_KINDS.filter((kind) => !tests.includes(`kind: '${kind}'`) && !tests.includes(`between('${kind}'`)),
  ).toEqual([]);
});
