/** Dates as a calendar program reads them (iCalendar, RFC 5545). */
import ical, { ICalAlarmType } from 'ical-generator';

export interface CalendarDate {
  readonly assignmentId: number;
  /** What is due, such as "SB-101 Cleat plate". */
  readonly title: string;
  /** The section, for those who teach; null for a student. */
  readonly section: string | null;
  readonly course: string;
  /** ISO 8601. */
  readonly dueAt: string;
  /** In words, in the zone of the course; null where nothing is taken later. */
  readonly lateUntil: string | null;
  /** Where it is read of. */
  readonly address: string;
}

const REMIND_BEFORE_S = 24 * 3600;

/** The feed of one person: an event a due date, at the moment itself, whatever zone the calendar shows. */
export function calendarFeed(owner: string, dates: readonly CalendarDate[], remind: boolean): string {
  const calendar = ical({
    name: `${owner}: due dates`,
    prodId: { company: 'Zorvet', product: 'due dates' },
    ttl: 3600,
  });
  for (const { assignmentId, title, section, course, dueAt, lateUntil, address } of dates) {
    const due = new Date(dueAt);
    const event = calendar.createEvent({
      id: `assignment-${String(assignmentId)}@zorvet`,
      start: due,
      end: due,
      summary: `${title} is due${section === null ? '' : ` (${section})`}`,
      description: lateUntil === null ? course : `${course}. Late work is taken until ${lateUntil}.`,
      url: address,
    });
    if (remind) event.createAlarm({ type: ICalAlarmType.display, trigger: REMIND_BEFORE_S });
  }
  return calendar.toString();
}
