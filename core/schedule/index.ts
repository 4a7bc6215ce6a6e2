/** When a series of exercises is issued over a term: on which days of the week, at what times, around which holidays. */
export { datesOf, shiftedBy, WEEKDAYS, type Dates, type Rhythm, type Weekday } from './rhythm.ts';
export { readHolidays, type DaySpan } from './holidays.ts';
