import { describe, expect, it } from 'vitest';

import type { Measurement, Target } from '#core/check';
import { checkTyped, creditFor, gradeMeasurement, reportFor, type TypedInput } from '#core/grade';

import { measurement, POLICY, properties, reference, target, VOLUME } from './testing.ts';

describe('credit for a deviation', () => {
  // Full up to the tolerance, then from one half down to nothing at five tolerances.
  it.each([
    [0, 1],
    [0.05, 1],
    [-0.05, 1],
    [0.1500000001, 0.25],
    [0.25, 0],
    [3, 0],
  ])('%d mm off with a tolerance of 0.05 earns %d', (deviation, credit) => {
    expect(creditFor(deviation, 0.05, 5)).toBeCloseTo(credit, 6);
  });

  it('is all or nothing for counts', () => {
    expect(creditFor(1, 0, 5)).toBe(0);
    expect(creditFor(0, 0, 5)).toBe(1);
  });
});

describe('score', () => {
  it('weighs the checks', () => {
    const targets = [target('a', 10, { weight: 3 }), target('b', 20)];
    const report = gradeMeasurement(reference(targets), measurement({ a: 10, b: 25 }), { typed: [], policy: POLICY });
    expect(report.score).toBe(75);
    expect(report.lines.map((line) => line.verdict)).toEqual(['right', 'wrong']);
  });

  it('gives part of the points to a value that is close, and none to what is missing', () => {
    const targets = [target('a', 10), target('b', 20)];
    const report = gradeMeasurement(reference(targets), measurement({ a: 10.1, b: null }), {
      typed: [],
      policy: POLICY,
    });
    expect(report.lines.map((line) => line.verdict)).toEqual(['near', 'missing']);
    // Half of 0.5 (1 - 0.05 / 0.2) = 18.75 %, to a tenth.
    expect(report.score).toBe(18.8);
  });

  it('is capped for a model of several bodies, and says so', () => {
    const report = gradeMeasurement(reference([target('a', 10)]), measurement({ a: 10 }, { bodies: 2 }), {
      typed: [],
      policy: POLICY,
    });
    expect(report.score).toBe(50);
    expect(report.cap).toContain('at most 50');
    expect(report.causes[0]?.id).toBe('several-bodies');
  });
});

describe('a size at the end of its limits', () => {
  const verdictOf = (measured: number, uncertainty: number, extra: object = {}): string => {
    const made = measurement({ a: measured });
    const checks = made.checks.map((check) => ({ ...check, uncertainty }));
    return gradeMeasurement(reference([target('a', 8, extra)]), { ...made, checks }, { typed: [], policy: POLICY })
      .lines[0]!.verdict;
  };
  const limits = { limits: { lower: -0.1, upper: 0.2 } };
  it.each([
    // Limits 7.9 to 8.2; triangles that leave 0.05 mm open give the part the benefit on either side: 7.85 to 8.25.
    [7.91, 0, 'right'],
    [7.89, 0, 'near'],
    [8.19, 0, 'right'],
    [8.21, 0, 'near'],
    [7.86, 0.05, 'right'],
    [7.84, 0.05, 'near'],
    [8.24, 0.05, 'right'],
    [8.26, 0.05, 'near'],
  ])('%d with an uncertainty of %d is %s', (measured, uncertainty, verdict) => {
    expect(verdictOf(measured, uncertainty, limits)).toBe(verdict);
  });
  it.each([
    // 8 with a tolerance of 0.05 and an uncertainty of 0.02.
    [7.94, 'right'],
    [7.92, 'near'],
    [8.06, 'right'],
    [8.08, 'near'],
    [7.5, 'wrong'],
  ])('that are even, %d is %s', (measured, verdict) => {
    expect(verdictOf(measured, 0.02)).toBe(verdict);
  });
});

describe('causes of one wrong size', () => {
  const causeOf = (nominal: number, measured: number, extra: object = {}, others: readonly Target[] = []) => {
    const targets = [target('a', nominal, extra), ...others];
    const values = {
      a: measured,
      ...Object.fromEntries(others.map((o) => [o.checkId, 'nominal' in o ? o.nominal : 0])),
    };
    return (
      gradeMeasurement(reference(targets), measurement(values), { typed: [], policy: POLICY }).causes[0]?.id ?? null
    );
  };
  const round = { kind: 'diameter', members: [[0]] };
  it.each([
    ['radius typed as diameter', 9, 4.5, round, 'radius-for-diameter'],
    ['diameter typed as radius', 9, 18, round, 'diameter-for-radius'],
    ['half a width', 30, 15, {}, 'half-for-whole'],
    ['decimal point slipped', 2.4, 0.24, {}, 'decimal-point'],
    ['one value in inches', 10, 254, {}, 'unit-of-one-value'],
    ['digits swapped', 64, 46, {}, 'digits-swapped'],
    ['something else', 64, 61.3, {}, 'wrong-size'],
    ['nothing wrong', 64, 64.04, {}, null],
  ])('%s', (_name, nominal, measured, extra, cause) => {
    expect(causeOf(nominal, measured, extra)).toBe(cause);
  });

  describe('of holes that share a dimension', () => {
    const messageOf = (...members: readonly number[]) => {
      const wrong = members.find((size) => Math.abs(size - 9) > 1) ?? 9;
      const measured = measurement({ a: wrong });
      const checks = measured.checks.map((check) => ({ ...check, members }));
      return gradeMeasurement(
        reference([target('a', 9, round)]),
        { ...measured, checks },
        { typed: [], policy: POLICY },
      ).causes[0]?.message;
    };
    it('says which of them', () => {
      expect(messageOf(9, 9, 4.5, 9)).toContain('a (number 3 of 4):');
      expect(messageOf(4.5, 9, 4.5, 9)).toContain('a (number 1, 3 of 4):');
      expect(messageOf(9, 9, 9, 4.5)).toContain('a (number 4 of 4):');
    });
    it('says no number where all of them are wrong', () => {
      expect(messageOf(4.5, 4.5)).toMatch(/^a: /);
    });
    it('counts one at the very end of its tolerance among the right', () => {
      // The tolerance is 0.05.
      expect(messageOf(9.04, 4.5)).toContain('(number 2 of 2)');
    });
  });

  it('the value of a neighboring dimension is named with its label', () => {
    expect(causeOf(17, 12, {}, [target('Slot width', 12)])).toBe('neighboring-dimension');
  });

  it('what follows from a wrong letter is not a cause of its own', () => {
    const targets = [target('length', 20, { expression: 'A' }), target('pitch', 6, { expression: 'A - 14' })];
    const report = gradeMeasurement(reference(targets), measurement({ length: 23, pitch: 9 }), {
      typed: [],
      policy: POLICY,
    });
    expect(report.causes).toHaveLength(1);
    expect(report.causes[0]).toMatchObject({ checkIds: ['length', 'pitch'] });
    expect(report.lines[1]?.advice).toBe(report.causes[0]?.message);
  });
});

describe('typed numbers have two verdicts', () => {
  const typed = (name: TypedInput['name'], text: string, unit: string): TypedInput => ({ name, text, unit });
  const grade = (inputs: readonly TypedInput[], own: Partial<Measurement['massProperties']> = {}) =>
    gradeMeasurement(
      reference([VOLUME], ['mass', 'volume', 'x']),
      measurement({ volume: own.volumeMm3 ?? 10_000 }, { massProperties: { ...properties, ...own } }),
      { typed: inputs, policy: { ...POLICY, typedValueWeight: 1 } },
    );

  it('right, and of the file: 10 cm3 of aluminum are 27 g', () => {
    const report = grade([typed('mass', '27,0', 'g'), typed('volume', '10', 'cm³'), typed('x', '10', 'mm')]);
    expect(report.typed.map((line) => [line.matchesReference, line.ofFile])).toEqual([
      [true, 'yes'],
      [true, 'yes'],
      [true, 'yes'],
    ]);
    expect(report.score).toBe(100);
  });

  it('in another unit than the sheet', () => {
    const report = grade([typed('mass', '0.05952', 'lb'), typed('x', '0.3937', 'in')]);
    expect(
      report.typed.filter((line) => line.text).every((line) => line.matchesReference && line.ofFile === 'yes'),
    ).toBe(true);
  });

  it('wrong, but true of a wrong model', () => {
    const report = grade([typed('volume', '12000', 'mm³')], { volumeMm3: 12_000 });
    expect(report.typed[1]).toMatchObject({ matchesReference: false, ofFile: 'yes' });
  });

  it('right by the key, but not of the file: copied', () => {
    const report = grade([typed('volume', '10000', 'mm³')], { volumeMm3: 12_000 });
    expect(report.typed[1]).toMatchObject({ matchesReference: true, ofFile: 'no' });
    expect(report.causes.map((cause) => cause.id)).toContain('typed-not-of-file');
  });

  it('the mass of another material is told by its density', () => {
    const report = grade([typed('mass', '78.5', 'g')]);
    expect(report.typed[0]).toMatchObject({ matchesReference: false, ofFile: 'other-material' });
    expect(report.causes[0]).toMatchObject({ id: 'wrong-material' });
    expect(report.causes[0]?.message).toContain('carbon steel');
  });

  it('a nought with a power of ten is not right for every number', () => {
    expect(grade([typed('x', '0e9', 'mm')]).typed.find(({ name }) => name === 'x')?.matchesReference).toBe(false);
  });

  it('a number that was not typed earns nothing', () => {
    const report = grade([typed('mass', '27', 'g')]);
    expect(report.typed.map((line) => line.text)).toEqual(['27', '', '']);
    expect(report.score).toBe(50);
  });

  it.each([
    ['mass', 'a lot', 'g', 'Mass'],
    ['mass', '0', 'g', 'Mass must be greater than zero'],
    ['volume', '12 g', 'mm³', 'not a unit of volume'],
  ] as const)('%s "%s" is refused before anything is stored', (name, text, unit, words) => {
    const result = checkTyped([{ name, text, unit }]);
    expect(result.ok ? '' : result.problem.message).toContain(words);
  });
});

describe('before the answers are released', () => {
  it('a student sees the verdicts, but no value that is not on the sheet', () => {
    const report = gradeMeasurement(
      reference([target('a', 10), VOLUME], ['volume']),
      measurement({ a: 12, volume: 12_000 }, { massProperties: { ...properties, volumeMm3: 12_345 } }),
      { typed: [{ name: 'volume', text: '12345', unit: 'mm³' }], policy: POLICY },
    );
    const shown = reportFor(report, 'overlay', 'open');
    expect(shown.lines[0]).toMatchObject({ nominal: 10, measured: 12, verdict: 'wrong' });
    expect(shown.lines[1]).toMatchObject({
      nominal: null,
      deviation: null,
      tolerance: null,
      credit: null,
      verdict: 'wrong',
    });
    expect(JSON.stringify(shown)).not.toContain('10000');
    expect(shown.typed[0]?.reference).toBeNull();
  });
});

describe('the part of another exercise', () => {
  const others = [{ name: 'SB-102 Fairlead block', volumeMm3: 12_000, areaMm2: 3_400 }];
  const causes = (areaMm2: number, values: Record<string, number>) =>
    gradeMeasurement(
      reference([target('a', 10), VOLUME]),
      measurement(values, { massProperties: { ...properties, volumeMm3: 12_000, areaMm2 } }),
      { typed: [], policy: POLICY, others },
    ).causes;

  it('is known by volume and area, and is all that is said', () => {
    expect(causes(3_400, { a: 44, volume: 12_000 }).map(({ id, message }) => [id, message])).toEqual([
      [
        'other-exercise',
        'This is the part of SB-102 Fairlead block, not of this exercise. Look whether the right file was handed in.',
      ],
    ]);
  });

  it('is not guessed from the volume alone, nor where nothing is wrong', () => {
    expect(causes(3_401, { a: 44, volume: 12_000 }).map(({ id }) => id)).not.toContain('other-exercise');
    expect(causes(3_400, { a: 10, volume: 10_000 })).toEqual([]);
  });
});
