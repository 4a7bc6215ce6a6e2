/** What coming late costs. */
import * as v from 'valibot';

import type { Deduction } from './report.ts';

const ShareSchema = v.pipe(v.number(), v.minValue(0), v.maxValue(100));
const MOST_GRACE_MINUTES = 7 * 24 * 60;

/** So much for each day or hour begun after the due time. */
export const LateRuleSchema = v.strictObject({
  amount: ShareSchema,
  /** Of 100, or of what was earned. */
  of: v.picklist(['points', 'percent']),
  each: v.picklist(['day', 'hour']),
  /** So late costs nothing yet; whoever is later pays from the due time on. */
  graceMinutes: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(MOST_GRACE_MINUTES)),
  /** The most that is taken, in points or percent as the amount. */
  most: ShareSchema,
});
export type LateRule = Readonly<v.InferOutput<typeof LateRuleSchema>>;

const EACH_MS = { day: 86_400_000, hour: 3_600_000 } as const;
const MINUTE_MS = 60_000;

/** How long after the due time something came, ms; 0 for what came in time. */
export const lateMsOf = (handedInAt: Date, dueAt: Date): number => Math.max(0, handedInAt.getTime() - dueAt.getTime());

/** What is taken of the points that were earned, 0 to 100; null where nothing is. */
export function lateDeduction(rule: LateRule | undefined, lateMs: number, earned: number): Deduction | null {
  if (rule === undefined || lateMs <= rule.graceMinutes * MINUTE_MS) return null;
  const begun = Math.ceil(lateMs / EACH_MS[rule.each]);
  const taken = Math.min(rule.amount * begun, rule.most);
  const points = Math.min(rule.of === 'points' ? taken : (earned * taken) / 100, earned);
  return points === 0 ? null : { reason: `${String(begun)} ${rule.each}${begun === 1 ? '' : 's'} late`, points };
}

/** The rule as a student reads it: "10 points off for each day begun, 50 at most". */
export function lateInWords({ amount, of, each, graceMinutes, most }: LateRule): string {
  const unit = of === 'points' ? (amount === 1 ? ' point' : ' points') : ' %';
  const free = graceMinutes === 0 ? '' : `, the first ${String(graceMinutes)} minutes free`;
  const end = most >= 100 ? '' : `, ${String(most)}${of === 'points' ? '' : ' %'} at most`;
  return `${String(amount)}${unit} off for each ${each} begun${end}${free}`;
}
