import { lateDeduction } from './late.ts';
import { roundDeduction, type RoundAtHandIn } from './round.ts';
import type { ScoringPolicy } from './policy.ts';
import type { Deduction, Override, ReportLine, RuleLine, TypedLine } from './report.ts';

/** What the score is made of. */
export interface Parts {
  readonly lines: readonly ReportLine[];
  readonly typed: readonly TypedLine[];
  readonly rules: readonly RuleLine[];
}

export interface Total {
  /** 0 to 100. */
  readonly score: number;
  readonly cap: string | null;
  readonly deductions: readonly Deduction[];
}

/** Names of the lines that can be overridden: the check, "typed:mass", "rule:1" counted from 1. */
export type LineId = string;

/** The id of the report line of a typed number. */
export const typedLineId = (name: TypedLine['name']): LineId => `typed:${name}`;

/** The id of the report line of a build rule, by its place in the list from 0. */
export const ruleLineId = (place: number): LineId => `rule:${String(place + 1)}`;

/** The parts of a report with what an instructor decided put over what was measured. */
export function withOverrides({ lines, typed, rules }: Parts, overrides: ReadonlyMap<LineId, Override>): Parts {
  if (overrides.size === 0) return { lines, typed, rules };
  const over = <T>(line: T, id: LineId): T & { override: Override | null } => ({
    ...line,
    override: overrides.get(id) ?? null,
  });
  return {
    lines: lines.map((line) => over(line, line.checkId)),
    typed: typed.map((line) => over(line, typedLineId(line.name))),
    rules: rules.map((line, i) => over(line, ruleLineId(i))),
  };
}

interface Earning {
  readonly weight: number;
  /** Null for a rule that could not be judged. */
  readonly credit: number | null;
}

const earningsOf = ({ lines, typed, rules }: Parts): readonly Earning[] => [
  ...lines.map(({ weight, credit, override }) => ({ weight, credit: override?.credit ?? credit ?? 0 })),
  ...typed.map(({ weight, matchesReference, override }) => ({
    weight,
    credit: override?.credit ?? (matchesReference ? 1 : 0),
  })),
  ...rules.map(({ weight, verdict, override }) => ({
    weight,
    credit: override?.credit ?? (verdict === 'open' ? null : verdict === 'kept' ? 1 : 0),
  })),
];

const isRight = ({ verdict, credit, override }: ReportLine): boolean =>
  override === null ? verdict === 'right' || credit === 1 : override.credit === 1;

/**
 * The score: the share of the weights that was earned, held down by gates, less what is late and what was not measured beforehand,
 * rounded. The lowest gate is the one that is told.
 */
export function totalOf(
  parts: Parts,
  policy: ScoringPolicy,
  {
    oneClosedBody,
    lateMs,
    round,
  }: { readonly oneClosedBody: boolean; readonly lateMs: number; readonly round: RoundAtHandIn | null },
): Total {
  const counted = earningsOf(parts).filter(({ credit }) => credit !== null);
  const possible = sum(counted.map(({ weight }) => weight));
  const earned = sum(counted.map(({ weight, credit }) => weight * (credit ?? 0)));
  const full = possible > 0 ? (100 * earned) / possible : 0;
  const gates = [
    ...(oneClosedBody ? [] : [{ most: policy.notOneBodyCap, words: 'Not one closed body' }]),
    ...(policy.gates ?? []).flatMap(({ checkId, most }) => {
      const line = parts.lines.find((one) => one.checkId === checkId);
      return line === undefined || isRight(line) ? [] : [{ most, words: `"${line.label}" is not right` }];
    }),
  ].filter(({ most }) => most < full);
  const lowest = gates.sort((a, b) => a.most - b.most)[0];
  const held = lowest?.most ?? full;
  const late = lateDeduction(policy.late, lateMs, held);
  const afterLate = held - (late?.points ?? 0);
  const unmeasured = roundDeduction(policy.roundPoints, round, afterLate);
  const step = policy.roundTo ?? 0.1;
  return {
    // Twice, so that a step of 0.1 leaves no tail of a binary fraction.
    score: Math.round(10 * step * Math.round((afterLate - (unmeasured?.points ?? 0)) / step)) / 10,
    cap: lowest === undefined ? null : `${lowest.words}: at most ${String(lowest.most)} points.`,
    deductions: [late, unmeasured].filter((deduction) => deduction !== null),
  };
}

/** The score that counts of several attempts in the order of hand-in; null without any. */
export function countingScore(scores: readonly number[], { counts = 'best' }: ScoringPolicy): number | null {
  if (scores.length === 0) return null;
  return counts === 'last' ? (scores.at(-1) ?? null) : Math.max(...scores);
}

const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);
