import { beforeAll, describe, expect, it } from 'vitest';

import { analyzeSheet, Chain, chainsOf, derivation, derivedSizes } from '#core/chain';
import { prepareReference, type Reference, type Check } from '#core/check';
import { blankExercise, exerciseOfStage, type Exercise } from '#core/exercise';
import type { ParameterValues } from '#core/recipe';
import type { Kernel } from '#core/kernel';
import { withPart } from '#core/model';
import { unwrap } from '#core/problem';
import { demoExercises, gudgeonBracketExercise, mastStepExercise, strutBearingExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';

import { sampleOf } from '../../demo/exercises/testing.ts';
import { recipeOf } from '../recipe/testing.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

function referenceOf(document: Exercise, values: ParameterValues = {}): readonly [Exercise, Reference] {
  const exercise = exerciseOfStage(document, 1);
  const reference = withPart(kernel, exercise, values, ({ solid, surfaces, scope }) =>
    unwrap(prepareReference(exercise, solid, surfaces, scope)),
  );
  return [exercise, reference];
}
const kinds = (exercise: Exercise) => analyzeSheet(...referenceOf(exercise)).map(({ kind }) => kind);
const without = (exercise: Exercise, id: string): Exercise => ({
  ...exercise,
  checks: exercise.checks.filter((check) => check.id !== id),
});
const distance = (id: string, from: string, to: string, nominal: string): Check => ({
  kind: 'distance',
  id,
  label: id,
  from,
  to,
  nominal,
  tolerance: '0.05',
  weight: 1,
});

describe('a chain of places', () => {
  const place = (at: number, kind: 'face' | 'axis' = 'face') => ({ at, kind, faceIds: [] });
  const link = (from: number, to: number, checkId: string) => ({ from, to, checkId, valueMm: Math.abs(to - from) });

  it('ties places by sizes, and knows what is said twice', () => {
    const chain = new Chain([place(0), place(10), place(62)]);
    expect(chain.add(link(0, 62, 'all'))).toBe(true);
    expect(chain.add(link(0, 10, 'step'))).toBe(true);
    expect(chain.add(link(10, 62, 'rest'))).toBe(false);
  });

  it('takes a width about a center line to place both of its sides', () => {
    const chain = new Chain([place(0), place(20), place(30, 'axis'), place(40), place(60)]);
    chain.add(link(0, 60, 'all'));
    chain.add(link(20, 40, 'slot'));
    expect(chain.connected(0, 20)).toBe(true);
    expect(chain.connected(40, 30)).toBe(true);
  });

  it('finds the way from one place to another', () => {
    const chain = new Chain([place(0), place(24), place(38), place(62)]);
    chain.add(link(0, 62, 'all'));
    chain.add(link(0, 24, 'left'));
    chain.add(link(38, 62, 'right'));
    expect(chain.path(24, 38)?.map(({ checkId, sign }) => [checkId, sign])).toEqual([
      ['left', -1],
      ['all', 1],
      ['right', -1],
    ]);
    expect(chain.path(24, 38, new Set(['all']))).toBeNull();
  });
});

describe('a chain that a note calls symmetric', () => {
  const place = (at: number) => ({ at, kind: 'face' as const, faceIds: [] });
  const link = (from: number, to: number, checkId: string) => ({ from, to, checkId, valueMm: Math.abs(to - from) });
  /** From 10 to 70: the middle is at 40, and 22 and 58 mirror each other. */
  const chain = (...links: readonly ReturnType<typeof link>[]) => {
    const made = new Chain([place(10), place(22), place(58), place(70)]);
    for (const one of links) made.add(one);
    made.mirror();
    return made;
  };

  it('knows of one side what is said of the other', () => {
    const made = chain(link(10, 70, 'all'), link(10, 22, 'left'));
    expect(made.connected(58, 10)).toBe(true);
    expect(made.groups()).toHaveLength(1);
  });

  it('knows where a pair lies whose width is said', () => {
    expect(chain(link(10, 70, 'all'), link(22, 58, 'slot')).connected(22, 70)).toBe(true);
  });

  it('knows nothing of a pair that nothing is said of', () => {
    const made = chain(link(10, 70, 'all'));
    expect(made.connected(22, 10)).toBe(false);
    expect(made.connected(22, 58)).toBe(false);
  });
});

describe('the sheet of the gudgeon bracket', () => {
  it('says every size once', () => {
    expect(analyzeSheet(...referenceOf(gudgeonBracketExercise))).toEqual([]);
  });

  it('misses what is taken off, and names the size that would say it', () => {
    const findings = analyzeSheet(...referenceOf(without(gudgeonBracketExercise, 'base-thickness')));
    expect(findings.some(({ kind }) => kind === 'missing')).toBe(true);
    expect(findings.find(({ kind }) => kind === 'missing')?.message).toMatch(/of [\d.]+ mm/);
  });

  it('says twice what is added over a chain, with the arithmetic', () => {
    // The upright is 8 thick and 80 is the length: what is left of the base is 72.
    const more = distance('rest', 'upright.end', 'base.right', '72');
    const names = withPart(kernel, gudgeonBracketExercise, {}, ({ surfaces }) => [...surfaces.keys()]);
    expect(names).toEqual(expect.arrayContaining(['base.right']));
    const exercise = { ...gudgeonBracketExercise, checks: [...gudgeonBracketExercise.checks, more] };
    const findings = analyzeSheet(...referenceOf(exercise));
    expect(findings).toHaveLength(1);
    expect(findings[0]).toMatchObject({ kind: 'repeated' });
    expect(findings[0]?.message).toContain('72 = 80 - 8');
  });

  it('contradicts the part where a number is wrong', () => {
    const wrong = gudgeonBracketExercise.checks.map((check) =>
      check.id === 'base-thickness' && 'nominal' in check ? { ...check, nominal: '9' } : check,
    );
    expect(kinds({ ...gudgeonBracketExercise, checks: wrong })).toContain('contradiction');
  });
});

it('sizes that are not written follow from those that are', () => {
  const [exercise, reference] = referenceOf(strutBearingExercise);
  // From the end of the round foot (radius 26) to the hole at 60, along the length.
  const found = derivation(exercise, reference, { axis: 0, from: -26, to: 60 });
  expect(found?.arithmetic).toBe('86 = 26 + 60');
  expect(derivation(exercise, reference, { axis: 0, from: -26, to: 999 })).toBeNull();
});

it('sizes that are checked but not written are named with their arithmetic', () => {
  const sizes = derivedSizes(...referenceOf(strutBearingExercise));
  const all = sizes.find(({ label }) => label === 'Length')?.derivation;
  // The foot is round with radius 26, the web reaches 60 further, and ends 14 behind that.
  expect(all?.arithmetic).toBe('100 = 26 + 60 + 14');
  expect(sizes.find(({ label }) => label === 'Width')?.words).toBe('52 = 2 x 26');
  expect(sizes.find(({ label }) => label === 'Bore from Web left along X')?.words).toMatch(/^7, half of /);
  expect(sizes.map(({ checkId }) => checkId)).not.toContain('volume');
});

it('a floor that lies halfway by chance needs its depth all the same', () => {
  // The pocket is 5/8 deep in a step of 1 1/4: no center line says so, and with another height it is not the middle.
  const [finding, ...more] = analyzeSheet(...referenceOf(without(mastStepExercise, 'pocket-depth')));
  expect(more).toEqual([]);
  // The next face is the end step at 3/8, a quarter below the floor.
  expect(finding?.message).toBe(
    'Along Z (up) nothing says where a flat face lies. A dimension of 0.25 in to a flat face would say it.',
  );
});

it.each(
  sampleOf(
    demoExercises.flatMap((exercise) =>
      exercise.variants.map(({ name, values }) => [exercise.title, name, exercise, values] as const),
    ),
    6,
  ),
)('the sheet of the %s says every size for variant %s too', (_title, _name, exercise, values) => {
  expect(analyzeSheet(...referenceOf(exercise, values)).map(({ message }) => message)).toEqual([]);
});

describe('arms around a center', () => {
  /** A disk with notches of 8 x 5 at its rim, `angles` degrees apart, the first across X. */
  const notched = (...angles: readonly number[]): Exercise => ({
    ...blankExercise('SB-1', 'Disk', 'mm'),
    recipe: recipeOf([
      {
        id: 'disk',
        op: 'extrude',
        mode: 'add',
        plane: { base: 'XY' },
        outlines: [{ shape: 'circle', center: ['0', '0'], diameter: '60' }],
        extent: { kind: 'depth', depth: '8' },
      },
      {
        id: 'notch',
        op: 'extrude',
        mode: 'cut',
        plane: { base: 'XY' },
        outlines: angles.map((angle) => ({
          shape: 'turned',
          of: { shape: 'corner-rectangle', corner: ['25', '-4'], width: '10', height: '8' },
          center: ['0', '0'],
          angle: String(angle),
        })),
        extent: { kind: 'through' },
      },
    ]),
  });
  const remarks = (...angles: readonly number[]): number =>
    analyzeSheet(...referenceOf(notched(...angles))).filter(({ message }) => message.includes('slanting')).length;

  it('say how they lie by being equally spaced, also where one is left out', () => {
    expect(remarks(0, 72, 144, 216, 288)).toBe(0);
    expect(remarks(0, 72, 144, 288)).toBe(0);
  });
  it('do not where there are two, or where they are spaced in no even way', () => {
    expect(remarks(0, 72)).toBeGreaterThan(0);
    expect(remarks(0, 70.3, 151)).toBeGreaterThan(0);
  });
});

describe('a slanting face', () => {
  const slope = (id: string) => gudgeonBracketExercise.checks.filter((check) => check.id !== id);
  it('needs an angle, or a note that says it', () => {
    const bare: Exercise = { ...gudgeonBracketExercise, checks: slope('slope-of-the-gusset') };
    const [finding] = analyzeSheet(...referenceOf(bare));
    // The gusset runs from 48 across at the base to 44 up: 36 up on 40 across, atan(36/40) = 41.99 degrees.
    expect(finding?.message).toContain('41.99°');
    expect(kinds({ ...bare, notes: ['Gusset at an angle of 42°'] })).toEqual([]);
  });
});

it.each(sampleOf(demoExercises, 6).map((exercise) => [exercise.title, exercise] as const))(
  'the demo sheet of the %s says every size once',
  (_title, exercise) => {
    expect(analyzeSheet(...referenceOf(exercise)).map(({ message }) => message)).toEqual([]);
  },
);

it('rounds whose radius is given reach to the ends of the part', () => {
  const [, reference] = referenceOf(strutBearingExercise);
  const [x] = chainsOf(reference, reference.targets);
  expect(x.connected(-26, 74)).toBe(true);
});
