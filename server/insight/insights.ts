/** What the attempts of a course say together, for those who teach it. */
import { subDays } from 'date-fns';

import type { ExerciseInsight, Insight, Wall } from '#api';
import { CauseKindSchema, causeName, type CauseKind } from '#core/cause';
import { groupBy, grouped } from '#core/group';
import { checkFigures, exerciseFigures, median, weeksOf, type OfStudent } from '#core/insight';
import { dayIn } from '#core/time';
import { documentOf, endOf, extendedBy } from '#server/assignment';
import type { Db } from '#server/db';
import * as v from 'valibot';

import {
  insightStatements,
  type Asked,
  type AssignmentFact,
  type AttemptFact,
  type ExtensionFact,
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

const isKind = (fact: CauseFact): fact is CauseFact & { readonly kind: CauseKind } => v.is(CauseKindSchema, fact.kind);

const studentsOf = (facts: readonly CauseFact[]): number => new Set(facts.map(({ studentId }) => studentId)).size;

/** Kinds of mistakes with what was made of each, those of most students first. */
const byKind = (facts: readonly CauseFact[]) =>
  [...groupBy(facts.filter(isKind), ({ kind }) => kind)]
    .map(([kind, own]) => ({ kind, own, students: studentsOf(own) }))
    .sort((a, b) => b.students - a.students || b.own.length - a.own.length);

const placeOf = (assignmentId: number, studentId: number): string => `${String(assignmentId)} ${String(studentId)}`;

/** What was done in a course, and given beyond the dates of all. */
interface Done {
  readonly attempts: ReadonlyMap<number, readonly AttemptFact[]>;
  readonly extensions: ReadonlyMap<string, ExtensionFact>;
  readonly now: string;
}

/** What each student did with one exercise, stage by stage, in each section that has it. */
function studentsAt(assignments: readonly AssignmentFact[], { attempts, extensions, now }: Done): readonly OfStudent[] {
  return assignments.flatMap((assignment) =>
    grouped(
      attempts.get(assignment.assignmentId) ?? [],
      ({ studentId, stage }) => `${String(studentId)} ${String(stage)}`,
    ).map((own): OfStudent => {
      const [{ studentId, stage, handedInAt }] = own;
      const extension = extensions.get(placeOf(assignment.assignmentId, studentId));
      const { attemptsAllowed, ...dates } = extendedBy(assignment, extension);
      return {
        studentId,
        scores: own.map(({ score }) => score),
        attemptsAllowed,
        // Whoever is excused need not go on.
        isClosed: extension?.standing !== 'excused' && endOf(dates) < now,
        hoursToFirst: stage === 1 ? Math.max(0, hoursBetween(assignment.opensAt, handedInAt)) : null,
      };
    }),
  );
}

type NameOfVariant = (row: VariantFact) => string;

/** The first scores of those who have each variant; nothing where all have the same part. */
const variantFigures = (rows: readonly VariantFact[], nameOf: NameOfVariant): ExerciseInsight['variants'] =>
  [...groupBy(rows, nameOf)]
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
      const done: Done = {
        attempts: groupBy(attempts, ({ assignmentId }) => assignmentId),
        extensions: new Map(of.extensions.all(asked).map((one) => [placeOf(one.assignmentId, one.studentId), one])),
        now: now().toISOString(),
      };
      return {
        course: course.title,
        sections: sections.map(({ id, name }) => ({ id, name })),
        sectionId: asked.sectionId,
        hasAll: !isLarge(sections),
        weeks: [...weeksOf(attempts, course.timeZone)],
        exercises: grouped(of.assignments.all(asked), ({ exerciseId }) => exerciseId).map((issued) => {
          const [{ exerciseId, number, title }] = issued;
          return { exerciseId, number, title, ...exerciseFigures(studentsAt(issued, done)) };
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
      const wrong = groupBy(of.wrong.all(list), ({ checkId }) => checkId);
      const others = { attempts: JSON.stringify(of.firstsElsewhere.all({ courseId, exerciseId, userId })) };
      const elsewhere = new Map(
        of.checks
          .all(others)
          .map(({ checkId, ...sums }) => [checkId, { attempts: sums.count, facility: checkFigures(sums).facility }]),
      );
      return {
        checks: of.checks
          .all(list)
          .map(({ checkId, label, ...sums }) => ({
            checkId,
            label,
            attempts: sums.count,
            ...checkFigures(sums),
            elsewhere: elsewhere.get(checkId) ?? null,
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
      const asked = { courseId, sectionId: null, since };
      const commonest = of.commonest.all({ ...asked, most: WALL_MISTAKES });
      const examples = of.examples.all({ ...asked, kinds: JSON.stringify(commonest.map(({ kind }) => kind)) });
      return {
        course: course.title,
        school: course.school,
        from: dayIn(since, course.timeZone),
        mistakes: commonest.flatMap(({ kind, students }) => {
          const example = examples.find((one) => one.kind === kind);
          if (example === undefined || !v.is(CauseKindSchema, kind)) return [];
          const { exerciseId, exercise, message } = example;
          return { kind, name: causeName(kind), students, exerciseId, exercise, example: message };
        }),
      };
    },
  };
}
