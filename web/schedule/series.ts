/** What is planned: which exercises in which order, by which rhythm, and what was set otherwise by hand. */
import { tz } from '@date-fns/tz';
import { format } from 'date-fns';

import { USUAL_AIDS, type Aids, type IssueInput } from '#api';
import { FEEDBACK_DEGREES, type FeedbackDegree } from '#core/grade';
import { datesOf, type Dates, type DaySpan, type Rhythm, type Weekday } from '#core/schedule';
import { succeed, type Result } from '#core/problem';
import { feedbackOf } from '#web/telling';
import { zoneOfTimes } from '#web/ui';

/** How much help comes with an exercise: in a series it passes from the instructor to the student. */
export type Help = 'together' | 'usual' | 'alone';
export const HELP_WORDS: Readonly<Record<Help, string>> = {
  together: 'Worked together',
  usual: 'With help',
  alone: 'Alone',
};
const AIDS: Readonly<Record<Help, Aids>> = {
  together: { ...USUAL_AIDS, worked: 'shown' },
  usual: USUAL_AIDS,
  alone: { building: 'none', plan: 'none', round: 'none', sizes: 'none', reading: 'none', worked: 'none', time: 'own' },
};

export interface Plan {
  readonly firstDay: string;
  readonly weekdays: readonly Weekday[];
  readonly opensTime: string;
  readonly dueDays: string;
  readonly dueTime: string;
  readonly holidays: readonly DaySpan[];
  readonly attemptsAllowed: string;
  readonly answers: IssueInput['answers'];
  readonly release: NonNullable<IssueInput['release']>;
  readonly first: FeedbackDegree;
  readonly last: FeedbackDegree;
  readonly openReason: string;
  readonly sectionIds: readonly number[];
  /** Exercises in the order of the term. */
  readonly series: readonly number[];
  /** Help other than the usual, by exercise. */
  readonly help: ReadonlyMap<number, Help>;
  /** Dates that were typed, by exercise. */
  readonly typed: ReadonlyMap<number, Dates>;
}

export const emptyPlan = (): Plan => ({
  firstDay: format(new Date(), 'yyyy-MM-dd', { in: tz(zoneOfTimes()) }),
  weekdays: [],
  opensTime: '09:00',
  dueDays: '7',
  dueTime: '18:00',
  holidays: [],
  attemptsAllowed: '3',
  answers: 'after-due',
  release: 'automatic',
  first: 'causes',
  last: FEEDBACK_DEGREES.at(-1) ?? 'overlay',
  openReason: '',
  sectionIds: [],
  series: [],
  help: new Map(),
  typed: new Map(),
});

const rhythmOf = ({ firstDay, weekdays, opensTime, dueDays, dueTime, holidays }: Plan): Rhythm => ({
  firstDay,
  weekdays,
  opensTime,
  dueDays: Math.max(0, Math.min(365, Math.round(Number(dueDays)) || 0)),
  dueTime,
  holidays,
  zone: zoneOfTimes(),
});

/** The dates of each exercise of the series: typed ones, and computed ones for the others. */
export function datesOfSeries(plan: Plan): Result<readonly Dates[]> {
  const computed = datesOf(rhythmOf(plan), plan.series.length);
  if (!computed.ok) return computed;
  return succeed(plan.series.flatMap((exerciseId, i) => plan.typed.get(exerciseId) ?? computed.value[i] ?? []));
}

/** What is sent: each exercise to all chosen sections at once. */
export function issuesOf(plan: Plan, dates: readonly Dates[]): IssueInput[] {
  const [sectionId, ...others] = plan.sectionIds;
  if (sectionId === undefined) return [];
  const attempts = Number(plan.attemptsAllowed);
  return plan.series.flatMap((exerciseId, i) => {
    const own = dates[i];
    return own === undefined
      ? []
      : {
          exerciseId,
          sectionId,
          ...own,
          alsoTo: others.map((id) => ({ sectionId: id, ...own })),
          attemptsAllowed: attempts,
          answers: plan.answers,
          release: plan.release,
          feedback: feedbackOf(plan.first, plan.last, attempts),
          openReason: plan.openReason,
          aids: AIDS[plan.help.get(exerciseId) ?? 'usual'],
        };
  });
}

/** An exercise of a series moved by one place; as it is at either end. */
export function movedBy(series: readonly number[], exerciseId: number, places: -1 | 1): readonly number[] {
  const at = series.indexOf(exerciseId);
  const other = series[at + places];
  if (at < 0 || other === undefined) return series;
  return series.map((one, i) => (i === at ? other : i === at + places ? exerciseId : one));
}
