import { format, formatDistanceToNowStrict, isPast, isThisYear, isToday } from 'date-fns';

import { formatFixed } from '#core/quantity';

/** A moment as people say it; the year where it is not this one. */
export const dateTime = (iso: string): string => {
  const date = new Date(iso);
  if (isToday(date)) return `today ${format(date, 'HH:mm')}`;
  return format(date, isThisYear(date) ? 'd MMM HH:mm' : 'd MMM yyyy HH:mm');
};

/** Whether a moment is over. */
export const hasPassed = (iso: string): boolean => isPast(new Date(iso));

export const fromNow = (iso: string): string => formatDistanceToNowStrict(new Date(iso), { addSuffix: true });

export const fileSize = (bytes: number): string =>
  bytes < 1024 * 1024 ? `${formatFixed(bytes / 1024, 0)} KB` : `${formatFixed(bytes / 1024 / 1024, 1)} MB`;

export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${String(count)} ${count === 1 ? one : many}`;
