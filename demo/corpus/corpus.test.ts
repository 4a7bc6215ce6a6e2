import { beforeAll, describe, expect, it } from 'vitest';

import { gradeFile, prepareExercise } from '#core/attempt';
import { FEATURE_KINDS, featuresOf } from '#core/feature';
import type { Kernel } from '#core/kernel';
import { trianglesOf, writeStl } from '#core/mesh';
import type { Overlayer } from '#core/overlay';
import { unwrap } from '#core/problem';
import { buildRecipe } from '#core/recipe';
import {
  alterations,
  judgeMirrored,
  judgeRight,
  oneOfMany,
  judgeWrong,
  PRINTED,
  rightGuises,
  seeded,
  type Verdict,
} from '#demo/corpus';
import { cleatPlateExercise, demoExercises, gudgeonBracketExercise } from '#demo/exercises';
import { loadKernel, loadOverlayer } from '#runtime';

import { sampleOf } from '../exercises/testing.ts';

let tools: { kernel: Kernel; overlayer: Overlayer };
beforeAll(async () => {
  tools = { kernel: await loadKernel(), overlayer: await loadOverlayer() };
});

/** A share of the corpus, as `npm run corpus` runs the whole of it. */
describe('of the gudgeon bracket', () => {
  const NAMES = [
    'moved',
    'upside down',
    'turned by odd angles',
    'faces split at the middle',
    'STL, coarse',
    '3MF',
    'OBJ',
  ];
  let judged: ReadonlyMap<string, Verdict>;
  beforeAll(() => {
    const guises = rightGuises(tools, gudgeonBracketExercise).filter(({ name }) => NAMES.includes(name));
    judged = new Map(judgeRight(tools, gudgeonBracketExercise, guises).map((verdict) => [verdict.name, verdict]));
  });

  it.each(NAMES)('the right part %s gets full marks and no overlay', (name) => {
    expect(judged.get(name)).toMatchObject({ ok: true, fault: '' });
  });

  it('every eighth alteration fails exactly the checks that it affects', () => {
    const list = alterations(gudgeonBracketExercise).filter((_, i) => i % 8 === 0);
    const { verdicts } = judgeWrong(tools, gudgeonBracketExercise, list);
    expect(verdicts.length).toBeGreaterThan(3);
    expect(verdicts.filter(({ ok }) => !ok)).toEqual([]);
  });
});

/** How programs cut up a part: coarsely, finely, and with coordinates that are rounded in print. */
const CUTS = [
  { name: 'coarse', toleranceMm: 0.2, angleRad: 0.5, as: null },
  { name: 'fine', toleranceMm: 0.01, angleRad: 0.1, as: null },
  { name: 'to three decimals', toleranceMm: 0.05, angleRad: 0.3, as: 'to three decimals' },
  { name: 'to six digits', toleranceMm: 0.2, angleRad: 0.5, as: 'to six digits' },
] as const;

describe('as triangles, however they are cut,', () => {
  it.each(sampleOf(demoExercises, 3))('the right $title has its features and passes every check', (exercise) => {
    const { reference } = unwrap(prepareExercise(tools.kernel, exercise));
    const { shape } = unwrap(buildRecipe(tools.kernel, exercise.recipe));
    const failed = CUTS.flatMap(({ name, toleranceMm, angleRad, as }) => {
      const { positions, indices } = trianglesOf(tools.kernel.displayMesh(shape, { toleranceMm, angleRad }));
      const file = writeStl({ positions: as === null ? positions : positions.map(PRINTED[as]), indices });
      const graded = unwrap(
        gradeFile(
          tools.kernel,
          reference,
          { bytes: file, policy: exercise.scoring },
          { fileName: 'part.stl', unit: 'mm' },
        ),
      );
      const differing = FEATURE_KINDS.filter(
        (kind) => featuresOf(graded.solid, kind).length !== featuresOf(reference.solid, kind).length,
      );
      return [
        ...differing.map((kind) => `${name}: other features of the kind ${kind}`),
        ...graded.report.lines
          .filter(({ verdict }) => verdict !== 'right')
          .map(({ label, verdict }) => `${name}: ${label} ${verdict}`),
      ];
    });
    shape.free();
    expect(failed).toEqual([]);
  });
});

it('the mirrored cleat plate is itself again, so nothing is wrong with it', () => {
  expect(judgeMirrored(tools, cleatPlateExercise)).toMatchObject({ ok: true });
});

it('one hole of several that has another size is a part of its own for each size of it', () => {
  const names = oneOfMany(gudgeonBracketExercise).map(({ name }) => name);
  // Two holes of 9 with a counterbore of 15, 3 deep.
  expect(names).toEqual(['bolts, last one: 9', 'bolts, last one: 15', 'bolts, last one: 3']);
});

it('alterations are many, and the same in every run', () => {
  expect(alterations(cleatPlateExercise).length).toBeGreaterThan(20);
  expect(alterations(cleatPlateExercise)).toEqual(alterations(cleatPlateExercise));
  const [a, b] = [seeded(3), seeded(3)];
  expect([a(), a(), a()]).toEqual([b(), b(), b()]);
});
