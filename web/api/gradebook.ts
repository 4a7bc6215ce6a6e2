/** The grades of a course. */
import { type GradebookAnswer, GradebookSchema, type StudentRecord, StudentRecordSchema } from '#api';

import { api } from '#web/server';

export const { useGradebookQuery, useStudentRecordQuery } = api.injectEndpoints({
  endpoints: (build) => ({
    gradebook: build.query<GradebookAnswer, number>({
      query: (courseId) => `courses/${String(courseId)}/gradebook`,
      responseSchema: GradebookSchema,
      providesTags: ['assignments', 'people'],
    }),
    studentRecord: build.query<StudentRecord, { readonly courseId: number; readonly studentId: number }>({
      query: ({ courseId, studentId }) => `courses/${String(courseId)}/students/${String(studentId)}`,
      responseSchema: StudentRecordSchema,
      providesTags: ['assignments', 'people'],
    }),
  }),
});
