import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

import { dateTime, fileSize, fromNow, hasPassed, plural } from './format.ts';

it('one attempt, two attempts', () => {
  expect([plural(1, 'attempt'), plural(2, 'attempt'), plural(0, 'body', 'bodies')]).toEqual([
    '1 attempt',
    '2 attempts',
    '0 bodies',
  ]);
});

it('file sizes in steps that people know', () => {
  expect(fileSize(84_992)).toBe('83 KB');
  expect(fileSize(25 * 1024 * 1024)).toBe('25.0 MB');
});

describe('moments, seen at noon of 10 March', () => {
  beforeEach(() => {
    vi.useFakeTimers({ now: new Date(2027, 2, 10, 12, 0) });
  });
  afterEach(() => {
    vi.useRealTimers();
  });
  const at = (year: number, month: number, day: number, hour = 9, minute = 5): string =>
    new Date(year, month - 1, day, hour, minute).toISOString();

  it('are told by the day, and by the year where it is another', () => {
    expect(dateTime(at(2027, 3, 10))).toBe('today 09:05');
    expect(dateTime(at(2027, 3, 9))).toBe('9 Mar 09:05');
    expect(dateTime(at(2026, 11, 15, 0, 16))).toBe('15 Nov 2026 00:16');
    expect(dateTime(at(2028, 1, 2))).toBe('2 Jan 2028 09:05');
  });

  it('lie behind or ahead', () => {
    expect(hasPassed(at(2027, 3, 10, 11, 59))).toBe(true);
    expect(hasPassed(at(2027, 3, 10, 12, 1))).toBe(false);
    expect(fromNow(at(2027, 3, 12, 12, 0))).toBe('in 2 days');
    expect(fromNow(at(2027, 3, 10, 9, 0))).toBe('3 hours ago');
  });
});
