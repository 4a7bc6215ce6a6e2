import { tz } from '@date-fns/tz';
import { format, formatDistanceToNowStrict, isPast, isSameYear, isToday } from 'date-fns';

import { formatFixed } from '#core/quantity';
import { machineZone } from '#core/time';

const clock = { zone: machineZone() };

/** Sets the zone that times are told in from now on: that of the course, whatever the device is set to. */
export const tellTimesIn = (zone: string): void => {
  clock.zone = zone;
};

/** The zone that times are told in. */
export const zoneOfTimes = (): string => clock.zone;

/** A moment as people say it; the year where it is not this one. */
export const dateTime = (iso: string, zone = clock.zone): string => {
  const inZone = { in: tz(zone) };
  if (isToday(iso, inZone)) return `today ${format(iso, 'HH:mm', inZone)}`;
  return format(iso, isSameYear(iso, new Date(), inZone) ? 'd MMM HH:mm' : 'd MMM yyyy HH:mm', inZone);
};

/** Whether a moment is over. */
export const hasPassed = (iso: string): boolean => isPast(new Date(iso));

export const fromNow = (iso: string): string => formatDistanceToNowStrict(new Date(iso), { addSuffix: true });

export const fileSize = (bytes: number): string =>
  bytes < 1024 * 1024 ? `${formatFixed(bytes / 1024, 0)} KB` : `${formatFixed(bytes / 1024 / 1024, 1)} MB`;

export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${String(count)} ${count === 1 ? one : many}`;
