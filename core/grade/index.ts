/** From measured values to score, causes and report. */
export { gradeMeasurement, creditFor, type Circumstances } from './score.ts';
export { ROUND_POINTS, type RoundAtHandIn } from './round.ts';
export { lateInWords, lateMsOf, LateRuleSchema, type LateRule } from './late.ts';
export { countingScore, ruleLineId, typedLineId, type LineId } from './total.ts';
export { degreeFor, FeedbackSchema, reportFor, tells, toldScore, type AnswerPhase, type Feedback } from './feedback.ts';
export { GROUP_TITLES, quantityText, quantityUnit, valueText } from './values.ts';
export { fillRemark, REMARK_FIELDS, type RemarkContext } from './remark.ts';
export { policyIn, PolicySchema, SCORING_PRESETS, withPolicy, type ScoringPolicy } from './policy.ts';
export type { KnownPart } from './known.ts';
export type { Diagnosed } from './diagnosed.ts';
export { judgeRules, ruleText } from './rules.ts';
export { checkTyped, quantityOf, TYPED_LABELS, typedOfFile, TypedInputSchema, type TypedInput } from './typed.ts';
export {
  CauseSchema,
  FEEDBACK_DEGREES,
  FeedbackDegreeSchema,
  OverrideSchema,
  ReportLineSchema,
  ReportSchema,
  TypedLineSchema,
  VerdictSchema,
  type Cause,
  type FeedbackDegree,
  type Override,
  type Report,
  type ReportLine,
  type RuleLine,
  type TypedLine,
  type Verdict,
} from './report.ts';
export { changesSince, type Since } from './since.ts';
