import type { BuildLog } from '#core/buildlog';
import type { CheckMeasurement, Measurement, Reference, Target } from '#core/check';

import { findCauses } from './causes.ts';
import type { KnownPart } from './known.ts';
import { withPolicy, type ScoringPolicy } from './policy.ts';
import type { Override, Report, ReportLine, Verdict } from './report.ts';
import { judgeRules } from './rules.ts';
import { questionsOf } from './questions.ts';
import type { Story } from './story.ts';
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

function quantityOfTarget(target: Target): ReportLine['quantity'] {
  switch (target.kind) {
    case 'volume':
    case 'area':
    case 'mass':
      return target.kind;
    case 'center-of-mass':
      return 'point';
    case 'angle':
    case 'countersink-angle':
      return 'angle';
    case 'material':
      return 'density';
    case 'principal-moments':
      return 'percent';
    case 'hole-count':
    case 'feature-count':
    case 'single-body':
    case 'no-needless-edges':
      return 'count';
    case 'presence':
    case 'symmetric':
    case 'unit':
    case 'frame':
      return 'yes-no';
    default:
      return 'length';
  }
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

function lineOf(
  target: Target,
  check: CheckMeasurement,
  measurement: Measurement,
  policy: ScoringPolicy,
  typedDensity: number | null,
): ReportLine {
  const uncertainty = check.uncertainty ?? 0;
  const base = {
    checkId: target.checkId,
    kind: target.kind,
    label: target.label,
    group: target.group,
    quantity: quantityOfTarget(target),
    measured: check.measured,
    uncertainty,
    reason: check.reason ?? null,
    limits: null,
    nominalPoint: null,
    measuredPoint: null,
    weight: target.weight,
    faceIds: check.faceIds,
    advice: null,
    followOn: false,
    override: null,
  };
  if (target.kind === 'single-body') {
    const credit = measurement.bodies === 1 && measurement.closed ? 1 : 0;
    const deviation = measurement.bodies - 1;
    return { ...base, nominal: 1, deviation, tolerance: 0, credit, verdict: credit === 1 ? 'right' : 'wrong' };
  }
  if (target.kind === 'center-of-mass') {
    const deviation = check.measured;
    const credit =
      deviation === null ? 0 : creditFor(Math.max(0, deviation - uncertainty), target.tolerance, policy.partialReach);
    return {
      ...base,
      nominal: 0,
      deviation,
      tolerance: target.tolerance,
      nominalPoint: target.nominalPoint,
      measuredPoint: check.point ?? null,
      credit,
      verdict: verdictOf(credit, check.measured),
    };
  }
  if (!('nominal' in target)) {
    const wanted = target.kind === 'no-needless-edges' ? 0 : 1;
    const right = check.measured === wanted;
    const deviation = check.measured === null ? null : check.measured - wanted;
    const verdict = check.measured === null ? 'missing' : right ? 'right' : 'wrong';
    return { ...base, nominal: wanted, deviation, tolerance: 0, credit: right ? 1 : 0, verdict };
  }
  const measured = target.kind === 'material' ? typedDensity : check.measured;
  const deviation = measured === null ? null : measured - target.nominal;
  const credit =
    deviation === null
      ? 0
      : creditFor(
          excessOf(deviation, target, uncertainty) +
            (excessOf(deviation, target, uncertainty) > 0 ? target.tolerance : 0),
          target.tolerance,
          policy.partialReach,
        );
  return {
    ...base,
    measured,
    reason: target.kind === 'material' && measured === null ? 'No mass was typed.' : base.reason,
    limits: target.limits ?? null,
    nominal: target.nominal,
    deviation,
    tolerance: target.tolerance,
    credit,
    verdict: verdictOf(credit, measured),
  };
}

/** Whether a line has just the value that the mistakes of a story give it, without speaking of them itself. */
function follows({ checkId, measured, tolerance, uncertainty }: ReportLine, story: Story | null): boolean {
  if (story === null || !story.complete || story.roots.includes(checkId) || measured === null) return false;
  const expected = story.checks.find((check) => check.checkId === checkId)?.measured ?? null;
  return expected !== null && Math.abs(measured - expected) <= (tolerance ?? 0) + uncertainty;
}

/** What is known of an attempt beside what was measured. */
export interface Circumstances {
  /**
   * What a diagnosis found. Where it explains the part completely, what merely follows from its mistakes is told, and
   * credited where the policy counts a root cause once.
   */
  readonly story?: Story | null;
  /** The list of build steps. */
  readonly log?: BuildLog | null;
  /** What an instructor decided, by line. */
  readonly overrides?: ReadonlyMap<LineId, Override>;
  readonly daysLate?: number;
  /** Parts of the other exercises of the course: one of them may have been handed in. */
  readonly others?: readonly KnownPart[];
}

/**
 * Scores a measurement: one line a check, typed values, build rules, causes. Pure arithmetic on stored numbers, so that a
 * change of policy needs no kernel.
 */
export function gradeMeasurement(
  planned: Reference,
  measurement: Measurement,
  typedInputs: readonly TypedInput[],
  policy: ScoringPolicy,
  { story = null, log = null, overrides = new Map(), daysLate = 0, others = [] }: Circumstances = {},
): Report {
  const reference = withPolicy(planned, policy);
  const typed = judgeTyped(typedInputs, reference, measurement, policy.typedValueWeight);
  const typedMass = typed.find(({ name }) => name === 'mass')?.value ?? null;
  const { volumeMm3 } = measurement.estimate;
  const typedDensity = typedMass === null || volumeMm3 <= 0 ? null : (1000 * typedMass) / volumeMm3;
  const plain = reference.targets.flatMap((target) => {
    const check = measurement.checks.find((candidate) => candidate.checkId === target.checkId);
    return check ? [lineOf(target, check, measurement, policy, typedDensity)] : [];
  });
  const causes = findCauses({ reference, measurement, lines: plain, typed, others }, story);
  const lines = plain.map((line) => {
    if (line.verdict === 'right') return line;
    const followOn = follows(line, story);
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
  const oneClosedBody = measurement.bodies === 1 && measurement.closed;
  return {
    ...totalOf(parts, policy, { oneClosedBody, daysLate }),
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
