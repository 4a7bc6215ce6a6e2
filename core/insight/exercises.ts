import { median } from './statistics.ts';

/** What one student did with an exercise, or with one stage of it. */
export interface OfStudent {
  readonly studentId: number;
  /** Scores of the measured attempts, the first one first. */
  readonly scores: readonly number[];
  readonly attemptsAllowed: number;
  /** Nothing can be handed in any more. */
  readonly isClosed: boolean;
  /** From the opening to the first hand-in. */
  readonly hoursToFirst: number | null;
}

export interface ExerciseFigures {
  /** Who handed in something that could be measured. */
  readonly students: number;
  readonly firstMedian: number | null;
  readonly lastMedian: number | null;
  readonly attemptsPerStudent: number | null;
  /** Who stopped short of full marks although an attempt was left, where nothing can be handed in any more. */
  readonly gaveUp: number;
  readonly hoursToFirstMedian: number | null;
}

const FULL = 100;

/** Students, each once, however many stages they did. */
const countOf = (all: readonly OfStudent[]): number => new Set(all.map(({ studentId }) => studentId)).size;

/** What a class did with an exercise. */
export function exerciseFigures(all: readonly OfStudent[]): ExerciseFigures {
  const begun = all.filter(({ scores }) => scores.length > 0);
  const attempts = begun.reduce((sum, { scores }) => sum + scores.length, 0);
  const students = countOf(begun);
  return {
    students,
    firstMedian: median(begun.flatMap(({ scores }) => scores[0] ?? [])),
    lastMedian: median(begun.flatMap(({ scores }) => scores.at(-1) ?? [])),
    attemptsPerStudent: students === 0 ? null : attempts / students,
    gaveUp: countOf(
      begun.filter(
        ({ scores, attemptsAllowed, isClosed }) =>
          isClosed && scores.length < attemptsAllowed && Math.max(...scores) < FULL,
      ),
    ),
    hoursToFirstMedian: median(begun.flatMap(({ hoursToFirst }) => hoursToFirst ?? [])),
  };
}
