/** What leaving out dimensions of the sheet costs, where going round it counts. */
import type { Deduction } from './report.ts';

/** How far a student was round the sheet at the hand-in. */
export interface RoundAtHandIn {
  /** Dimensions that were not measured. */
  readonly open: number;
  readonly all: number;
}

/** Points that are taken at most where no policy says it. */
export const ROUND_POINTS = 10;

/** What is taken of the points that were earned, 0 to 100: of `most` the share that was not measured; null where nothing is. */
export function roundDeduction(
  most: number | undefined,
  round: RoundAtHandIn | null,
  earned: number,
): Deduction | null {
  if (round === null || round.open <= 0 || round.all <= 0) return null;
  const share = Math.min(1, round.open / round.all);
  const points = Math.min(Math.round(10 * (most ?? ROUND_POINTS) * share) / 10, earned);
  const left = `${String(round.open)} of ${String(round.all)} dimensions`;
  return points === 0 ? null : { reason: `${left} not measured before the hand-in`, points };
}
