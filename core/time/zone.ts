import { tz } from '@date-fns/tz';
import { format } from 'date-fns';

/** Whether a name is one of a time zone that is known here, such as "Europe/London". */
export function isTimeZone(name: string): boolean {
  try {
    return new Intl.DateTimeFormat('en', { timeZone: name }).resolvedOptions().timeZone !== '';
  } catch {
    return false;
  }
}

/** The zone that this machine is set to. */
export const machineZone = (): string => new Intl.DateTimeFormat('en').resolvedOptions().timeZone;

/** A moment (ISO 8601) as a day in a zone, "2026-05-04". */
export const dayIn = (iso: string, zone: string): string => format(iso, 'yyyy-MM-dd', { in: tz(zone) });

/** A moment (ISO 8601) to the minute in a zone, with the zone's name or distance: "2026-05-04 18:00 GMT+1". */
export const minuteIn = (iso: string, zone: string): string =>
  `${format(iso, 'yyyy-MM-dd HH:mm', { in: tz(zone) })} ${zoneAt(iso, zone)}`;

/** A moment (ISO 8601) as people say it in a sentence, by the clocks of a zone: "Monday 4 May, 18:00". */
export const spokenIn = (iso: string, zone: string): string => format(iso, 'EEEE d MMMM, HH:mm', { in: tz(zone) });

/** How a zone is called at a moment: "GMT+1" in summer, "GMT" in winter. */
function zoneAt(iso: string, zone: string): string {
  const parts = new Intl.DateTimeFormat('en-GB', { timeZone: zone, timeZoneName: 'shortOffset' }).formatToParts(
    new Date(iso),
  );
  const name = parts.find(({ type }) => type === 'timeZoneName')?.value ?? zone;
  // As some versions of the runtime write it.
  return name === 'GMT+0' ? 'GMT' : name;
}
