/** Sums over the first attempts at a part, for one of its checks. */
export interface CheckSums {
  /** Attempts. */
  readonly count: number;
  /** Of those, on which the check was right. */
  readonly right: number;
  /** Of the rest of the score: what all other checks earned, 0 to 100. */
  readonly restSum: number;
  readonly restSquares: number;
  /** Of the rest, over the attempts on which the check was right. */
  readonly restOfRight: number;
}

export interface CheckFigures {
  /** Share of first attempts on which it was right, 0 to 1. */
  readonly facility: number;
  /**
   * Correlation between "the check was right" and the rest of the score, -1 to 1; null where one of both never varies. A
   * check that good students miss as often as bad ones is near 0: its sheet, or the check itself, may be at fault.
   */
  readonly discrimination: number | null;
}

/** Fewer attempts say nothing about how a check divides a class. */
const FEWEST = 8;
const SAME = 1e-9;

/**
 * How hard a check is, and how it divides a class: the corrected item-total correlation of test theory, Pearson's r of
 * "right" (0 or 1) with the score without the item.
 */
export function checkFigures({ count, right, restSum, restSquares, restOfRight }: CheckSums): CheckFigures {
  const facility = count === 0 ? 0 : right / count;
  const restVariance = restSquares / count - (restSum / count) ** 2;
  const rightVariance = facility * (1 - facility);
  if (count < FEWEST || restVariance < SAME || rightVariance < SAME) return { facility, discrimination: null };
  const covariance = restOfRight / count - facility * (restSum / count);
  return { facility, discrimination: covariance / Math.sqrt(restVariance * rightVariance) };
}
