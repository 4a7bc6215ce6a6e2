/** From measured values to score, causes and report. */
export { gradeMeasurement, creditFor } from './score.ts';
export { PolicySchema, SCORING_PRESETS, withPolicy, type ScoringPolicy } from './policy.ts';
export type { Story } from './story.ts';
export { judgeRules, ruleText } from './rules.ts';
export { checkTyped, quantityOf, TYPED_LABELS, TypedInputSchema, type TypedInput } from './typed.ts';
export {
  CauseSchema,
  ReportLineSchema,
  ReportSchema,
  TypedLineSchema,
  VerdictSchema,
  withholdAnswers,
  type Cause,
  type Report,
  type ReportLine,
  type RuleLine,
  type TypedLine,
  type Verdict,
} from './report.ts';
