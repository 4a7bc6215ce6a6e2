/** What the attempts of a course say together, for those who teach it. */
import { subDays } from 'date-fns';

import type { ExerciseInsight, Insight, Wall } from '#api';
import { CauseKindSchema, causeName, type CauseKind } from '#core/cause';
import { checkFigures, exerciseFigures, median, weeksOf, type OfStudent } from '#core/insight';
import { dayIn } from '#core/time';
import { documentOf } from '#server/assignment';
import type { Db } from '#server/db';
import * as v from 'valibot';

import {
  insightStatements,
  type Asked,
  type AssignmentFact,
  type AttemptFact,
  type CauseFact,
  type VariantFact,
} from './rows.ts';

export interface Insights {
  /** The course as a whole, or one of its sections; null for whoever does not teach it. */
  of(courseId: number, userId: number, sectionId: number | null): Insight | null;
  ofExercise(courseId: number, userId: number, exerciseId: number, sectionId: number | null): ExerciseInsight | null;
  /** The commonest mistakes of the last seven days. */
  wall(courseId: number, userId: number): Wall | null;
}

const MOST_ATTEMPTS = 60;
const WALL_DAYS = 7;
const WALL_MISTAKES = 5;
const HOUR_MS = 3_600_000;

/** More students than this are not looked at together: the server would answer nobody meanwhile. */
const MOST_TOGETHER = 1200;
const isLarge = (sections: readonly { readonly students: number }[]): boolean =>
  sections.reduce((sum, { students }) => sum + students, 0) > MOST_TOGETHER;

const hoursBetween = (from: string, to: string): number => (Date.parse(to) - Date.parse(from)) / HOUR_MS;

function grouped<T, K>(rows: readonly T[], keyOf: (row: T) => K): ReadonlyMap<K, readonly T[]> {
  const groups = new Map<K, T[]>();
  for (const row of rows) {
    const group = groups.get(keyOf(row));
    if (group === undefined) groups.set(keyOf(row), [row]);
    else group.push(row);
  }
  return groups;
}

const isKind = (fact: CauseFact): fact is CauseFact & { readonly kind: CauseKind } => v.is(CauseKindSchema, fact.kind);

const studentsOf = (facts: readonly CauseFact[]): number => new Set(facts.map(({ studentId }) => studentId)).size;

/** Kinds of mistakes with what was made of each, those of most students first. */
const byKind = (facts: readonly CauseFact[]) =>
  [...grouped(facts.filter(isKind), ({ kind }) => kind)]
    .map(([kind, own]) => ({ kind, own, students: studentsOf(own) }))
    .sort((a, b) => b.students - a.students || b.own.length - a.own.length);

/** What each student did with one exercise, in each section that has it. */
function studentsAt(
  assignments: readonly AssignmentFact[],
  attempts: ReadonlyMap<number, readonly AttemptFact[]>,
  now: string,
): readonly OfStudent[] {
  return assignments.flatMap(({ assignmentId, opensAt, endsAt, attemptsAllowed }) =>
    [
      ...grouped(attempts.get(assignmentId) ?? [], ({ studentId, stage }) => `${String(studentId)} ${String(stage)}`),
    ].map(([, own]) => ({
      scores: own.map(({ score }) => score),
      attemptsAllowed,
      isClosed: endsAt < now,
      hoursToFirst: own[0]?.stage === 1 ? Math.max(0, hoursBetween(opensAt, own[0].handedInAt)) : null,
    })),
  );
}

type NameOfVariant = (row: VariantFact) => string;

/** The first scores of those who have each variant; nothing where all have the same part. */
const variantFigures = (rows: readonly VariantFact[], nameOf: NameOfVariant): ExerciseInsight['variants'] =>
  [...grouped(rows, nameOf)]
    .map(([name, own]) => ({ name, students: own.length, firstMedian: median(own.map(({ score }) => score)) }))
    .sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));

export function createInsights(db: Db, now: () => Date): Insights {
  const of = insightStatements(db);
  const nameOf: NameOfVariant = ({ revisionId, variant }) => {
    const revision = of.revision.get(revisionId);
    const named = revision === undefined ? undefined : documentOf(revision).variants[variant];
    return named?.name ?? String(variant + 1);
  };
  /** Very large courses are looked at a section at a time. */
  function askedOf(courseId: number, sectionId: number | null): Asked {
    const sections = of.sections.all(courseId);
    return { courseId, sectionId: sectionId ?? (isLarge(sections) ? (sections[0]?.id ?? null) : null) };
  }
  return {
    of(courseId, userId, sectionId) {
      const course = of.course.get(courseId, userId);
      if (course === undefined) return null;
      const sections = of.sections.all(courseId);
      const asked = askedOf(courseId, sectionId);
      const attempts = of.attempts.all(asked);
      const byAssignment = grouped(attempts, ({ assignmentId }) => assignmentId);
      const time = now().toISOString();
      return {
        course: course.title,
        sections: sections.map(({ id, name }) => ({ id, name })),
        sectionId: asked.sectionId,
        hasAll: !isLarge(sections),
        weeks: [...weeksOf(attempts, course.timeZone)],
        exercises: [...grouped(of.assignments.all(asked), ({ exerciseId }) => exerciseId)].flatMap(([, issued]) => {
          const [first] = issued;
          if (first === undefined) return [];
          const { exerciseId, number, title } = first;
          return { exerciseId, number, title, ...exerciseFigures(studentsAt(issued, byAssignment, time)) };
        }),
        mistakes: byKind(of.causes.all({ ...asked, since: '' })).map(({ kind, own, students }) => ({
          kind,
          name: causeName(kind),
          students,
          attempts: own
            .slice(0, MOST_ATTEMPTS)
            .map(({ attemptId, exercise, student }) => ({ attemptId, exercise, student })),
        })),
      };
    },
    ofExercise(courseId, userId, exerciseId, sectionId) {
      if (of.course.get(courseId, userId) === undefined) return null;
      const list = { attempts: JSON.stringify(of.firsts.all({ ...askedOf(courseId, sectionId), exerciseId })) };
      const wrong = grouped(of.wrong.all(list), ({ checkId }) => checkId);
      return {
        checks: of.checks
          .all(list)
          .map(({ checkId, label, ...sums }) => ({
            checkId,
            label,
            attempts: sums.count,
            ...checkFigures(sums),
            wrong: (wrong.get(checkId) ?? []).map(({ attemptId }) => attemptId),
          }))
          .sort((a, b) => a.facility - b.facility || a.label.localeCompare(b.label)),
        variants: variantFigures(of.variants.all(list), nameOf),
      };
    },
    wall(courseId, userId) {
      const course = of.course.get(courseId, userId);
      if (course === undefined) return null;
      const since = subDays(now(), WALL_DAYS).toISOString();
      const mistakes = byKind(of.causes.all({ courseId, sectionId: null, since }));
      return {
        course: course.title,
        school: course.school,
        from: dayIn(since, course.timeZone),
        mistakes: mistakes.slice(0, WALL_MISTAKES).flatMap(({ kind, own, students }) => {
          // The part on which most of them made it.
          const [most] = [...grouped(own, ({ exerciseId }) => exerciseId).values()].sort(
            (a, b) => studentsOf(b) - studentsOf(a),
          );
          const example = most?.[0];
          if (example === undefined) return [];
          const { exerciseId, exercise, message } = example;
          return { kind, name: causeName(kind), students, exerciseId, exercise, example: message };
        }),
      };
    },
  };
}
