import type { Tolerance } from '#core/check';

/** A tolerance as it is typed: "0.05" to both sides, "-0.02 to 0.05" where the limits differ. */
export const toleranceText = (tolerance: Tolerance): string =>
  typeof tolerance === 'string' ? tolerance : `${tolerance.lower} to ${tolerance.upper}`;

const unsigned = (text: string): string => text.trim().replace(/^\+/, '');

/** What a typed tolerance says: "±0.05" and "0.05" are to both sides, "-0.02 to +0.05" has a limit for each. */
export function toleranceOf(text: string): Tolerance {
  const [lower, upper] = text.split(/\s+to\s+/);
  if (lower !== undefined && upper !== undefined && upper.trim() !== '')
    return { lower: unsigned(lower), upper: unsigned(upper) };
  return text.trim().replace(/^±\s*/, '');
}
