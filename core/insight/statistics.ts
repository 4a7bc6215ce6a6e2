/** The value below which a share of sorted or unsorted numbers lies, with the neighbors joined by a straight line; null of none. */
export function quantile(values: readonly number[], share: number): number | null {
  const sorted = [...values].sort((a, b) => a - b);
  const place = (sorted.length - 1) * share;
  const [below, above] = [sorted[Math.floor(place)], sorted[Math.ceil(place)]];
  return below === undefined || above === undefined ? null : below + (above - below) * (place - Math.floor(place));
}

/** The middle of some numbers, or the mean of the two in the middle; null of none. */
export const median = (values: readonly number[]): number | null => quantile(values, 0.5);
