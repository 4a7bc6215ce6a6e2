/** What a class says together. */
import { ExerciseInsightSchema, InsightSchema, WallSchema, type ExerciseInsight, type Insight, type Wall } from '#api';

import { api } from '#web/server';

interface Asked {
  readonly courseId: number;
  readonly sectionId: number | null;
}
const ofSection = ({ sectionId }: Asked): string => (sectionId === null ? '' : `?section=${String(sectionId)}`);

export const { useInsightQuery, useExerciseInsightQuery, useWallQuery } = api.injectEndpoints({
  endpoints: (build) => ({
    insight: build.query<Insight, Asked>({
      query: (asked) => `courses/${String(asked.courseId)}/insight${ofSection(asked)}`,
      responseSchema: InsightSchema,
      providesTags: ['assignments'],
    }),
    exerciseInsight: build.query<ExerciseInsight, Asked & { readonly exerciseId: number }>({
      query: (asked) => `courses/${String(asked.courseId)}/insight/${String(asked.exerciseId)}${ofSection(asked)}`,
      responseSchema: ExerciseInsightSchema,
      providesTags: ['assignments'],
    }),
    wall: build.query<Wall, number>({
      query: (courseId) => `courses/${String(courseId)}/wall`,
      responseSchema: WallSchema,
      providesTags: ['assignments'],
    }),
  }),
});
