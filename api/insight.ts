/** What a class says together: by week, by exercise, by check, by variant, by mistake. */
import * as v from 'valibot';

import { CauseKindSchema } from '#core/cause';

export const InsightSchema = v.object({
  course: v.string(),
  sections: v.array(v.object({ id: v.number(), name: v.string() })),
  /** What it is about; null for all sections together, which very large courses have not. */
  sectionId: v.nullable(v.number()),
  /** Whether all sections can be looked at together. */
  hasAll: v.boolean(),
  weeks: v.array(
    v.object({
      from: v.string(),
      attempts: v.number(),
      students: v.number(),
      medianScore: v.nullable(v.number()),
    }),
  ),
  exercises: v.array(
    v.object({
      exerciseId: v.number(),
      number: v.string(),
      title: v.string(),
      students: v.number(),
      firstMedian: v.nullable(v.number()),
      lastMedian: v.nullable(v.number()),
      attemptsPerStudent: v.nullable(v.number()),
      gaveUp: v.number(),
      hoursToFirstMedian: v.nullable(v.number()),
    }),
  ),
  /** What went wrong in all attempts, what most students made first. */
  mistakes: v.array(
    v.object({
      kind: CauseKindSchema,
      name: v.string(),
      students: v.number(),
      /** The newest first. */
      attempts: v.array(v.object({ attemptId: v.number(), exercise: v.string(), student: v.string() })),
    }),
  ),
});
export type Insight = v.InferOutput<typeof InsightSchema>;

/** The checks and variants of one exercise, on first attempts. */
export const ExerciseInsightSchema = v.object({
  checks: v.array(
    v.object({
      checkId: v.string(),
      label: v.string(),
      attempts: v.number(),
      facility: v.number(),
      discrimination: v.nullable(v.number()),
      /** In other courses with an exercise of this number, as those of other years; null where there is none. */
      elsewhere: v.nullable(v.object({ attempts: v.number(), facility: v.number() })),
      /** Some of the attempts on which it was not right. */
      wrong: v.array(v.number()),
    }),
  ),
  variants: v.array(v.object({ name: v.string(), students: v.number(), firstMedian: v.nullable(v.number()) })),
});
export type ExerciseInsight = v.InferOutput<typeof ExerciseInsightSchema>;

/** The mistakes of a week for the wall of a classroom: no names, and what one report said. */
export const WallSchema = v.object({
  course: v.string(),
  school: v.string(),
  from: v.string(),
  mistakes: v.array(
    v.object({
      kind: CauseKindSchema,
      name: v.string(),
      students: v.number(),
      exerciseId: v.number(),
      exercise: v.string(),
      example: v.string(),
    }),
  ),
});
export type Wall = v.InferOutput<typeof WallSchema>;
