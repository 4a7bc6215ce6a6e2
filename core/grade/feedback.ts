import * as v from 'valibot';

import { kindOf } from '#core/check';
import { AS_MODELED } from '#core/vector';

import {
  FEEDBACK_DEGREES,
  FeedbackDegreeSchema,
  type FeedbackDegree,
  type Report,
  type ReportLine,
  type TypedLine,
} from './report.ts';

/**
 * How much the report of each attempt tells, the first one first. The last entry is for the last attempt that a student
 * has, however many they are: where attempts are added, those between are told what the entry before it says.
 */
export const FeedbackSchema = v.pipe(v.array(FeedbackDegreeSchema), v.minLength(1), v.maxLength(20));
export type Feedback = readonly FeedbackDegree[];

/** Which attempt a report is about, from 1, and of how many. */
export interface AttemptPlace {
  readonly number: number;
  readonly allowed: number;
}

/** What the report of an attempt tells; when nothing more can be handed in, all of them tell as much as the last one. */
export function degreeFor(feedback: Feedback, { number, allowed }: AttemptPlace, closed: boolean): FeedbackDegree {
  const last = feedback.at(-1) ?? 'overlay';
  if (closed || number >= allowed) return last;
  return feedback[Math.min(number, feedback.length - 1) - 1] ?? last;
}

/** Whether a degree of feedback tells at least as much as another. */
export const tells = (degree: FeedbackDegree, what: FeedbackDegree): boolean =>
  FEEDBACK_DEGREES.indexOf(degree) >= FEEDBACK_DEGREES.indexOf(what);

/** How far an assignment is: something can still be handed in, nothing can any more, the answers are told. */
export type AnswerPhase = 'open' | 'ended' | 'released';

const NOTHING_SAID: Report['frame'] = { kind: 'as-modeled', placement: AS_MODELED, agreement: 1, certainty: 1 };

/**
 * The report as a student may see it: what its degree does not tell is left out, and so are, until the answers are
 * released, the values that are not on the sheet and what would give them away. As long as something can be handed in, that
 * is the exact score too: how many points a wrong volume is worth says how wrong it is.
 */
export function reportFor(report: Report, degree: FeedbackDegree, phase: AnswerPhase): Report {
  const allowed = phase === 'released' ? report : withholdAnswers(report, phase);
  const told = {
    ...allowed,
    detail: degree,
    overlay: tells(degree, 'overlay') ? allowed.overlay : null,
  };
  if (tells(degree, 'causes')) return told;
  const withoutCauses = {
    ...told,
    causes: [],
    missing: [],
    extra: [],
    lines: told.lines.map((line) => ({ ...line, advice: null, followOn: false })),
  };
  if (tells(degree, 'numbers')) return withoutCauses;
  if (tells(degree, 'checks'))
    return {
      ...withoutCauses,
      lines: withoutCauses.lines.map(verdictOnly),
      typed: told.typed.map(matchOnly),
    };
  return {
    ...withoutCauses,
    cap: null,
    lines: [],
    typed: [],
    rules: [],
    questions: [],
    frame: NOTHING_SAID,
  };
}

/** Right or not; how near it is would say by how much. */
const verdictOnly = (line: ReportLine): ReportLine => ({
  ...line,
  measured: null,
  deviation: null,
  tolerance: null,
  limits: null,
  nominal: null,
  nominalPoint: null,
  measuredPoint: null,
  uncertainty: 0,
  verdict: line.verdict === 'near' ? 'wrong' : line.verdict,
  credit: null,
});

const matchOnly = (line: TypedLine): TypedLine => ({ ...line, reference: null });

/** Nominal values that are not on the sheet, and what would give them away, are left out. */
function withholdAnswers(report: Report, phase: AnswerPhase): Report {
  return {
    ...report,
    score: toldScore(report, phase),
    withheld: true,
    // How well the whole fits, every face of the reference counted.
    frame: { ...report.frame, agreement: 1, certainty: 1 },
    overlay: null,
    lines: report.lines.map((line) =>
      isAnswer(line)
        ? {
            ...line,
            nominal: null,
            deviation: null,
            tolerance: null,
            limits: null,
            nominalPoint: null,
            credit: null,
            verdict: line.verdict === 'near' ? 'wrong' : line.verdict,
            ...hiddenDistance(line),
          }
        : line,
    ),
    typed: report.typed.map(matchOnly),
  };
}

/** The score of an attempt as its student is told it. */
export const toldScore = (
  { score, scoreBeforeRelease }: Pick<Report, 'score' | 'scoreBeforeRelease'>,
  phase: AnswerPhase,
): number => (phase === 'open' ? scoreBeforeRelease : score);

/** A line as it counts in the score that is told while its answer is withheld. */
export const fullOrNothing = (line: ReportLine): ReportLine =>
  isAnswer(line) && line.verdict === 'near' && line.credit !== 1 ? { ...line, credit: 0 } : line;

/** Whatever group it is shown in: what a check of this kind wants is not on the sheet. */
const isAnswer = ({ kind }: ReportLine): boolean => kindOf(kind).group === 'properties';

/** The "measured" value of the center of mass is its distance from the answer; the point itself is the student's own. */
const hiddenDistance = (line: ReportLine): Partial<ReportLine> =>
  line.quantity === 'point' || line.quantity === 'percent' ? { measured: null } : {};
