import * as v from 'valibot';
import { describe, expect, it } from 'vitest';

import { lateInWords, lateMsOf, LateRuleSchema, type LateRule } from '#core/grade';

import { lateDeduction } from './late.ts';

const HOUR_MS = 3_600_000;
const DAY_MS = 24 * HOUR_MS;
const rule = (change: Partial<LateRule> = {}): LateRule => ({
  amount: 10,
  of: 'points',
  each: 'day',
  graceMinutes: 0,
  most: 100,
  ...change,
});
const DUE = new Date('2026-05-04T18:00:00Z');
const lateAt = (time: string): number => lateMsOf(new Date(time), DUE);

describe('how late something is', () => {
  it.each([
    ['2026-05-04T18:00:00Z', 0],
    ['2026-05-04T17:00:00Z', 0],
    ['2026-05-04T18:00:01Z', 1000],
    ['2026-05-07T10:00:00Z', 64 * HOUR_MS],
  ])('handed in at %s, it is %d ms', (time, ms) => {
    expect(lateAt(time)).toBe(ms);
  });
});

describe('what coming late costs', () => {
  it.each([
    // Each day that has begun: a second counts as one, a day is one, a second more is two.
    ['2026-05-04T18:00:01Z', { reason: '1 day late', points: 10 }],
    ['2026-05-05T18:00:00Z', { reason: '1 day late', points: 10 }],
    ['2026-05-05T18:00:01Z', { reason: '2 days late', points: 20 }],
    ['2026-05-07T10:00:00Z', { reason: '3 days late', points: 30 }],
  ])('is counted by days begun: at %s', (time, deduction) => {
    expect(lateDeduction(rule(), lateAt(time), 75)).toEqual(deduction);
  });

  it('is counted by hours begun where the rule says so', () => {
    expect(lateDeduction(rule({ amount: 2, each: 'hour' }), 90 * 60_000, 75)).toEqual({
      reason: '2 hours late',
      points: 4,
    });
  });

  it('is a share of what was earned where it is percent', () => {
    // 20 % of 75 points.
    expect(lateDeduction(rule({ of: 'percent' }), 2 * DAY_MS, 75)?.points).toBe(15);
  });

  it('is nothing within the grace, and counts from the due time after it', () => {
    const graced = rule({ each: 'hour', graceMinutes: 90 });
    expect(lateDeduction(graced, 90 * 60_000, 75)).toBeNull();
    expect(lateDeduction(graced, 90 * 60_000 + 1, 75)).toEqual({ reason: '2 hours late', points: 20 });
  });

  it('is no more than the most, nor than what was earned', () => {
    expect(lateDeduction(rule({ most: 25 }), 9 * DAY_MS, 75)?.points).toBe(25);
    // 40 % of 50 points at most.
    expect(lateDeduction(rule({ of: 'percent', most: 40 }), 9 * DAY_MS, 50)?.points).toBe(20);
    expect(lateDeduction(rule({ amount: 100 }), DAY_MS, 75)?.points).toBe(75);
  });

  it('is nothing in time, without a rule, or for nothing', () => {
    expect(lateDeduction(rule(), 0, 75)).toBeNull();
    expect(lateDeduction(undefined, DAY_MS, 75)).toBeNull();
    expect(lateDeduction(rule(), DAY_MS, 0)).toBeNull();
    expect(lateDeduction(rule({ amount: 0 }), DAY_MS, 75)).toBeNull();
  });
});

describe('the rule in words', () => {
  it.each([
    [rule(), '10 points off for each day begun'],
    [rule({ amount: 1, each: 'hour' }), '1 point off for each hour begun'],
    [rule({ of: 'percent', most: 40 }), '10 % off for each day begun, 40 % at most'],
    [rule({ most: 50, graceMinutes: 15 }), '10 points off for each day begun, 50 at most, the first 15 minutes free'],
  ])('says all of it', (one, words) => {
    expect(lateInWords(one)).toBe(words);
    expect(v.is(LateRuleSchema, one)).toBe(true);
  });
});
