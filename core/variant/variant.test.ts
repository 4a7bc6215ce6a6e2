import { beforeAll, describe, expect, it } from 'vitest';

import type { Kernel } from '#core/kernel';
import { unwrap } from '#core/problem';
import { RecipeBuilder } from '#core/recipe';
import {
  answerKey,
  assignVariants,
  generateVariants,
  judgeVariants,
  keyAsCsv,
  parseVariantTable,
  variantTable,
} from '#core/variant';
import { cleatPlateExercise } from '#demo/exercises';
import { loadKernel } from '#runtime';

let kernel: Kernel;
let builder: RecipeBuilder;
beforeAll(async () => {
  kernel = await loadKernel();
  builder = new RecipeBuilder(kernel);
});

const RANGES = [
  { name: 'A', from: 110, to: 140, step: 2 },
  { name: 'C', from: 8, to: 14, step: 0.5 },
];

describe('generated variants', () => {
  it('all rebuild, keep their surfaces and differ in volume; the same seed gives the same', () => {
    const { variants } = unwrap(
      generateVariants(kernel, builder, cleatPlateExercise, { ranges: RANGES, wanted: 8, seed: 7 }),
    );
    expect(variants).toHaveLength(8);
    const verdicts = judgeVariants(kernel, builder, cleatPlateExercise, { variants });
    expect(verdicts.map(({ problem }) => problem)).toEqual(variants.map(() => null));
    // Of the plate alone: length x 64 x thickness, so 1.5 % of about 80 cm3 must lie between any two.
    const volumes = verdicts.map(({ properties }) => properties?.volumeMm3 ?? 0).sort((a, b) => a - b);
    volumes.slice(1).forEach((volume, i) => {
      expect(volume - (volumes[i] ?? 0)).toBeGreaterThan(0.015 * volume * 0.99);
    });
    const again = unwrap(generateVariants(kernel, builder, cleatPlateExercise, { ranges: RANGES, wanted: 8, seed: 7 }));
    expect(again.variants).toEqual(variants);
  });

  it('that cannot be built, or lose a surface, are left out and counted', () => {
    // A plate shorter than its slots and rounds cannot be built or falls apart.
    const short = [{ name: 'A', from: 10, to: 200, step: 10 }];
    const { variants, left } = unwrap(
      generateVariants(kernel, builder, cleatPlateExercise, { ranges: short, wanted: 19, seed: 1 }),
    );
    expect(variants.length).toBeGreaterThan(3);
    expect(variants.every(({ values }) => Number(values['A']) > 60)).toBe(true);
    expect(Object.values(left).reduce((sum, count) => sum + count, 0)).toBeGreaterThan(2);
  });

  it('from a range that is none refuse', () => {
    const code = (range: object) => {
      const made = generateVariants(kernel, builder, cleatPlateExercise, {
        ranges: [{ ...RANGES[0]!, ...range }],
        wanted: 3,
        seed: 1,
      });
      return made.ok ? null : made.problem.code;
    };
    expect([code({ name: 'Q' }), code({ step: 0 }), code({ to: 1 })]).toEqual(['bad-range', 'bad-range', 'bad-range']);
  });
});

describe('the judgement of typed variants', () => {
  it('names a part that cannot be built, and a volume that is there already', () => {
    const verdicts = judgeVariants(kernel, builder, cleatPlateExercise, {
      variants: [
        { name: '1', values: {} },
        { name: '2', values: { A: '120.01' } },
        { name: '3', values: { A: '2' } },
        { name: '4', values: { A: '1/0' } },
      ],
    });
    const fixed = { ...cleatPlateExercise.checks[0]!, nominal: '120' } as (typeof cleatPlateExercise.checks)[number];
    const stiff = { ...cleatPlateExercise, checks: [fixed] };
    expect(
      judgeVariants(kernel, builder, stiff, { variants: [{ name: '1', values: { A: '130' } }] })[0]?.problem,
    ).toMatchObject({
      code: 'plan-fails',
      message: expect.stringContaining('Length') as string,
    });
    expect(verdicts.map(({ problem }) => problem?.code ?? null)).toMatchObject([
      null,
      'too-alike',
      expect.any(String),
      'division-by-zero',
    ]);
    expect(verdicts[1]?.problem?.message).toContain('variant 1');
  });
});

describe('who gets which variant', () => {
  const students = Array.from({ length: 20 }, (_, i) => 100 + i);
  it('is even, depends on the seed alone, and is another one for a retake', () => {
    const given = assignVariants(students, 6, 42);
    const counts = Array.from({ length: 6 }, (_, i) => [...given.values()].filter((index) => index === i).length);
    expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(1);
    expect(assignVariants([...students].reverse(), 6, 42)).toEqual(given);
    const other = assignVariants(students, 6, 43);
    expect(students.some((id) => other.get(id) !== given.get(id))).toBe(true);
    const retake = assignVariants(students, 6, 42, 1);
    expect(students.every((id) => retake.get(id) !== given.get(id))).toBe(true);
  });
});

describe('tables', () => {
  const { parameters } = cleatPlateExercise.recipe;
  it('of values come back as they went, whatever parts the cells', () => {
    const variants = [{ name: 'red', values: { A: '110', B: '64', C: '9.5' } }];
    expect(unwrap(parseVariantTable(variantTable(parameters, variants), parameters))).toEqual(variants);
    expect(unwrap(parseVariantTable('A;C\r\n110;9,5\r\n', parameters))).toEqual([
      { name: '1', values: { A: '110', C: '9.5' } },
    ]);
  });

  it('that do not fit say where', () => {
    const message = (text: string) => {
      const parsed = parseVariantTable(text, parameters);
      return parsed.ok ? '' : parsed.problem.message;
    };
    expect(message('A\tQ\n1\t2')).toContain('no letter "Q"');
    expect(message('A\tB\n1')).toBe('Line 2 has 1 cells, the first line 2.');
    expect(message('A')).toContain('Paste a line');
  });

  it('of answers hold volume, mass and center for every variant and stage', () => {
    const exercise = {
      ...cleatPlateExercise,
      variants: [{ name: 'red', values: { C: '12' } }],
      stages: [{ title: 'longer', brief: '', values: { A: '130' } }],
    };
    const key = answerKey(kernel, builder, exercise);
    expect(key.map(({ variant, stage }) => `${variant} ${stage}`)).toEqual([
      'as drawn first',
      'as drawn longer',
      'red first',
      'red longer',
    ]);
    const [drawn, , red] = key;
    // Everything in the plate goes through, so volume is proportional to the thickness.
    expect((red?.properties?.volumeMm3 ?? 0) / (drawn?.properties?.volumeMm3 ?? 1)).toBeCloseTo(1.2, 9);
    expect(drawn?.massG).toBeCloseTo(((drawn?.properties?.volumeMm3 ?? 0) * 2.7) / 1000, 9);
    const csv = keyAsCsv(key, ['A', 'C']).split('\r\n');
    expect(csv[0]).toMatch(/^variant,stage,A,C,volume_mm3,mass_g/);
    expect(csv[3]).toMatch(/^red,first,,12,/);
  });
});
