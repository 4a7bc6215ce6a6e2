/** The desk, assignments, their scoring, and the remarks of a course. */
import type * as v from 'valibot';

import {
  type AssignmentDetail,
  AssignmentDetailSchema,
  AssignmentListSchema,
  type AssignmentSummary,
  type CollectedRemark,
  type Desk,
  DeskSchema,
  type GroupReview,
  type LikenessAnswer,
  LikenessSchema,
  GroupReviewedSchema,
  type PolicyAnswer,
  PolicyAnswerSchema,
  RemarkCollectionSchema,
  type Rescored,
  RescoredSchema,
  type ChangeAssignment,
  type Correct,
  type Extension,
} from '#api';
import type { ScoringPolicy } from '#core/grade';

import { api } from '#web/server';

export const {
  useDeskQuery,
  useAssignmentsQuery,
  useChangeAssignmentMutation,
  useExtendMutation,
  useCorrectMutation,
  useTakeBackExtensionMutation,
  useAssignmentQuery,
  useLikenessQuery,
  usePolicyQuery,
  useRescoreMutation,
  useRemarksQuery,
  useCollectRemarkMutation,
  useForgetRemarkMutation,
  useReviewGroupMutation,
} = api.injectEndpoints({
  endpoints: (build) => ({
    desk: build.query<Desk, void>({ query: () => 'desk', responseSchema: DeskSchema, providesTags: ['assignments'] }),
    assignments: build.query<AssignmentSummary[], void>({
      query: () => 'assignments',
      rawResponseSchema: AssignmentListSchema,
      transformResponse: (answer: v.InferOutput<typeof AssignmentListSchema>) => answer.assignments,
      providesTags: ['assignments'],
    }),
    assignment: build.query<AssignmentDetail, number>({
      query: (id) => `assignments/${String(id)}`,
      responseSchema: AssignmentDetailSchema,
      providesTags: (_answer, _error, id) => [{ type: 'assignments', id }],
    }),
    correct: build.mutation<unknown, Correct & { readonly id: number }>({
      query: ({ id, ...body }) => ({ url: `assignments/${String(id)}/correct`, method: 'POST', body }),
      invalidatesTags: ['assignments'],
    }),
    likeness: build.query<LikenessAnswer, number>({
      query: (id) => `assignments/${String(id)}/alike`,
      responseSchema: LikenessSchema,
      providesTags: (_answer, _error, id) => [{ type: 'assignments', id }],
    }),
    changeAssignment: build.mutation<null, ChangeAssignment & { readonly id: number }>({
      query: ({ id, ...body }) => ({ url: `assignments/${String(id)}`, method: 'PATCH', body }),
      transformResponse: () => null,
      invalidatesTags: ['assignments', 'attempt'],
    }),
    extend: build.mutation<null, Extension & { readonly id: number; readonly studentId: number }>({
      query: ({ id, studentId, ...body }) => ({
        url: `assignments/${String(id)}/extensions/${String(studentId)}`,
        method: 'PUT',
        body,
      }),
      transformResponse: () => null,
      invalidatesTags: ['assignments', 'attempt'],
    }),
    takeBackExtension: build.mutation<null, { readonly id: number; readonly studentId: number }>({
      query: ({ id, studentId }) => ({
        url: `assignments/${String(id)}/extensions/${String(studentId)}`,
        method: 'DELETE',
      }),
      transformResponse: () => null,
      invalidatesTags: ['assignments', 'attempt'],
    }),
    policy: build.query<PolicyAnswer, number>({
      query: (id) => `assignments/${String(id)}/policy`,
      responseSchema: PolicyAnswerSchema,
      providesTags: ['assignments'],
    }),
    /** Looks at what a policy makes of an assignment; with `apply`, sets it. */
    rescore: build.mutation<
      Rescored,
      { readonly id: number; readonly policy: ScoringPolicy | null; readonly apply: boolean }
    >({
      query: ({ id, ...body }) => ({ url: `assignments/${String(id)}/policy`, method: 'POST', body }),
      responseSchema: RescoredSchema,
      invalidatesTags: (_result, _error, { apply }) => (apply ? ['assignments', 'attempt'] : []),
    }),
    remarks: build.query<CollectedRemark[], number>({
      query: (courseId) => `courses/${String(courseId)}/remarks`,
      rawResponseSchema: RemarkCollectionSchema,
      transformResponse: (answer: v.InferOutput<typeof RemarkCollectionSchema>) => answer.remarks,
      providesTags: ['remarks'],
    }),
    collectRemark: build.mutation<unknown, { readonly courseId: number; readonly text: string }>({
      query: ({ courseId, text: remark }) => ({
        url: `courses/${String(courseId)}/remarks`,
        method: 'POST',
        body: { text: remark },
      }),
      invalidatesTags: ['remarks'],
    }),
    forgetRemark: build.mutation<unknown, { readonly courseId: number; readonly id: number }>({
      query: ({ courseId, id }) => ({ url: `courses/${String(courseId)}/remarks/${String(id)}`, method: 'DELETE' }),
      invalidatesTags: ['remarks'],
    }),

    reviewGroup: build.mutation<{ changed: number }, { readonly assignmentId: number } & GroupReview>({
      query: ({ assignmentId, ...body }) => ({
        url: `assignments/${String(assignmentId)}/reviews`,
        method: 'POST',
        body,
      }),
      responseSchema: GroupReviewedSchema,
      invalidatesTags: (answer) => (answer ? ['assignments', 'attempt'] : []),
    }),
  }),
});
