import { describe, expect, it } from 'vitest';

import { dayIn, isTimeZone, minuteIn, spokenIn } from '#core/time';

describe('a moment', () => {
  it('is told as the clocks of its place show it, in summer and winter', () => {
    // British summer time begins on 2026-03-29 at 01:00 and ends on 2026-10-25 at 01:00, both by UTC.
    expect(minuteIn('2026-03-29T00:59:00Z', 'Europe/London')).toBe('2026-03-29 00:59 GMT');
    expect(minuteIn('2026-03-29T01:00:00Z', 'Europe/London')).toBe('2026-03-29 02:00 GMT+1');
    expect(minuteIn('2026-10-25T00:30:00Z', 'Europe/London')).toBe('2026-10-25 01:30 GMT+1');
    expect(minuteIn('2026-10-25T01:30:00Z', 'Europe/London')).toBe('2026-10-25 01:30 GMT');
    expect(minuteIn('2026-07-01T12:00:00Z', 'Asia/Kolkata')).toBe('2026-07-01 17:30 GMT+5:30');
  });

  it('is said with the day of the week of its place', () => {
    // 2026-05-04 is a Monday.
    expect(spokenIn('2026-05-04T17:00:00Z', 'Europe/London')).toBe('Monday 4 May, 18:00');
    expect(spokenIn('2026-05-04T23:30:00Z', 'Europe/London')).toBe('Tuesday 5 May, 00:30');
  });

  it('may be another day there', () => {
    expect(dayIn('2026-05-04T23:30:00Z', 'Europe/London')).toBe('2026-05-05');
    expect(dayIn('2026-05-04T23:30:00Z', 'America/Halifax')).toBe('2026-05-04');
  });
});

it('a zone is told from what is none', () => {
  expect(['Europe/London', 'UTC', 'Mars/Olympus', ''].map(isTimeZone)).toEqual([true, true, false, false]);
});
