/** The grades of a course. */
import {
  type GradebookAnswer,
  GradebookSchema,
  GradingSchema,
  type GradingAnswer,
  type GradingDraft,
  ResultsReadinessSchema,
  type ResultsReadiness,
  type StudentRecord,
  StudentRecordSchema,
} from '#api';

import { api } from '#web/server';

export const {
  useGradebookQuery,
  useEraseStudentMutation,
  useGradingQuery,
  useStudentRecordQuery,
  useSetGradingMutation,
  useAddNoteMutation,
  useResultsReadinessQuery,
  useRemoveNoteMutation,
} = api.injectEndpoints({
  endpoints: (build) => ({
    gradebook: build.query<GradebookAnswer, { readonly courseId: number; readonly sectionId: number | null }>({
      query: ({ courseId, sectionId }) =>
        `courses/${String(courseId)}/gradebook${sectionId === null ? '' : `?section=${String(sectionId)}`}`,
      responseSchema: GradebookSchema,
      providesTags: ['assignments', 'people'],
    }),
    studentRecord: build.query<StudentRecord, { readonly courseId: number; readonly studentId: number }>({
      query: ({ courseId, studentId }) => `courses/${String(courseId)}/students/${String(studentId)}`,
      responseSchema: StudentRecordSchema,
      providesTags: ['assignments', 'people'],
    }),
    grading: build.query<GradingAnswer, number>({
      query: (courseId) => `courses/${String(courseId)}/grading`,
      responseSchema: GradingSchema,
      providesTags: ['assignments'],
    }),
    eraseStudent: build.mutation<unknown, number>({
      query: (studentId) => ({ url: `students/${String(studentId)}`, method: 'DELETE' }),
      invalidatesTags: ['assignments', 'people'],
    }),
    resultsReadiness: build.query<ResultsReadiness, number>({
      query: (courseId) => `courses/${String(courseId)}/results`,
      responseSchema: ResultsReadinessSchema,
      providesTags: ['assignments', 'people'],
    }),
    addNote: build.mutation<unknown, { readonly courseId: number; readonly studentId: number; readonly text: string }>({
      query: ({ courseId, studentId, text }) => ({
        url: `courses/${String(courseId)}/students/${String(studentId)}/notes`,
        method: 'POST',
        body: { text },
      }),
      invalidatesTags: ['people'],
    }),
    removeNote: build.mutation<
      unknown,
      { readonly courseId: number; readonly studentId: number; readonly noteId: number }
    >({
      query: ({ courseId, studentId, noteId }) => ({
        url: `courses/${String(courseId)}/students/${String(studentId)}/notes/${String(noteId)}`,
        method: 'DELETE',
      }),
      invalidatesTags: ['people'],
    }),
    setGrading: build.mutation<unknown, GradingDraft & { readonly courseId: number }>({
      query: ({ courseId, ...body }) => ({ url: `courses/${String(courseId)}/grading`, method: 'PUT', body }),
      invalidatesTags: ['assignments'],
    }),
  }),
});
