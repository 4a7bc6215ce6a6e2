import type { BuildLog } from '#core/buildlog';
import {
  kindOf,
  type CheckMeasurement,
  type JudgeFacts,
  type Measurement,
  type Reference,
  type Target,
} from '#core/check';

import { findCauses } from './causes.ts';
import type { KnownPart } from './known.ts';
import { withPolicy, type ScoringPolicy } from './policy.ts';
import type { Override, Report, ReportLine, Verdict } from './report.ts';
import type { RoundAtHandIn } from './round.ts';
import { judgeRules } from './rules.ts';
import { questionsOf } from './questions.ts';
import type { Diagnosed } from './diagnosed.ts';
import { fullOrNothing } from './feedback.ts';
import { totalOf, withOverrides, type LineId } from './total.ts';
import { judgeTyped, type TypedInput } from './typed.ts';

/**
 * Credit for a deviation: 1 within the tolerance, then falling in a straight line from 0.5 to 0 at `partialReach`
 * tolerances.
 */
export function creditFor(deviation: number, tolerance: number, partialReach: number): number {
  // A hair of room, so that a model on the limit is not failed by rounding.
  const excess = Math.abs(deviation) - tolerance * (1 + 1e-9) - 1e-9;
  if (excess <= 0) return 1;
  const reach = tolerance * (partialReach - 1);
  return excess < reach ? 0.5 * (1 - excess / reach) : 0;
}

function verdictOf(credit: number, measured: number | null): Verdict {
  if (measured === null) return 'missing';
  return credit === 1 ? 'right' : credit > 0 ? 'near' : 'wrong';
}

/** How far a deviation lies outside of its limits, 0 within; in doubt, the measured part has the benefit. */
function excessOf(deviation: number, target: Extract<Target, { nominal: number }>, uncertainty: number): number {
  const { lower, upper } = target.limits ?? { lower: -target.tolerance, upper: target.tolerance };
  return Math.max(0, deviation - upper - uncertainty, lower - uncertainty - deviation);
}

/** How far a value may be from what it should be, and how far it is. */
type Judged = Pick<ReportLine, 'nominal' | 'deviation' | 'tolerance' | 'credit' | 'verdict'> &
  Partial<Pick<ReportLine, 'limits' | 'nominalPoint' | 'measuredPoint'>>;

/** Judges a distance that is itself the deviation. */
function judgedByDistance(target: Target, check: CheckMeasurement, policy: ScoringPolicy): Judged {
  const tolerance = 'tolerance' in target ? target.tolerance : 0;
  const { measured: deviation, uncertainty = 0 } = check;
  const credit =
    deviation === null ? 0 : creditFor(Math.max(0, deviation - uncertainty), tolerance, policy.partialReach);
  return {
    nominal: 0,
    deviation,
    tolerance,
    nominalPoint: 'nominalPoint' in target ? target.nominalPoint : null,
    measuredPoint: check.point ?? null,
    credit,
    verdict: verdictOf(credit, deviation),
  };
}

function judgedByValue(wanted: number, measured: number | null, fails: boolean): Judged {
  const isRight = measured === wanted && !fails;
  return {
    nominal: wanted,
    deviation: measured === null ? null : measured - wanted,
    tolerance: 0,
    credit: isRight ? 1 : 0,
    verdict: measured === null ? 'missing' : isRight ? 'right' : 'wrong',
  };
}

function judgedByTolerance(
  target: Extract<Target, { nominal: number }>,
  measured: number | null,
  uncertainty: number,
  policy: ScoringPolicy,
): Judged {
  const { nominal, tolerance, limits = null } = target;
  const deviation = measured === null ? null : measured - nominal;
  const excess = deviation === null ? null : excessOf(deviation, target, uncertainty);
  const credit = excess === null ? 0 : creditFor(excess > 0 ? excess + tolerance : 0, tolerance, policy.partialReach);
  return { limits, nominal, deviation, tolerance, credit, verdict: verdictOf(credit, measured) };
}

function lineOf(target: Target, check: CheckMeasurement, facts: JudgeFacts, policy: ScoringPolicy): ReportLine {
  const kind = kindOf(target.kind);
  const { judging, quantity } = kind;
  const learned = kind.afterwards?.(facts) ?? {};
  const measured = learned.measured === undefined ? check.measured : learned.measured;
  const uncertainty = check.uncertainty ?? 0;
  const judged =
    judging.by === 'distance'
      ? judgedByDistance(target, check, policy)
      : judging.by === 'value' || !('nominal' in target)
        ? judgedByValue(judging.by === 'value' ? judging.wanted : 1, measured, learned.fails === true)
        : judgedByTolerance(target, measured, uncertainty, policy);
  return {
    checkId: target.checkId,
    kind: target.kind,
    label: target.label,
    group: target.group,
    quantity,
    measured,
    uncertainty,
    reason: learned.reason ?? check.reason ?? null,
    limits: null,
    nominalPoint: null,
    measuredPoint: null,
    weight: target.weight,
    faceIds: check.faceIds,
    advice: null,
    followOn: false,
    override: null,
    ...judged,
  };
}

/** Whether a line has just the value that the mistakes of a diagnosis give it, without speaking of them itself. */
function follows({ checkId, measured, tolerance, uncertainty }: ReportLine, diagnosed: Diagnosed | null): boolean {
  if (diagnosed === null || !diagnosed.complete || diagnosed.roots.includes(checkId) || measured === null) return false;
  const expected = diagnosed.checks.find((check) => check.checkId === checkId)?.measured ?? null;
  return expected !== null && Math.abs(measured - expected) <= (tolerance ?? 0) + uncertainty;
}

/** What is known of an attempt beside what was measured. */
export interface Circumstances {
  /**
   * What a diagnosis found. Where it explains the part completely, what merely follows from its mistakes is told, and
   * credited where the policy counts a root cause once.
   */
  readonly diagnosed?: Diagnosed | null;
  /** The list of build steps. */
  readonly log?: BuildLog | null;
  /** What an instructor decided, by line. */
  readonly overrides?: ReadonlyMap<LineId, Override>;
  /** How long after the due time it came. */
  readonly lateMs?: number;
  /** How far the student was round the sheet; null where that does not count. */
  readonly round?: RoundAtHandIn | null;
  /** Parts of the other exercises of the course: one of them may have been handed in. */
  readonly others?: readonly KnownPart[];
}

/** What a measurement is scored with. */
export interface Grading extends Circumstances {
  /** What the student typed. */
  readonly typed: readonly TypedInput[];
  readonly policy: ScoringPolicy;
}

/**
 * Scores a measurement: one line a check, typed values, build rules, causes. Pure arithmetic on stored numbers, so that a
 * change of policy needs no kernel.
 */
export function gradeMeasurement(
  planned: Reference,
  measurement: Measurement,
  {
    typed: typedInputs,
    policy,
    diagnosed = null,
    log = null,
    overrides = new Map(),
    lateMs = 0,
    round = null,
    others = [],
  }: Grading,
): Report {
  const reference = withPolicy(planned, policy);
  const typed = judgeTyped(typedInputs, reference, measurement, policy.typedValueWeight);
  const typedMass = typed.find(({ name }) => name === 'mass')?.value ?? null;
  const { volumeMm3 } = measurement.estimate;
  const typedDensity = typedMass === null || volumeMm3 <= 0 ? null : (1000 * typedMass) / volumeMm3;
  const { bodies, closed, warnings } = measurement;
  const facts = { bodies, closed, warnings, typedDensityGPerCm3: typedDensity };
  const checks = new Map(measurement.checks.map((check) => [check.checkId, check]));
  const plain = reference.targets.flatMap((target) => {
    const check = checks.get(target.checkId);
    return check ? [lineOf(target, check, facts, policy)] : [];
  });
  const causes = findCauses({ reference, measurement, lines: plain, typed, others }, diagnosed);
  const lines = plain.map((line) => {
    if (line.verdict === 'right') return line;
    const followOn = follows(line, diagnosed);
    return {
      ...line,
      followOn,
      credit: followOn && policy.rootCauseOnce === true ? 1 : line.credit,
      advice: causes.find((cause) => cause.checkIds.includes(line.checkId))?.message ?? null,
    };
  });
  const rules = judgeRules(reference.rules, measurement, log).map((rule) => ({
    ...rule,
    weight: policy.ruleWeight ?? 0,
  }));
  const parts = withOverrides({ lines, typed, rules }, overrides);
  const circumstances = { oneClosedBody: measurement.bodies === 1 && measurement.closed, lateMs, round };
  return {
    ...totalOf(parts, policy, circumstances),
    scoreBeforeRelease: totalOf({ ...parts, lines: parts.lines.map(fullOrNothing) }, policy, circumstances).score,
    ...parts,
    causes,
    questions: questionsOf(log, measurement),
    frame: measurement.frame,
    unit: reference.unit,
    decimals: reference.decimals,
    declaredUnit: measurement.declaredUnit,
    format: measurement.format,
    massProperties: measurement.massProperties,
    overlay: null,
    missing: measurement.missing,
    extra: measurement.extra,
    warnings: measurement.warnings,
    withheld: false,
    detail: 'overlay',
  };
}
