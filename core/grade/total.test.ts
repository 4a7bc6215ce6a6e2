import { describe, expect, it } from 'vitest';

import {
  countingScore,
  gradeMeasurement,
  type Circumstances,
  type Override,
  type ReportLine,
  type ScoringPolicy,
} from '#core/grade';

import { measurement, POLICY, reference, target } from './testing.ts';
import { totalOf } from './total.ts';

const FOUR = [target('a', 10), target('b', 20), target('c', 30), target('d', 40)];
/** Three of four checks of equal weight are right: 75 points. */
const VALUES = { a: 10, b: 20, c: 30, d: 50 };
const graded = (policy: Partial<ScoringPolicy>, more: Circumstances = {}) =>
  gradeMeasurement(reference(FOUR), measurement(VALUES), { typed: [], policy: { ...POLICY, ...policy }, ...more });
const override = (credit: number): Override => ({ credit, reason: 'The sheet was smudged here.', by: 'Orla Fenwick' });

describe('a gate', () => {
  it('holds the score down while its check is wrong, and says which', () => {
    expect(graded({ gates: [{ checkId: 'd', most: 40 }] })).toMatchObject({
      score: 40,
      cap: '"d" is not right: at most 40 points.',
    });
  });

  it('does nothing while its check is right, or the score is lower anyway', () => {
    expect(graded({ gates: [{ checkId: 'a', most: 40 }] })).toMatchObject({ score: 75, cap: null });
    expect(graded({ gates: [{ checkId: 'd', most: 90 }] })).toMatchObject({ score: 75, cap: null });
  });

  it('of several, the lowest holds', () => {
    const gates = [
      { checkId: 'd', most: 60 },
      { checkId: 'd', most: 30 },
    ];
    expect(graded({ gates }).score).toBe(30);
  });

  it('opens when an instructor counts its check as right', () => {
    const overrides = new Map([['d', override(1)]]);
    expect(graded({ gates: [{ checkId: 'd', most: 40 }] }, { overrides })).toMatchObject({ score: 100, cap: null });
  });
});

describe('a gate on a check that is credited', () => {
  const line = (checkId: string, verdict: string, credit: number) =>
    ({ checkId, label: checkId, verdict, credit, weight: 1, override: null }) as unknown as ReportLine;
  const gated = (credit: number) =>
    totalOf(
      { lines: [line('a', 'right', 1), line('b', 'wrong', credit)], typed: [], rules: [] },
      { ...POLICY, gates: [{ checkId: 'b', most: 30 }] },
      { oneClosedBody: true, lateMs: 0, round: null },
    );

  it('opens where it is wrong only as a consequence, which earns all of its points', () => {
    expect(gated(1)).toMatchObject({ score: 100, cap: null });
  });
  it('holds where it earns a part of them', () => {
    expect(gated(0.9)).toMatchObject({ score: 30, cap: '"b" is not right: at most 30 points.' });
  });
});

describe('a dimension round that counts', () => {
  const measured = (open: number, all: number, policy: Partial<ScoringPolicy> = {}, lateMs = 0) =>
    totalOf(
      {
        lines: [{ checkId: 'a', label: 'a', verdict: 'right', credit: 1, weight: 1, override: null }] as never,
        typed: [],
        rules: [],
      },
      { ...POLICY, ...policy },
      { oneClosedBody: true, lateMs, round: { open, all } },
    );

  it('takes the share that was not measured, of ten points where nothing is said', () => {
    // 3 of 12 are a quarter of 10 points.
    expect(measured(3, 12)).toMatchObject({
      score: 97.5,
      deductions: [{ reason: '3 of 12 dimensions not measured before the hand-in', points: 2.5 }],
    });
    expect(measured(12, 12)).toMatchObject({ score: 90 });
    expect(measured(0, 12)).toMatchObject({ score: 100, deductions: [] });
  });

  it('takes what the policy says, after what is late', () => {
    const late = { amount: 10, of: 'points', each: 'day', graceMinutes: 0, most: 100 } as const;
    // 100 - 10 for a day - half of 20.
    expect(measured(6, 12, { roundPoints: 20, late }, 3_600_000)).toMatchObject({ score: 80 });
    expect(measured(6, 12, { roundPoints: 0 })).toMatchObject({ score: 100, deductions: [] });
    // No more than there is.
    expect(measured(12, 12, { roundPoints: 100, late: { ...late, amount: 60 } }, 1)).toMatchObject({ score: 0 });
  });

  it('is nothing for a sheet without dimensions', () => {
    expect(measured(0, 0)).toMatchObject({ score: 100, deductions: [] });
  });
});

describe('what an instructor decides', () => {
  it('counts in place of what was measured, and is told with its reason', () => {
    const report = graded({}, { overrides: new Map([['d', override(0.5)]]) });
    // 3 whole points and a half of 4.
    expect(report.score).toBe(87.5);
    expect(report.lines.find(({ checkId }) => checkId === 'd')).toMatchObject({
      verdict: 'wrong',
      credit: 0,
      override: { credit: 0.5, by: 'Orla Fenwick' },
    });
  });

  it('can take points away as well', () => {
    expect(graded({}, { overrides: new Map([['a', override(0)]]) }).score).toBe(50);
  });
});

describe('a score', () => {
  it.each([
    [0.1, 33.3],
    [0.5, 33.5],
    [1, 33],
    [5, 35],
  ] as const)('rounded to %d is %d for one check of three', (roundTo, score) => {
    const three = [target('a', 10), target('b', 20), target('c', 30)];
    const report = gradeMeasurement(reference(three), measurement({ a: 10, b: 0, c: 0 }), {
      typed: [],
      policy: { ...POLICY, roundTo },
    });
    expect(report.score).toBe(score);
  });

  it('counts build rules that could be judged, and leaves out those that stay open', () => {
    const rules = [{ kind: 'one-body' }, { kind: 'most-steps', count: 3 }] as const;
    const report = (bodies: number) =>
      gradeMeasurement({ ...reference([target('a', 10)]), rules }, measurement({ a: 10 }, { bodies }), {
        typed: [],
        policy: {
          ...POLICY,
          notOneBodyCap: 100,
          ruleWeight: 1,
        },
      });
    expect(report(1).score).toBe(100);
    expect(report(2).score).toBe(50);
  });
});

describe('of several attempts', () => {
  it('the best counts, or the last where the policy says so', () => {
    expect(countingScore([60, 90, 70], POLICY)).toBe(90);
    expect(countingScore([60, 90, 70], { ...POLICY, counts: 'last' })).toBe(70);
    expect(countingScore([], POLICY)).toBeNull();
  });
});
