import { describe, expect, it } from 'vitest';

import { datesOf, readHolidays, shiftedBy, type Rhythm } from '#core/schedule';

/** 2026-09-07 is a Monday. */
const TERM: Rhythm = {
  firstDay: '2026-09-07',
  weekdays: [1, 4],
  opensTime: '09:00',
  dueDays: 7,
  dueTime: '18:00',
  holidays: [],
  zone: 'Europe/London',
};
const dates = (rhythm: Partial<Rhythm>, count: number) => {
  const made = datesOf({ ...TERM, ...rhythm }, count);
  if (!made.ok) throw new Error(made.problem.message);
  return made.value.map(({ opensAt, dueAt }) => [opensAt, dueAt]);
};

describe('a series over a term', () => {
  it('has an exercise each lesson, by the clocks of the place', () => {
    // British summer time: an hour before UTC.
    expect(dates({}, 3)).toEqual([
      ['2026-09-07T08:00:00.000Z', '2026-09-14T17:00:00.000Z'],
      ['2026-09-10T08:00:00.000Z', '2026-09-17T17:00:00.000Z'],
      ['2026-09-14T08:00:00.000Z', '2026-09-21T17:00:00.000Z'],
    ]);
  });

  it('keeps its hours when the clocks change', () => {
    // Summer time ends on 25 October 2026.
    expect(dates({ firstDay: '2026-10-22', weekdays: [4] }, 2)).toEqual([
      ['2026-10-22T08:00:00.000Z', '2026-10-29T18:00:00.000Z'],
      ['2026-10-29T09:00:00.000Z', '2026-11-05T18:00:00.000Z'],
    ]);
  });

  it('leaves out holidays, and puts off what would be due in them', () => {
    const holidays = [{ name: 'Harvest', from: '2026-09-14', to: '2026-09-20' }];
    expect(dates({ holidays }, 3).map(([opens = '', due = '']) => [opens.slice(0, 10), due.slice(0, 10)])).toEqual([
      ['2026-09-07', '2026-09-21'],
      ['2026-09-10', '2026-09-21'],
      ['2026-09-21', '2026-09-28'],
    ]);
  });

  it('begins on the first lesson after its first day', () => {
    expect(dates({ firstDay: '2026-09-08', weekdays: [1] }, 1)[0]?.[0]).toBe('2026-09-14T08:00:00.000Z');
  });

  it('without lessons is refused', () => {
    expect(datesOf({ ...TERM, weekdays: [] }, 1)).toMatchObject({ ok: false, problem: { code: 'no-days' } });
    const forEver = [{ name: '', from: '2026-01-01', to: '2099-01-01' }];
    expect(datesOf({ ...TERM, holidays: forEver }, 1)).toMatchObject({ ok: false, problem: { code: 'no-days' } });
  });
});

it('a date is shifted by days, and keeps its hour over a change of the clocks', () => {
  expect(shiftedBy('2026-10-22T17:00:00.000Z', 7, 'Europe/London')).toBe('2026-10-29T18:00:00.000Z');
  expect(shiftedBy('2026-10-29T18:00:00.000Z', -7, 'Europe/London')).toBe('2026-10-22T17:00:00.000Z');
});

describe('holidays from a calendar file', () => {
  const calendar = (...lines: readonly string[]): string =>
    ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//Saltmarsh//Term//EN', ...lines, 'END:VCALENDAR'].join('\r\n');
  const event = (...lines: readonly string[]): readonly string[] => ['BEGIN:VEVENT', 'UID:1', ...lines, 'END:VEVENT'];

  it('are whole days, up to the day before the end that the file gives', () => {
    const read = readHolidays(
      calendar(...event('SUMMARY:Midwinter', 'DTSTART;VALUE=DATE:20261221', 'DTEND;VALUE=DATE:20270102')),
    );
    expect(read).toEqual({ ok: true, value: [{ name: 'Midwinter', from: '2026-12-21', to: '2027-01-01' }] });
  });

  it('are one day where no end is given, and the day of an event with hours', () => {
    const read = readHolidays(
      calendar(
        ...event('SUMMARY:Founders', 'DTSTART;VALUE=DATE:20261102'),
        ...event('SUMMARY:Regatta', 'DTSTART:20260919T080000', 'DTEND:20260919T170000'),
      ),
    );
    expect(read.ok && read.value).toEqual([
      { name: 'Regatta', from: '2026-09-19', to: '2026-09-19' },
      { name: 'Founders', from: '2026-11-02', to: '2026-11-02' },
    ]);
  });

  it('come again each year where the file says so', () => {
    const read = readHolidays(
      calendar(...event('SUMMARY:New Year', 'DTSTART;VALUE=DATE:20260101', 'RRULE:FREQ=YEARLY')),
    );
    expect(read.ok && read.value.slice(0, 2).map(({ from }) => from)).toEqual(['2026-01-01', '2027-01-01']);
  });

  it('of what is no calendar, or an empty one, are refused', () => {
    expect(readHolidays('Name,Date')).toMatchObject({ ok: false, problem: { code: 'no-calendar' } });
    expect(readHolidays(calendar())).toMatchObject({ ok: false, problem: { code: 'no-dates' } });
  });
});
