import { tz, TZDate } from '@date-fns/tz';
import { addDays } from 'date-fns';

import { refuse, succeed, type Result } from '#core/problem';

import type { DaySpan } from './holidays.ts';

/** Days of the week as ISO 8601 counts them. */
export const WEEKDAYS = { 1: 'Mon', 2: 'Tue', 3: 'Wed', 4: 'Thu', 5: 'Fri', 6: 'Sat', 7: 'Sun' } as const;
export type Weekday = keyof typeof WEEKDAYS;

export interface Rhythm {
  /** "2026-09-07"; lessons are on this day or later. */
  readonly firstDay: string;
  readonly weekdays: readonly Weekday[];
  /** "09:00", by the clocks of the zone. */
  readonly opensTime: string;
  /** So many days after the lesson; a holiday puts it off. */
  readonly dueDays: number;
  readonly dueTime: string;
  readonly holidays: readonly DaySpan[];
  readonly zone: string;
}

/** ISO 8601. */
export interface Dates {
  readonly opensAt: string;
  readonly dueAt: string;
}

/** No term is looked at for longer. */
const MOST_DAYS = 800;

/** Days are counted in UTC, where each has 24 hours. */
const atNoon = (day: string): Date => new Date(`${day}T12:00:00Z`);
const dayAfter = (day: string, days: number): string =>
  addDays(atNoon(day), days, { in: tz('UTC') })
    .toISOString()
    .slice(0, 10);
const weekdayOf = (day: string): number => ((atNoon(day).getUTCDay() + 6) % 7) + 1;
const isFree = (day: string, holidays: readonly DaySpan[]): boolean =>
  holidays.some(({ from, to }) => from <= day && day <= to);

/** A time of a day by the clocks of a zone, as a moment. */
function momentOf(day: string, time: string, zone: string): string {
  const [year = 0, month = 1, date = 1] = day.split('-').map(Number);
  const [hours = 0, minutes = 0] = time.split(':').map(Number);
  return new Date(new TZDate(year, month - 1, date, hours, minutes, zone).getTime()).toISOString();
}

/** The next day that is no holiday, the day itself first. */
function nextSchoolDay(day: string, holidays: readonly DaySpan[]): string {
  let next = day;
  for (let days = 0; isFree(next, holidays) && days < MOST_DAYS; days++) next = dayAfter(next, 1);
  return next;
}

/** When so many exercises are issued and due, one each lesson. Refuses where no day of the week is chosen, or none comes. */
export function datesOf(rhythm: Rhythm, count: number): Result<readonly Dates[]> {
  const { firstDay, weekdays, opensTime, dueDays, dueTime, holidays, zone } = rhythm;
  if (weekdays.length === 0) return refuse('no-days', 'Choose the days of the week on which there are lessons.');
  const lessons: string[] = [];
  for (let days = 0; lessons.length < count && days < MOST_DAYS; days++) {
    const day = dayAfter(firstDay, days);
    if (weekdays.some((one) => one === weekdayOf(day)) && !isFree(day, holidays)) lessons.push(day);
  }
  if (lessons.length < count)
    return refuse('no-days', 'There are not as many lessons within two years. Choose more days, or fewer exercises.');
  return succeed(
    lessons.map((day) => ({
      opensAt: momentOf(day, opensTime, zone),
      dueAt: momentOf(nextSchoolDay(dayAfter(day, dueDays), holidays), dueTime, zone),
    })),
  );
}

/** A moment (ISO 8601) so many days later or earlier, at the same time by the clocks of a zone. */
export const shiftedBy = (iso: string, days: number, zone: string): string =>
  new Date(addDays(iso, days, { in: tz(zone) }).getTime()).toISOString();
