/** What merely follows from a mistake that a diagnosis found, on measurements by hand. */
import { describe, expect, it } from 'vitest';

import { gradeMeasurement, type Diagnosed } from '#core/grade';

import { measurement, POLICY, reference, target } from './testing.ts';

const TARGETS = [target('length', 20), target('pitch', 6), target('width', 7), target('height', 5)];
/** The length is 23 for 20; the pitch follows and is 9 for 6; the width is off by itself; the height is right. */
const VALUES = { length: 23, pitch: 9, width: 8, height: 5 };
const DIAGNOSED: Diagnosed = {
  causes: [],
  complete: true,
  inPlace: false,
  roots: ['length'],
  checks: [
    { checkId: 'length', measured: 23 },
    { checkId: 'pitch', measured: 9 },
  ],
};

function graded(diagnosed: Diagnosed | null, rootCauseOnce = false, values: Record<string, number | null> = VALUES) {
  return gradeMeasurement(reference(TARGETS), measurement(values), {
    typed: [],
    policy: { ...POLICY, rootCauseOnce },
    diagnosed,
  });
}
const following = (...args: Parameters<typeof graded>) =>
  graded(...args)
    .lines.filter(({ followOn }) => followOn)
    .map(({ checkId }) => checkId);

describe('a line follows from a mistake', () => {
  it('where it has the value that the mistake gives it, and the mistake is told by another', () => {
    expect(following(DIAGNOSED)).toEqual(['pitch']);
  });

  it('within its tolerance of that value, and no further', () => {
    const pitched = (pitch: number) => following(DIAGNOSED, false, { ...VALUES, pitch });
    // The tolerance is 0.05.
    expect(pitched(9.04)).toEqual(['pitch']);
    expect(pitched(8.96)).toEqual(['pitch']);
    expect(pitched(9.06)).toEqual([]);
    expect(pitched(8.94)).toEqual([]);
  });

  it('in doubt, as far as the measurement is uncertain', () => {
    const doubtful = measurement({ ...VALUES, pitch: 9.07 });
    const checks = doubtful.checks.map((check) =>
      check.checkId === 'pitch' ? { ...check, uncertainty: 0.03 } : check,
    );
    const report = gradeMeasurement(
      reference(TARGETS),
      { ...doubtful, checks },
      { typed: [], policy: POLICY, diagnosed: DIAGNOSED },
    );
    expect(report.lines.find(({ checkId }) => checkId === 'pitch')?.followOn).toBe(true);
  });

  it('not where the diagnosis does not explain the whole part, or there is none', () => {
    expect(following({ ...DIAGNOSED, complete: false })).toEqual([]);
    expect(following(null)).toEqual([]);
  });

  it('not where nothing was measured, nor where the mistake leaves it as it is', () => {
    expect(following(DIAGNOSED, false, { ...VALUES, pitch: null })).toEqual([]);
    expect(following({ ...DIAGNOSED, checks: DIAGNOSED.checks.slice(0, 1) })).toEqual([]);
  });

  it('not where it is right', () => {
    const checks = [...DIAGNOSED.checks, { checkId: 'height', measured: 5 }];
    expect(following({ ...DIAGNOSED, checks })).toEqual(['pitch']);
  });
});

describe('where a root cause counts once', () => {
  it('what follows earns its points, the root itself and other mistakes do not', () => {
    // One of four right: 25. With the pitch credited: 50. Both others are 3 and 1 off with a tolerance of 0.05.
    expect(graded(DIAGNOSED).score).toBe(25);
    expect(graded(DIAGNOSED, true).score).toBe(50);
    expect(graded(DIAGNOSED, true).lines.map(({ credit }) => credit)).toEqual([0, 1, 0, 1]);
  });

  it('and nothing changes without a diagnosis', () => {
    expect(graded(null, true).score).toBe(25);
  });

  it('the verdict stays what was measured', () => {
    expect(graded(DIAGNOSED, true).lines.map(({ verdict }) => verdict)).toEqual(['wrong', 'wrong', 'wrong', 'right']);
  });
});
