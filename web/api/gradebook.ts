/** The grades of a course. */
import { type GradebookAnswer, GradebookSchema } from '#api';

import { api } from '#web/server';

export const { useGradebookQuery } = api.injectEndpoints({
  endpoints: (build) => ({
    gradebook: build.query<GradebookAnswer, number>({
      query: (courseId) => `courses/${String(courseId)}/gradebook`,
      responseSchema: GradebookSchema,
      providesTags: ['assignments', 'people'],
    }),
  }),
});
