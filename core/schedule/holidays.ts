import ICAL from 'ical.js';

import { refuse, succeed, type Result } from '#core/problem';

/** Days without lessons, both ends included: "2026-12-21" to "2027-01-01". */
export interface DaySpan {
  readonly name: string;
  readonly from: string;
  readonly to: string;
}

/** What repeats itself is looked at so many times: a holiday of every year for longer than any term. */
const MOST_REPEATS = 6;
const MOST_SPANS = 500;

const dayOf = (time: ICAL.Time): string => time.toString().slice(0, 10);

/** The end of an event is the first day after it where whole days are meant, and a moment of its last day otherwise. */
function lastDayOf(start: ICAL.Time, end: ICAL.Time): string {
  const last = end.clone();
  if (end.isDate && end.compare(start) > 0) last.adjust(-1, 0, 0, 0);
  return dayOf(last);
}

function spansOf(event: ICAL.Event): DaySpan[] {
  const name = event.summary || '';
  const spanFrom = (start: ICAL.Time, end: ICAL.Time): DaySpan => ({
    name,
    from: dayOf(start),
    to: lastDayOf(start, end),
  });
  if (!event.isRecurring()) return [spanFrom(event.startDate, event.endDate)];
  const spans: DaySpan[] = [];
  const iterator = event.iterator();
  for (let repeat = 0; repeat < MOST_REPEATS; repeat++) {
    const start = iterator.next() as ICAL.Time | undefined;
    if (start === undefined) break;
    const end = start.clone();
    end.addDuration(event.duration);
    spans.push(spanFrom(start, end));
  }
  return spans;
}

/** The days of the events in a calendar file (iCalendar, RFC 5545), the first one first. Refuses what is no such file. */
export function readHolidays(text: string): Result<readonly DaySpan[]> {
  try {
    const calendar = new ICAL.Component(ICAL.parse(text) as unknown[]);
    const spans = calendar
      .getAllSubcomponents('vevent')
      .flatMap((event) => spansOf(new ICAL.Event(event)))
      .filter(({ from, to }) => from <= to)
      .slice(0, MOST_SPANS);
    return spans.length === 0
      ? refuse('no-dates', 'This calendar has no days in it. Export the holidays as an iCalendar file (.ics).')
      : succeed(spans.sort((a, b) => a.from.localeCompare(b.from)));
  } catch {
    return refuse('no-calendar', 'This is no calendar file. Export the holidays as an iCalendar file (.ics).');
  }
}
