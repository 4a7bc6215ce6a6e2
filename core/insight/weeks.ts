import { tz } from '@date-fns/tz';
import { addWeeks, format, startOfWeek } from 'date-fns';

import { groupBy } from '#core/group';

import { median } from './statistics.ts';

export interface WeekAttempt {
  /** ISO 8601. */
  readonly handedInAt: string;
  readonly studentId: number;
  readonly score: number | null;
}

export interface Week {
  /** Its Monday, "2026-05-04". */
  readonly from: string;
  readonly attempts: number;
  readonly students: number;
  readonly medianScore: number | null;
}

const MOST_WEEKS = 60;

const QUARTER_MIN = 15;
/** What all moments of a quarter of an hour share: clocks differ from UTC by quarters of an hour, and weeks begin at midnight. */
const quarterOf = (iso: string): string => {
  const utc = new Date(iso).toISOString();
  return `${utc.slice(0, 14)}${String(Math.floor(Number(utc.slice(14, 16)) / QUARTER_MIN))}`;
};

/** Attempts by the week of their hand-in, by the clocks of a zone; weeks without any in between are there too. */
export function weeksOf(attempts: readonly WeekAttempt[], zone: string): readonly Week[] {
  const context = { in: tz(zone) };
  const weekOfQuarter = new Map<string, string>();
  const weekOf = (iso: string): string => {
    const quarter = quarterOf(iso);
    const known = weekOfQuarter.get(quarter);
    if (known !== undefined) return known;
    const week = format(startOfWeek(iso, { ...context, weekStartsOn: 1 }), 'yyyy-MM-dd', context);
    weekOfQuarter.set(quarter, week);
    return week;
  };
  const byWeek = groupBy(attempts, ({ handedInAt }) => weekOf(handedInAt));
  const known = [...byWeek.keys()].sort();
  const [first, last] = [known[0], known.at(-1)];
  if (first === undefined || last === undefined) return [];
  const weeks: Week[] = [];
  // Noon, so that no change of the clocks moves a Monday.
  for (let day = `${first}T12:00:00Z`; ; day = addWeeks(day, 1, { in: tz('UTC') }).toISOString()) {
    const from = day.slice(0, 10);
    if (from > last) break;
    const own = byWeek.get(from) ?? [];
    weeks.push({
      from,
      attempts: own.length,
      students: new Set(own.map(({ studentId }) => studentId)).size,
      medianScore: median(own.flatMap(({ score }) => score ?? [])),
    });
  }
  return weeks.slice(-MOST_WEEKS);
}
