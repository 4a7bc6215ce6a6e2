import { beforeAll, describe, expect, it } from 'vitest';

import { diagnoseReport, gradeFile, prepareExercise } from '#core/attempt';
import { measureSubmission, type Reference, type Check } from '#core/check';
import { blankExercise, type Exercise } from '#core/exercise';
import { buildRecipe, type Step } from '#core/recipe';
import { gradeMeasurement } from '#core/grade';
import type { Kernel } from '#core/kernel';
import { trianglesOf, writeStl } from '#core/mesh';
import {
  applyEdits,
  buildAtlas,
  coverageOf,
  diagnose,
  explainNumbers,
  mistakesOf,
  proposeChecks,
  withProposed,
  diagnosedOf,
  verifier,
  type Atlas,
  type AtlasEntry,
  type Edit,
} from '#core/mistake';
import { MISTAKE_KINDS } from '#core/cause';
import { readModel } from '#core/model';
import { unwrap } from '#core/problem';
import { demoExercises, rowlockSocketExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { fingerprintOf, scalesOf } from '#core/solid';
import type { Vec3 } from '#core/vector';
import { blockStep, exerciseOf, holesStep, sizeCheck } from '../exercise/testing.ts';
import { numericArgumentsOf } from './numeric-arguments.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

const STEPS: readonly Step[] = [
  {
    id: 'plate',
    label: 'Plate',
    op: 'extrude',
    mode: 'add',
    plane: { base: 'XY' },
    outlines: [{ shape: 'corner-rectangle', corner: ['0', '0'], width: 'A', height: '40' }],
    extent: { kind: 'depth', depth: '10' },
  },
  {
    id: 'pad',
    label: 'Pad',
    op: 'extrude',
    mode: 'add',
    plane: { surface: 'plate.end' },
    outlines: [{ shape: 'corner-rectangle', corner: ['0', '0'], width: '20', height: '40' }],
    extent: { kind: 'depth', depth: '6' },
  },
  {
    id: 'bores',
    label: 'Bores',
    op: 'hole',
    plane: { surface: 'plate.end' },
    at: {
      kind: 'points',
      points: [
        ['40', '8'],
        ['52', '29'],
      ],
    },
    diameter: '8',
    depth: { kind: 'through' },
  },
];
const sized = { tolerance: '0.05', weight: 1 };
const CHECKS: readonly Check[] = [
  { ...sized, kind: 'overall-size', id: 'length', label: 'Length', axis: 'x', nominal: 'A' },
  {
    ...sized,
    kind: 'distance',
    id: 'thickness',
    label: 'Thickness',
    from: 'plate.start',
    to: 'plate.end',
    nominal: '10',
  },
  { ...sized, kind: 'overall-size', id: 'height', label: 'Height', axis: 'z', nominal: '16' },
  { ...sized, kind: 'diameter', id: 'bore', label: 'Bores', of: ['bores.1.wall', 'bores.2.wall'], nominal: '8' },
  { kind: 'volume', id: 'volume', label: 'Volume', weight: 1, tolerancePercent: 0.1 },
  { kind: 'center-of-mass', id: 'center', label: 'Center of mass', weight: 1, tolerance: '0.05' },
];

/** A plate of A x 40 x 10 with a pad of 20 x 40 x 6 at its left end, and two bores of 8. Sizes in mm. */
function plate(changes: Partial<Exercise> = {}): Exercise {
  const blank = blankExercise('SB-1', 'Plate', 'mm');
  return {
    ...blank,
    recipe: { ...blank.recipe, parameters: [{ name: 'A', value: '60', label: 'Length' }], steps: STEPS },
    checks: CHECKS,
    typedValues: [],
    ...changes,
  };
}

const BORE_MM3 = Math.PI * 16 * 10;
const PLATE_MM3 = 60 * 40 * 10 + 20 * 40 * 6 - 2 * BORE_MM3;

interface Made {
  readonly exercise: Exercise;
  readonly reference: Reference;
  readonly atlas: Atlas;
}
const made = new Map<string, Made>();
/** The atlas of the plate, or of another plan for it; of some kinds of mistakes only where they are named. */
function atlasOfPlate(changes: Partial<Exercise> = {}, kinds?: readonly string[]): Made {
  const key = JSON.stringify([changes, kinds]);
  const known = made.get(key);
  if (known) return known;
  const exercise = plate(changes);
  const { reference } = unwrap(prepareExercise(kernel, exercise));
  const some = kinds === undefined ? {} : { mistakes: mistakesOf(exercise).filter(({ kind }) => kinds.includes(kind)) };
  const one = { exercise, reference, atlas: buildAtlas(kernel, exercise, reference, some) };
  made.set(key, one);
  return one;
}

/** What a student hands in who makes some changes. */
function stepWith(exercise: Exercise, edits: readonly Edit[], format: 'step' | 'stl' = 'step'): Uint8Array {
  const { shape } = unwrap(buildRecipe(kernel, unwrap(applyEdits(exercise.recipe, edits))));
  const bytes =
    format === 'step'
      ? kernel.writeStep(shape, 'mm', 'part')
      : writeStl(trianglesOf(kernel.displayMesh(shape, { toleranceMm: 0.05, angleRad: 0.3 })));
  shape.free();
  return bytes;
}

const entryOf = ({ entries }: Atlas, kind: string, words = ''): AtlasEntry => {
  const found = entries.find(({ mistake }) => mistake.kind === kind && mistake.summary.includes(words));
  if (found === undefined) throw new Error(`no ${kind} ${words}`);
  return found;
};

function grade({ exercise, reference, atlas }: Made, bytes: Uint8Array, fileName = 'part.step') {
  const explain = { atlas, verify: verifier(kernel, exercise, reference).verify };
  return unwrap(gradeFile(kernel, reference, { bytes, policy: exercise.scoring }, { fileName, explain, unit: 'mm' }));
}

describe('changes of a recipe', () => {
  it('are made one after the other, each where it says', () => {
    const { recipe } = plate();
    const changed = unwrap(
      applyEdits(recipe, [
        { kind: 'parameter', name: 'A', value: '70' },
        { kind: 'set', stepId: 'bores', path: ['at', 'points', 0], value: null },
        { kind: 'set', stepId: 'bores', path: ['diameter'], value: '(8)/2' },
        { kind: 'move', stepId: 'bores', before: 'pad' },
      ]),
    );
    expect(changed.parameters[0]?.value).toBe('70');
    expect(changed.steps.map(({ id }) => id)).toEqual(['plate', 'bores', 'pad']);
    expect(changed.steps[1]).toMatchObject({ at: { points: [['52', '29']] }, diameter: '(8)/2' });
  });

  it('of one hole of several leave the others as they are', () => {
    const alone = { kind: 'single', stepId: 'bores', hole: 1, path: ['diameter'], value: '4' } as const;
    const { steps } = unwrap(applyEdits(plate().recipe, [alone]));
    expect(steps.slice(2)).toMatchObject([
      { id: 'bores', diameter: '8', at: { points: [['40', '8']] } },
      { id: 'bores-alone', diameter: '4', at: { points: [['52', '29']] } },
    ]);
    expect(applyEdits(plate().recipe, [{ ...alone, hole: 2 }]).ok).toBe(false);
    expect(applyEdits(plate().recipe, [{ ...alone, stepId: 'pad' }]).ok).toBe(false);
  });

  it('that leave out a step leave out what stands on it, and nothing else', () => {
    const { recipe } = plate();
    const pad = unwrap(applyEdits(recipe, [{ kind: 'drop', stepId: 'pad' }]));
    expect(pad.steps.map(({ id }) => id)).toEqual(['plate', 'bores']);
    const all = applyEdits(recipe, [{ kind: 'drop', stepId: 'plate' }]);
    expect(all.ok && all.value.steps).toEqual([]);
  });

  it('that have nothing to change refuse', () => {
    const { recipe } = plate();
    for (const edit of [
      { kind: 'parameter', name: 'Z', value: '1' },
      { kind: 'drop', stepId: 'none' },
      { kind: 'set', stepId: 'none', path: ['diameter'], value: '1' },
      { kind: 'set', stepId: 'bores', path: ['diameter'], value: null },
    ] as const)
      expect(applyEdits(recipe, [edit])).toMatchObject({ ok: false, problem: { code: 'not-applicable' } });
  });
});

describe('the numbers of a recipe', () => {
  it('are found with what they are', () => {
    const { recipe } = plate();
    const found = numericArgumentsOf(recipe, { A: 60 }).map(
      ({ stepId, role, value }) => `${stepId} ${role} ${String(value)}`,
    );
    expect(found).toEqual([
      'plate position 0',
      'plate position 0',
      'plate width 60',
      'plate width 40',
      'plate depth 10',
      'pad position 0',
      'pad position 0',
      'pad width 20',
      'pad width 40',
      'pad depth 6',
      'bores position 40',
      'bores position 8',
      'bores position 52',
      'bores position 29',
      'bores diameter 8',
    ]);
  });
});

describe('the catalogue', () => {
  const kindsOf = (exercise: Exercise) => new Set(mistakesOf(exercise).map(({ kind }) => kind));

  it('finds in the demo parts a mistake of every kind', () => {
    const kinds = new Set(demoExercises.flatMap((exercise) => [...kindsOf(exercise)]));
    expect([...kinds].sort()).toEqual([...MISTAKE_KINDS].sort());
  });

  it('says each in the words and numbers of the exercise', () => {
    const all = mistakesOf(plate());
    const radius = all.find(({ kind }) => kind === 'radius-for-diameter');
    expect(radius?.message).toBe(
      'Bores: the diameter is 4.0 mm where the sheet gives 8.0 mm. Was the radius typed where the diameter is asked?',
    );
    const height = all.find(({ id }) => id.startsWith('wrong-edge:pad/extent/depth'));
    // The pad stands on a plate of 10: measured from the floor of the plate, it is 10 less.
    expect(all.some(({ id, message }) => id.startsWith('wrong-edge:pad') && message.includes('16.0 mm'))).toBe(true);
    expect(height?.message).toContain('measured from another face');
  });

  it('names a letter by what it is, and both letters that were mixed up', () => {
    const two = plate();
    const letters = {
      ...two,
      recipe: { ...two.recipe, parameters: [...two.recipe.parameters, { name: 'B', value: '40' }] },
    };
    const swapped = mistakesOf(letters).find(({ kind }) => kind === 'letters-swapped');
    expect(swapped?.message).toContain('A is 60 mm on the sheet, B is 40 mm');
  });

  it('speaks of degrees where a letter is an angle, and mixes it up with no length', () => {
    const slot = {
      id: 'slot',
      op: 'extrude',
      mode: 'cut',
      plane: { surface: 'block.end' },
      outlines: [{ shape: 'slot', center: ['30', '20'], length: '20', width: '6', angle: 'C' }],
      extent: { kind: 'through' },
    };
    const parameters = [
      { name: 'A', value: '60' },
      { name: 'C', value: '12' },
    ];
    const turned = exerciseOf({ parameters, steps: [blockStep(['A', 40, 20]), slot], checks: [] });
    const all = mistakesOf(turned);
    const half = all.find(({ id }) => id === 'half-for-whole:C=6');
    expect(half?.message).toContain('is 6° where the sheet gives 12°');
    expect(all.filter(({ kind }) => kind === 'letters-swapped')).toEqual([]);
  });

  it('says of a place that the sheet prints nowhere how far off it is, and of other such numbers that they follow', () => {
    const steps = [blockStep([60, 40, 20]), holesStep('bore', [[45, 12]], 8)];
    const checks = [
      sizeCheck('across', 'hole-position', 45, { of: 'bore.wall', from: 'block.left' }),
      sizeCheck('size', 'diameter', 8, { of: ['bore.wall'] }),
    ];
    const all = mistakesOf(exerciseOf({ steps, checks }));
    const messageOf = (path: string): string =>
      all.find(({ id }) => id.startsWith(`wrong-edge:bore/${path}`))?.message ?? '';
    expect(messageOf('at/points/0/0')).toContain('where the sheet gives 45.0 mm');
    // 12 stands at no dimension: half of the hole or all of it is the usual error.
    expect(messageOf('at/points/0/1')).toMatch(/the place up is off by [48]\.0 mm\./);
    const height = all.find(({ id }) => id.startsWith('half-for-whole:block/extent/depth'));
    expect(height?.message).toContain('where 20.0 mm follows from the sheet');
  });

  it('has no mistake twice, and none without a weight', () => {
    for (const exercise of demoExercises) {
      const all = mistakesOf(exercise);
      expect(new Set(all.map(({ id }) => id)).size).toBe(all.length);
      expect(all.every(({ prior }) => prior > 0)).toBe(true);
      expect(all.length).toBeLessThanOrEqual(150);
    }
  });

  it('knows the values of other variants as a mistake', () => {
    const other = mistakesOf(rowlockSocketExercise, rowlockSocketExercise.variants[0]?.values).filter(
      ({ kind }) => kind === 'wrong-variant',
    );
    // Five other variants, and the part as drawn.
    expect(other).toHaveLength(6);
  });

  it('of a part that was read from a file is empty', () => {
    expect(mistakesOf({ ...plate(), recipe: { ...plate().recipe, steps: [] } })).toEqual([]);
  });
});

describe('a fingerprint', () => {
  const BLOCK = {
    volumeMm3: 6000,
    areaMm2: 2200,
    centroidMm: [5, 10, 15],
    // Of a block of 10 x 20 x 30: V/12 (b2 + c2) and so on.
    inertiaMm5: [
      [500 * (400 + 900), 0, 0],
      [0, 500 * (100 + 900), 0],
      [0, 0, 500 * (100 + 400)],
    ],
  } as const;

  it('holds the moments of a block as its integrals give them', () => {
    const [volume, area, x, , , xx, yy, , xy] = fingerprintOf(BLOCK);
    expect([volume, area, x]).toEqual([6000, 2200, 30_000]);
    // The integral of x2 over 0..10, 0..20, 0..30 is 10^3/3 * 600, of y2 20^3/3 * 300, of xy 50 * 200 * 30.
    expect(xx).toBeCloseTo((1000 / 3) * 600, 6);
    expect(yy).toBeCloseTo((8000 / 3) * 300, 6);
    expect(xy).toBeCloseTo(50 * 200 * 30, 6);
  });

  it('turns and grows with the part', () => {
    const quarter = {
      rotation: [
        [0, -1, 0],
        [1, 0, 0],
        [0, 0, 1],
      ],
      scale: 2,
      translation: [0, 0, 0],
    } as const;
    const [volume, area, x, y, , xx] = fingerprintOf(BLOCK, quarter);
    expect([volume, area]).toEqual([48_000, 8800]);
    // A quarter turn carries (5, 10) to (-10, 5), twice as far.
    expect([x, y]).toEqual([48_000 * -20, 48_000 * 10]);
    // The integral of y2 becomes that of x2, times 2^5.
    expect(xx).toBeCloseTo((8000 / 3) * 300 * 32, 4);
  });

  it('is held against volume and spread, wherever the part lies', () => {
    const far = { ...BLOCK, centroidMm: [1000, 0, 0] } as const;
    const [near, away] = [scalesOf(fingerprintOf(BLOCK)), scalesOf(fingerprintOf(far))];
    near.forEach((scale, i) => {
      expect(away[i]).toBeCloseTo(scale, 4);
    });
  });
});

describe('an atlas', () => {
  it('measures what each mistake makes of the part', () => {
    const { atlas } = atlasOfPlate();
    const half = entryOf(atlas, 'radius-for-diameter');
    // Two bores of radius 2 for two of radius 4.
    expect(half.fingerprint[0]).toBeCloseTo(PLATE_MM3 + 2 * BORE_MM3 - 2 * Math.PI * 4 * 10, 4);
    expect(half.failing).toEqual(['bore', 'volume', 'center']);
    expect(half.roots).toEqual(['bore']);
    const forgotten = entryOf(atlas, 'one-forgotten', 'number 2');
    expect(forgotten.fingerprint[0]).toBeCloseTo(PLATE_MM3 + BORE_MM3, 4);
  });

  it('leaves out what changes nothing and what gives no part, and counts it', () => {
    const { atlas, exercise } = atlasOfPlate();
    const twins = atlas.entries.reduce((sum, { same }) => sum + same.length, 0);
    expect(atlas.entries.length + twins + atlas.unchanged.length + atlas.unbuilt.length).toBe(
      mistakesOf(exercise).length,
    );
    // A through bore that is drilled through the first wall only goes through all the same.
    expect(atlas.unchanged).toContain('wall-or-all:bores/walls');
  });

  it('has mistakes with one shape once, under the likeliest', () => {
    const { atlas } = atlasOfPlate();
    const prints = atlas.entries.map(
      ({ fingerprint, bodies }) => `${fingerprint.map((x) => x.toFixed(2)).join()} ${String(bodies)}`,
    );
    expect(new Set(prints).size).toBe(prints.length);
    for (const { same } of atlas.entries) expect(same).not.toContain(undefined);
  });
});

describe('a diagnosis', () => {
  it.each([
    'radius-for-diameter',
    'one-forgotten',
    'feature-forgotten',
    'wrong-edge',
    'one-sided',
    'neighboring-dimension',
  ])('names a mistake of the kind %s from the STEP file alone', (kind) => {
    const one = atlasOfPlate();
    const entry = entryOf(one.atlas, kind);
    const { diagnosis } = grade(one, stepWith(one.exercise, entry.mistake.edits));
    expect(diagnosis?.hypotheses[0]).toMatchObject({ fit: 'complete', mistakes: [{ id: entry.mistake.id }] });
  });

  it('tells the one hole of several that is wrong', () => {
    const one = atlasOfPlate();
    const alone = { kind: 'single', stepId: 'bores', hole: 1, path: ['diameter'], value: '4' } as const;
    const [best] = grade(one, stepWith(one.exercise, [alone])).diagnosis?.hypotheses ?? [];
    expect(best?.fit).toBe('complete');
    expect(best?.mistakes[0]?.message).toContain('number 2 has half of the diameter');
  });

  it('names it from triangles as well', () => {
    const one = atlasOfPlate();
    const entry = entryOf(one.atlas, 'radius-for-diameter');
    const { diagnosis } = grade(one, stepWith(one.exercise, entry.mistake.edits, 'stl'), 'part.stl');
    expect(diagnosis?.hypotheses[0]?.mistakes[0]?.id).toBe(entry.mistake.id);
  });

  it('names two mistakes that were made together', () => {
    const one = atlasOfPlate();
    const pair = [entryOf(one.atlas, 'radius-for-diameter'), entryOf(one.atlas, 'feature-forgotten', 'Pad')];
    const bytes = stepWith(
      one.exercise,
      pair.flatMap(({ mistake }) => mistake.edits),
    );
    const [best] = grade(one, bytes).diagnosis?.hypotheses ?? [];
    expect(best?.fit).toBe('complete');
    expect(best?.mistakes.map(({ kind }) => kind).sort()).toEqual(['feature-forgotten', 'radius-for-diameter']);
  });

  it('finds nothing in the right part, as it is or moved or as triangles', () => {
    const one = atlasOfPlate();
    expect(grade(one, stepWith(one.exercise, [])).diagnosis?.hypotheses).toEqual([]);
    expect(grade(one, stepWith(one.exercise, [], 'stl'), 'part.stl').diagnosis?.hypotheses).toEqual([]);
    const { shape } = unwrap(buildRecipe(kernel, one.exercise.recipe));
    const moved = kernel.moved(
      shape,
      [
        [0, -1, 0],
        [1, 0, 0],
        [0, 0, 1],
      ],
      [13.7, 4.1, -8],
    );
    const bytes = kernel.writeStep(moved, 'mm', 'part');
    for (const used of [moved, shape]) used.free();
    expect(grade(one, bytes).diagnosis?.hypotheses).toEqual([]);
  });

  it('is silent where no mistake of the catalogue gives the part', () => {
    const one = atlasOfPlate();
    const odd = stepWith(one.exercise, [{ kind: 'set', stepId: 'pad', path: ['extent', 'depth'], value: '7.37' }]);
    const { diagnosis, report } = grade(one, odd);
    expect(diagnosis?.hypotheses.some(({ fit }) => fit === 'complete')).toBe(false);
    // What was measured is still said.
    expect(report.causes.some(({ explains, message }) => explains === 'observed' && message.includes('Height'))).toBe(
      true,
    );
  });

  it('explains a part in its own place only where its place matters', () => {
    const one = atlasOfPlate();
    const entry = entryOf(one.atlas, 'one-sided', 'Plate');
    const solid = unwrap(kernel.readStep(stepWith(one.exercise, entry.mistake.edits)));
    const measured = measureSubmission(one.reference, unwrap(kernel.analyze(solid.shape, solid.source)));
    solid.shape.free();
    const found = diagnose(measured, one.atlas, { placeCounts: true }).hypotheses[0];
    expect(found).toMatchObject({ inPlace: true, mistakes: [{ id: entry.mistake.id }] });
    expect(diagnose(measured, one.atlas, { placeCounts: false }).hypotheses).toEqual([]);
  });
});

describe('a part of triangles that is right by every number', () => {
  const BORE: Vec3 = [40, 8, 5];
  const measuredAs = (format: 'step' | 'stl') => {
    const one = atlasOfPlate();
    const bytes = stepWith(one.exercise, [], format);
    const solid = unwrap(readModel(kernel, bytes, { fileName: `part.${format}`, unit: 'mm' }));
    return { one, measurement: measureSubmission(one.reference, solid) };
  };

  it('shows a mistake by the material that it has too much or too few', () => {
    const { one, measurement } = measuredAs('stl');
    const filled = diagnose(measurement, one.atlas, { pieces: [{ volumeMm3: 0.99 * BORE_MM3, centerMm: BORE }] });
    expect(filled.hypotheses[0]).toMatchObject({ fit: 'complete', mistakes: [{ kind: 'one-forgotten' }] });
    // The first bore by half of its own size to the right: a crescent is missing there, another is extra.
    const crescent = (to: number): Vec3 => [to, 8, 5];
    const shift = entryOf(one.atlas, 'wrong-edge', 'place across of number 1 44');
    const area = 2 * 16 * Math.acos(0.5) - 2 * Math.sqrt(64 - 16);
    const lune = (Math.PI * 16 - area) * 10;
    // What is missing less what is extra moves the first moment by the whole bore times 4 mm.
    const apart = (BORE_MM3 * 4) / lune;
    const moved = diagnose(measurement, one.atlas, {
      pieces: [
        { volumeMm3: lune, centerMm: crescent(42 - apart / 2) },
        { volumeMm3: -lune, centerMm: crescent(42 + apart / 2) },
      ],
    });
    expect(moved.hypotheses.map(({ mistakes }) => mistakes[0]?.id)).toContain(shift.mistake.id);
  });

  it('shows none where nothing known gives such pieces, and where there are none', () => {
    const { one, measurement } = measuredAs('stl');
    expect(diagnose(measurement, one.atlas, { pieces: [] }).hypotheses).toEqual([]);
    const elsewhere = [{ volumeMm3: 300, centerMm: [5, 35, 12] as const }];
    expect(diagnose(measurement, one.atlas, { pieces: elsewhere }).hypotheses).toEqual([]);
  });

  it('is looked at so only where there are facets: exact numbers are better', () => {
    const { one, measurement } = measuredAs('step');
    const pieces = [{ volumeMm3: BORE_MM3, centerMm: BORE }];
    expect(diagnose(measurement, one.atlas, { pieces }).hypotheses).toEqual([]);
  });
});

describe('a root cause', () => {
  const graded = (rootCauseOnce: boolean) => {
    const one = atlasOfPlate();
    const entry = entryOf(one.atlas, 'radius-for-diameter');
    const bytes = stepWith(one.exercise, entry.mistake.edits);
    const { measurement, report } = unwrap(gradeFile(kernel, one.reference, { bytes, policy: one.exercise.scoring }));
    const diagnosis = diagnoseReport(measurement, report, { atlas: one.atlas, verify: null });
    return gradeMeasurement(one.reference, measurement, {
      typed: [],
      policy: { ...one.exercise.scoring, rootCauseOnce },
      diagnosed: diagnosedOf(diagnosis),
    });
  };

  it('counts once where the policy says so: what follows from it earns its points', () => {
    // Of six checks of one point, the bores fail by themselves, volume and center of mass only because of them.
    expect(graded(false).score).toBeCloseTo(50, 0);
    expect(graded(true).score).toBeCloseTo((100 * 5) / 6, 0);
  });

  it('is told line by line, whatever the policy', () => {
    for (const once of [true, false])
      expect(graded(once).lines.flatMap(({ checkId, followOn }) => (followOn ? checkId : []))).toEqual([
        'volume',
        'center',
      ]);
  });

  it('takes the place of what was only observed', () => {
    const { causes } = graded(false);
    expect(causes.map(({ id, explains }) => `${id} ${explains}`)).toEqual(['radius-for-diameter all']);
    expect(causes[0]?.checkIds).toEqual(['bore', 'volume', 'center']);
  });
});

describe('numbers alone', () => {
  const read = (value: number, decimals: number) => ({
    value: Number(value.toFixed(decimals)),
    resolution: 0.5 * 10 ** -decimals,
  });

  it('name the mistake whose part has them', () => {
    const { reference, atlas } = atlasOfPlate();
    const entry = entryOf(atlas, 'radius-for-diameter');
    const [volume = 1, , x = 0, y = 0, z = 0] = entry.fingerprint;
    const answer = explainNumbers(reference, atlas, {
      volumeMm3: read(volume, 1),
      centroidMm: [read(x / volume, 2), read(y / volume, 2), read(z / volume, 2)],
    });
    expect(answer.right).toBe(false);
    expect(answer.causes[0]?.id).toBe(entry.mistake.id);
  });

  it('of the right part are called right', () => {
    const { reference, atlas } = atlasOfPlate();
    expect(explainNumbers(reference, atlas, { volumeMm3: read(PLATE_MM3, 1) })).toEqual({ right: true, causes: [] });
  });

  it('tell another material by the mass, and the other unit by the volume', () => {
    const { reference, atlas } = atlasOfPlate();
    const steel = explainNumbers(reference, atlas, { massG: read((PLATE_MM3 * 7.85) / 1000, 1) });
    expect(steel.causes[0]?.message).toMatch(/steel/);
    const inches = explainNumbers(reference, atlas, { volumeMm3: read(PLATE_MM3 * 25.4 ** 3, 0) });
    expect(inches.causes[0]?.id).toBe('wrong-unit');
  });

  it('tell another origin and another plane by the center of mass', () => {
    const { reference, atlas } = atlasOfPlate();
    const [x, y, z] = reference.solid.massProperties.centroidMm;
    const volumeMm3 = read(PLATE_MM3, 1);
    const moved = explainNumbers(reference, atlas, {
      volumeMm3,
      centroidMm: [read(x - 30, 2), read(y - 20, 2), read(z, 2)],
    });
    expect(moved.causes[0]?.message).toContain('-30.00 mm in X, -20.00 mm in Y');
    const turned = explainNumbers(reference, atlas, { volumeMm3, centroidMm: [read(x, 2), read(z, 2), read(y, 2)] });
    expect(turned.causes[0]?.id).toBe('wrong-plane');
  });

  it('that nothing explains get no diagnosed', () => {
    const { reference, atlas } = atlasOfPlate();
    expect(explainNumbers(reference, atlas, { volumeMm3: read(12_345.6, 1) }).causes).toEqual([]);
  });
});

describe('the coverage of a check plan', () => {
  const without = (...ids: string[]): Partial<Exercise> => ({ checks: CHECKS.filter(({ id }) => !ids.includes(id)) });

  it('is full where every mistake fails a check', () => {
    const { exercise, atlas } = atlasOfPlate();
    const coverage = coverageOf(exercise, atlas);
    expect(coverage.score).toBe(1);
    expect(coverage.blind).toEqual([]);
    // Nothing but the mass properties sees where the bores lie.
    expect(coverage.located).toBeLessThan(1);
  });

  it('names the mistakes that no check sees', () => {
    const one = atlasOfPlate(without('volume', 'center'), ['wrong-edge', 'radius-for-diameter']);
    const { blind, score } = coverageOf(one.exercise, one.atlas);
    expect(score).toBeLessThan(1);
    expect(blind.map(({ mistake }) => mistake.id)).toContain(entryOf(one.atlas, 'wrong-edge', 'Bores').mistake.id);
    expect(blind.map(({ mistake }) => mistake.kind)).not.toContain('radius-for-diameter');
  });

  it('counts checks without weight as none', () => {
    const { exercise, atlas } = atlasOfPlate();
    const light = { ...exercise, checks: exercise.checks.map((check) => ({ ...check, weight: 0 })) };
    expect(coverageOf(light, atlas).score).toBe(0);
  });

  it('names the mistakes that leave a key of one number as it is', () => {
    const { exercise, atlas } = atlasOfPlate();
    const { keepVolume } = coverageOf(exercise, atlas);
    expect(keepVolume).toContain(entryOf(atlas, 'wrong-edge', 'Bores').mistake.id);
    expect(keepVolume).not.toContain(entryOf(atlas, 'radius-for-diameter').mistake.id);
  });

  it('comes with checks that would say where a mistake is', () => {
    const one = atlasOfPlate();
    const proposals = proposeChecks(kernel, one.exercise, one.atlas);
    expect(proposals.length).toBeGreaterThan(0);
    const [first] = proposals;
    const better = plate({ checks: first === undefined ? CHECKS : [...CHECKS, first.check] });
    const { reference } = unwrap(prepareExercise(kernel, better));
    const step = first?.mistakeId.split(/[:/]/)[1] ?? '';
    const ofStep = one.atlas.entries.filter(({ mistake }) => mistake.stepIds.includes(step));
    const again = buildAtlas(kernel, better, reference, { mistakes: ofStep.map(({ mistake }) => mistake) });
    const before = coverageOf(one.exercise, { ...one.atlas, entries: ofStep });
    expect(coverageOf(better, again).located).toBeGreaterThan(before.located);
    expect(again.entries.find(({ mistake }) => mistake.id === first?.mistakeId)?.failing).toContain(first?.check.id);
  });
});

describe('a proposed check', () => {
  const length = { id: 'length', label: 'Length', kind: 'overall-size', axis: 'x', nominal: '60', tolerance: '0.1' };
  const plan = [{ ...length, weight: 5 } as Check];

  it('joins the plan under an id that is free in it', () => {
    const width = { ...plan[0]!, label: 'Width', axis: 'y' } as Check;
    const once = withProposed(plan, width);
    expect(once?.map(({ id }) => id)).toEqual(['length', 'length-2']);
    const height = { ...width, label: 'Height', axis: 'z' } as Check;
    expect(withProposed(once ?? [], height)?.map(({ id }) => id)).toEqual(['length', 'length-2', 'length-3']);
  });

  it('is not added where the plan measures that already, unless it is switched off there', () => {
    const again = { ...plan[0]!, id: 'other', label: 'Whole length', weight: 10 } as Check;
    expect(withProposed(plan, again)).toBeNull();
    expect(withProposed([{ ...plan[0]!, off: true }], again)).toHaveLength(2);
  });
});

it('a variant has an atlas of its own', () => {
  const variants = ['70', '80'].map((length, i) => ({ name: String(i + 1), values: { A: length } }));
  const exercise = plate({ variants });
  const { values } = variants[0]!;
  const { reference } = unwrap(prepareExercise(kernel, exercise, { values }));
  const some = mistakesOf(exercise, values).filter(({ kind }) => kind === 'wrong-variant');
  const atlas = buildAtlas(kernel, exercise, reference, { values, mistakes: some });
  expect(atlas.reference.fingerprint[0]).toBeCloseTo(PLATE_MM3 + 10 * 400, 4);
  // That of the sheet, 60 long, and that of the other variant, 80 long.
  expect(atlas.entries.map(({ fingerprint }) => Math.round((fingerprint[0] ?? 0) - PLATE_MM3)).sort()).toEqual([
    0, 8000,
  ]);
});

it('a pocket that goes through is told as going through, not by one of the depths that all give that shape', () => {
  const pocket: Step = {
    id: 'pocket',
    label: 'Pocket',
    op: 'extrude',
    mode: 'cut',
    plane: { surface: 'plate.end' },
    outlines: [{ shape: 'corner-rectangle', corner: ['36', '15'], width: '8', height: '8' }],
    extent: { kind: 'depth', depth: '6' },
  };
  const { recipe } = plate();
  const one = plate({
    recipe: { ...recipe, steps: [...STEPS.slice(0, 2), pocket] },
    checks: CHECKS.filter(({ id }) => id === 'length' || id === 'volume'),
  });
  const { reference } = unwrap(prepareExercise(kernel, one));
  const depths = mistakesOf(one).filter(
    ({ id, kind }) => kind === 'through-for-blind' || id.includes('pocket/extent/depth'),
  );
  const atlas = buildAtlas(kernel, one, reference, { mistakes: depths });
  const through = atlas.entries.find(({ mistake }) => mistake.kind === 'through-for-blind');
  // The plate is 10 thick: every depth of 10 and more goes through it.
  const depthOf = (id: string): number => Number(id.split('=')[1]);
  expect(through?.same.map(depthOf).sort((a, b) => a - b)).toEqual([10, 12, 16, 60, 60, 152.4]);
  expect(through?.mistake.message).toBe('Pocket: it goes through; the sheet gives it a depth.');
  expect(through?.mistake.prior).toBe(
    Math.max(
      ...depths
        .filter(({ id }) => [through?.mistake.id, ...(through?.same ?? [])].includes(id))
        .map(({ prior }) => prior),
    ),
  );
});
