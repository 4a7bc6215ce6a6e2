/** Exercises as they were revised, their coverage, and issuing them. */
import * as v from 'valibot';

import {
  type ArrangeExercise,
  type CopyExercise,
  type CoverageAnswer,
  CoverageAnswerSchema,
  CreatedSchema,
  type ExerciseDetail,
  ExerciseDetailSchema,
  ExerciseListSchema,
  type ExerciseSummary,
  type FurtherWarnings,
  FurtherWarningsSchema,
  type IssueInput,
  type NewExercise,
  type Section,
  type StudiesAnswer,
  StudiesSchema,
  SectionListSchema,
  type VariantBlurs,
  VariantBlursSchema,
} from '#api';

import { api } from '#web/server';

export const {
  useExercisesQuery,
  useExerciseQuery,
  useCreateExerciseMutation,
  useImportExerciseMutation,
  useArrangeExerciseMutation,
  useCopyExerciseMutation,
  useDeleteExerciseMutation,
  useCoverageQuery,
  useRetryCoverageMutation,
  useFurtherWarningsQuery,
  useStudiesQuery,
  useVariantBlursQuery,
  useSectionsQuery,
  useIssueMutation,
} = api.injectEndpoints({
  endpoints: (build) => ({
    arrangeExercise: build.mutation<unknown, ArrangeExercise & { readonly id: number }>({
      query: ({ id, ...body }) => ({ url: `exercises/${String(id)}`, method: 'PATCH', body }),
      invalidatesTags: ['exercises'],
    }),
    copyExercise: build.mutation<v.InferOutput<typeof CreatedSchema>, CopyExercise & { readonly id: number }>({
      query: ({ id, ...body }) => ({ url: `exercises/${String(id)}/copy`, method: 'POST', body }),
      responseSchema: CreatedSchema,
      invalidatesTags: ['exercises'],
    }),
    deleteExercise: build.mutation<unknown, number>({
      query: (id) => ({ url: `exercises/${String(id)}`, method: 'DELETE' }),
      invalidatesTags: ['exercises'],
    }),
    exercises: build.query<ExerciseSummary[], void>({
      query: () => 'exercises',
      rawResponseSchema: ExerciseListSchema,
      transformResponse: (answer: v.InferOutput<typeof ExerciseListSchema>) => answer.exercises,
      providesTags: ['exercises'],
    }),
    exercise: build.query<ExerciseDetail, number>({
      query: (id) => `exercises/${String(id)}`,
      responseSchema: ExerciseDetailSchema,
      providesTags: ['exercises'],
    }),
    createExercise: build.mutation<{ id: number }, NewExercise>({
      query: (body) => ({ url: 'exercises', method: 'POST', body }),
      responseSchema: CreatedSchema,
      invalidatesTags: (answer) => (answer ? ['exercises'] : []),
    }),
    importExercise: build.mutation<{ id: number }, { readonly file: Blob; readonly courseId: number | null }>({
      query: ({ file: body, courseId }) => ({
        url: `exercises/import${courseId === null ? '' : `?course=${String(courseId)}`}`,
        method: 'POST',
        body,
        headers: { 'Content-Type': 'application/zip' },
      }),
      responseSchema: CreatedSchema,
      invalidatesTags: (answer) => (answer ? ['exercises'] : []),
    }),
    coverage: build.query<CoverageAnswer, number>({
      query: (id) => `exercises/${String(id)}/coverage`,
      responseSchema: CoverageAnswerSchema,
      providesTags: ['exercises'],
    }),
    retryCoverage: build.mutation<null, number>({
      query: (id) => ({ url: `exercises/${String(id)}/coverage/retry`, method: 'POST', body: {} }),
      transformResponse: () => null,
      invalidatesTags: ['exercises'],
    }),
    furtherWarnings: build.query<FurtherWarnings['parts'], number>({
      query: (id) => `exercises/${String(id)}/warnings`,
      rawResponseSchema: FurtherWarningsSchema,
      transformResponse: (answer: FurtherWarnings) => answer.parts,
      providesTags: ['exercises'],
    }),
    studies: build.query<StudiesAnswer['stages'], number>({
      query: (id) => `exercises/${String(id)}/open`,
      rawResponseSchema: StudiesSchema,
      transformResponse: (answer: StudiesAnswer) => answer.stages,
      providesTags: ['exercises'],
    }),
    variantBlurs: build.query<VariantBlurs, number>({
      query: (id) => `exercises/${String(id)}/coverage/variants`,
      responseSchema: VariantBlursSchema,
      providesTags: ['exercises'],
    }),
    sections: build.query<Section[], void>({
      query: () => 'sections',
      rawResponseSchema: SectionListSchema,
      transformResponse: (answer: v.InferOutput<typeof SectionListSchema>) => answer.sections,
    }),
    issue: build.mutation<{ id: number }, IssueInput>({
      query: (body) => ({ url: 'assignments', method: 'POST', body }),
      responseSchema: v.object({ id: v.number() }),
      invalidatesTags: ['assignments', 'exercises'],
    }),
  }),
});
