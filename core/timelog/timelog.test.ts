import * as v from 'valibot';
import { describe, expect, it } from 'vitest';

import { begunAt, EMPTY_LOG, isRunning, minutesInWords, minutesOf, pausedAt, TimeLogSchema } from './index.ts';

const at = (time: string): string => `2027-03-10T${time}:00.000Z`;
const span = (from: string, to: string | null) => ({ from: at(from), to: to === null ? null : at(to) });

describe('a time log', () => {
  it('begins, pauses and goes on, and counts what is running until now', () => {
    const morning = pausedAt(begunAt(EMPTY_LOG, at('09:00')), at('09:40'));
    expect(isRunning(morning)).toBe(false);
    const again = begunAt(morning, at('11:00'));
    expect(isRunning(again)).toBe(true);
    expect(minutesOf(again, Date.parse(at('11:25')))).toBe(65);
    expect(begunAt(again, at('11:10'))).toBe(again);
    expect(pausedAt(morning, at('12:00'))).toBe(morning);
  });

  it('counts spans that overlap once, in whatever order they were noted', () => {
    // 09:00 to 10:30 and 11:00 to 11:10.
    const spans = [span('09:30', '10:30'), span('09:00', '10:00'), span('11:00', '11:10'), span('09:15', '09:20')];
    expect(minutesOf({ spans }, 0)).toBe(100);
    expect(minutesOf(EMPTY_LOG, 0)).toBe(0);
  });

  it('ends where it began when the clock was set back', () => {
    const log = pausedAt(begunAt(EMPTY_LOG, at('09:00')), at('08:00'));
    expect(log.spans).toEqual([span('09:00', '09:00')]);
  });

  it('refuses spans that end before they begin, and two that are running', () => {
    const isSound = (spans: unknown, estimateMinutes: unknown = null): boolean =>
      v.safeParse(TimeLogSchema, { estimateMinutes, spans }).success;
    expect(isSound([span('09:00', '10:00'), span('11:00', null)])).toBe(true);
    expect(isSound([span('10:00', '09:00')])).toBe(false);
    expect(isSound([span('09:00', null), span('11:00', null)])).toBe(false);
    expect(isSound([], 0)).toBe(false);
    expect(isSound([], 1.5)).toBe(false);
    expect(isSound([], 6000)).toBe(true);
    expect(isSound([{ from: 'yesterday', to: null }])).toBe(false);
  });

  it.each([
    [0, '0 min'],
    [59, '59 min'],
    [60, '1 h'],
    [125, '2 h 5 min'],
  ])('%i minutes are %s', (minutes, words) => {
    expect(minutesInWords(minutes)).toBe(words);
  });
});
