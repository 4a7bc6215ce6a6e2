import { tz } from '@date-fns/tz';
import { format, parse } from 'date-fns';

import { zoneOfTimes } from './format.ts';

/** As the fields of browsers hold a date and a time. */
const LOCAL = "yyyy-MM-dd'T'HH:mm";

/** A year has four digits, also while it is typed. */
export const LATEST_LOCAL = '9999-12-31T23:59';

/** A moment by the clocks of the course, for a field of a date and a time. */
export const localOf = (moment: Date | string): string => format(moment, LOCAL, { in: tz(zoneOfTimes()) });

/** What somebody typed by the clocks of the course, as a moment (ISO 8601); empty for what is none. */
export function momentOf(local: string): string {
  const date = parse(local, LOCAL, new Date(), { in: tz(zoneOfTimes()) });
  return Number.isNaN(date.getTime()) ? '' : new Date(date).toISOString();
}
