import { afterAll, beforeAll, describe, expect, it } from 'vitest';

import { gradeFile, prepareExercise } from '#core/attempt';
import type { Reference } from '#core/check';
import { blankExercise, type Exercise } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { trianglesOf, writeStl } from '#core/mesh';
import {
  applyEdits,
  buildAtlas,
  coverageOf,
  groundOf,
  mistakesOf,
  proposeChecks,
  verifier,
  type Atlas,
  type Ground,
} from '#core/mistake';
import { withPart } from '#core/model';
import { suggestPlan } from '#core/plan';
import { unwrap } from '#core/problem';
import { buildRecipe, type Recipe } from '#core/recipe';
import { loadKernel } from '#runtime';

interface Plate {
  readonly length?: string;
  readonly bore?: string;
  readonly left?: string;
  readonly first?: string;
  readonly right?: string;
  readonly holes?: number;
  readonly round?: string | null;
}

/** A plate 60 x 40 x 12, rounded by 6, with four through holes of 8, 10 from the edges. */
const plate = ({
  length = '60',
  bore = '8',
  left = '10',
  first = left,
  right = '50',
  holes = 4,
  round = '6',
}: Plate = {}): Recipe => {
  const { recipe } = blankExercise('1', 'Plate', 'mm');
  const points: readonly (readonly [string, string])[] = [
    [first, '10'],
    [right, '10'],
    [left, '30'],
    [right, '30'],
  ];
  return {
    ...recipe,
    steps: [
      {
        id: 'plate',
        op: 'extrude',
        mode: 'add',
        plane: { base: 'XY' },
        outlines: [{ shape: 'corner-rectangle', corner: ['0', '0'], width: length, height: '40' }],
        extent: { kind: 'depth', depth: '12' },
      },
      {
        id: 'bores',
        op: 'hole',
        plane: { surface: 'plate.end' },
        at: { kind: 'points', points: points.slice(0, holes) },
        diameter: bore,
        depth: { kind: 'through' },
      },
      ...(round === null ? [] : [{ id: 'rounds', op: 'fillet', radius: round, edges: [{ along: 'z' }] } as const]),
    ],
  };
};

let kernel: Kernel;
let exercise: Exercise;
let model: Uint8Array;
let ground: Ground;
let reference: Reference;
let atlas: Atlas;

function stepFile(recipe: Recipe): Uint8Array {
  const { shape } = unwrap(buildRecipe(kernel, recipe));
  const bytes = kernel.writeStep(shape, 'mm', 'Plate');
  shape.free();
  return bytes;
}

beforeAll(async () => {
  kernel = await loadKernel();
  model = stepFile(plate());
  const blank: Exercise = {
    ...blankExercise('SB-1', 'Plate', 'mm'),
    model: { sha256: '0'.repeat(64), fileName: 'plate.step', unit: 'mm' },
  };
  const checks = withPart(kernel, blank, { model }, ({ solid, surfaces, scope }) =>
    suggestPlan({ exercise: blank, solid, surfaces, scope }),
  );
  exercise = { ...blank, checks };
  ground = groundOf(kernel, exercise, model);
  ({ reference } = unwrap(prepareExercise(kernel, exercise, { model })));
  atlas = buildAtlas(kernel, exercise, reference, { ground });
}, 120_000);
afterAll(() => {
  ground.free();
});

function diagnosed(recipe: Recipe) {
  const explain = { atlas, verify: verifier(kernel, exercise, reference, { ground }).verify };
  const graded = gradeFile(
    kernel,
    reference,
    { bytes: stepFile(recipe), policy: exercise.scoring },
    { fileName: 'a.step', explain },
  );
  const [best] = unwrap(graded).diagnosis?.hypotheses ?? [];
  return {
    fit: best?.fit,
    kinds: best?.mistakes.map(({ kind }) => kind),
    words: best?.mistakes.map(({ message }) => message).join(' '),
  };
}

describe('mistakes in a part whose reference is a STEP file', () => {
  it('are made in the features that are recognized, and in the sizes of the check plan', () => {
    expect(ground.exercise.recipe.steps.map(({ label }) => label)).toEqual(['4 holes of 8 mm', 'Rounds of 6 mm']);
    const kinds = new Set(atlas.entries.map(({ mistake }) => mistake.kind));
    for (const kind of [
      'radius-for-diameter',
      'feature-forgotten',
      'one-forgotten',
      'blind-for-through',
      'whole-for-half',
    ])
      expect(kinds).toContain(kind);
  });

  it.each([
    ['a hole typed by radius', { bore: '4' }, 'radius-for-diameter', /4 holes of 8 mm: the diameter is 4\.0 mm/],
    ['a hole that is missing', { holes: 3 }, 'one-forgotten', /number 4 is missing/],
    ['rounds that were forgotten', { round: null }, 'feature-forgotten', /Rounds of 6 mm: missing/],
    [
      'a length that is twice as long, about the middle',
      { length: '120', left: '40', right: '80' },
      'whole-for-half',
      /Length: 120\.0 mm where .* 60\.0 mm/,
    ],
    ['a length that is twice as long, to one side', { length: '120' }, 'whole-for-half', /Length: 120\.0 mm/],
    ['a row of holes measured from the edge of the holes', { left: '14' }, 'wrong-edge', /from another edge/],
    ['one hole measured to its edge', { first: '14' }, 'wrong-edge', /number 1 lies 4\.0 mm off its place/],
    ['both rows of holes measured so', { left: '12', right: '48' }, 'wrong-edge', /apart along X: 36\.0 mm/],
  ] as const)('%s is named as the cause', (_, wrong, kind, words) => {
    const { fit, kinds, words: said } = diagnosed(plate(wrong));
    expect({ fit, kinds }).toEqual({ fit: 'complete', kinds: [kind] });
    expect(said).toMatch(words);
  });

  it('are named in pairs', () => {
    const { fit, kinds } = diagnosed(plate({ bore: '4', round: null }));
    expect({ fit, kinds: [...(kinds ?? [])].sort() }).toEqual({
      fit: 'complete',
      kinds: ['feature-forgotten', 'radius-for-diameter'],
    });
  });

  it('are not seen in the right part', () => {
    expect(diagnosed(plate()).kinds).toBeUndefined();
  });

  it('show what the check plan lacks, and which check would see it', () => {
    const blind: Exercise = {
      ...exercise,
      checks: exercise.checks.filter(({ kind }) => kind !== 'radius' && kind !== 'volume' && kind !== 'mass'),
    };
    const own = { ...ground, exercise: { ...ground.exercise, checks: blind.checks } };
    const prepared = unwrap(prepareExercise(kernel, blind, { model })).reference;
    const mistakes = mistakesOf(own.exercise, {}, 1, own.sizes).filter(({ stepIds }) => stepIds.includes('fillet-1'));
    const made = buildAtlas(kernel, blind, prepared, { ground: own, mistakes });
    expect(coverageOf(blind, made).located).toBeLessThan(1);
    const proposals = proposeChecks(kernel, blind, made, { ground: own });
    expect(proposals.map(({ check }) => check.kind)).toContain('radius');
  });

  it('cannot be made in triangles, in which nothing can be cut exactly', () => {
    const { shape } = unwrap(buildRecipe(kernel, plate()));
    const stl = writeStl(trianglesOf(kernel.displayMesh(shape, { toleranceMm: 0.01, angleRad: 0.1 })));
    shape.free();
    const file = { sha256: '0'.repeat(64), fileName: 'plate.stl', unit: 'mm' } as const;
    const own = groundOf(kernel, { ...exercise, model: file }, stl);
    expect(mistakesOf(own.exercise, {}, 1, own.sizes)).toEqual([]);
    own.free();
  });
});

describe('mistakes in a turned part from a STEP file', () => {
  it('are made in its diameters', () => {
    const { recipe } = blankExercise('2', 'Pin', 'mm');
    const pin = (diameter: string): Recipe => ({
      ...recipe,
      steps: [
        {
          id: 'pin',
          op: 'extrude',
          mode: 'add',
          plane: { base: 'XY' },
          outlines: [{ shape: 'circle', center: ['0', '0'], diameter }],
          extent: { kind: 'depth', depth: '30' },
        },
      ],
    });
    const bytes = stepFile(pin('18'));
    const document = { ...exercise, checks: [] };
    const own = groundOf(kernel, document, bytes);
    const made = mistakesOf(own.exercise, {}, 1, own.sizes);
    // Nothing of a disc that stays as a core can be left out, or be shorter.
    expect(made.filter(({ kind }) => kind === 'feature-forgotten')).toEqual([]);
    const half = made.find(({ kind }) => kind === 'radius-for-diameter');
    expect(half?.message).toBe(
      'Round of 18 mm: the diameter is 9.0 mm where the sheet gives 18.0 mm. Was the radius typed where the diameter is asked?',
    );
    const edited = unwrap(applyEdits(own.exercise.recipe, half?.edits ?? []));
    const built = unwrap(own.builder.build(edited));
    expect(kernel.massProperties(built.shape).volumeMm3).toBeCloseTo((Math.PI / 4) * 9 ** 2 * 30, 6);
    built.shape.free();
    own.free();
  });
});
