/** Questions about sheets, and errata. */
import {
  AssignmentQuestionsSchema,
  WorkQuestionsSchema,
  type AnswerQuestion,
  type AssignmentQuestions,
  type NewErratum,
  type NewQuestion,
  type WorkQuestions,
} from '#api';

import { api } from '#web/server';

interface Stage {
  /** Of the assignment. */
  readonly id: number;
  /** From 1. */
  readonly stage: number;
}

export const {
  useWorkQuestionsQuery,
  useAskMutation,
  useTakeBackQuestionMutation,
  useAssignmentQuestionsQuery,
  useAnswerQuestionMutation,
  useAddErratumMutation,
  useWithdrawErratumMutation,
} = api.injectEndpoints({
  endpoints: (build) => ({
    workQuestions: build.query<WorkQuestions, Stage>({
      query: ({ id, stage }) => `work/${String(id)}/questions?stage=${String(stage)}`,
      responseSchema: WorkQuestionsSchema,
      providesTags: ['questions'],
    }),
    ask: build.mutation<unknown, { readonly id: number } & NewQuestion>({
      query: ({ id, ...body }) => ({ url: `work/${String(id)}/questions`, method: 'POST', body }),
      invalidatesTags: ['questions'],
    }),
    takeBackQuestion: build.mutation<unknown, { readonly id: number; readonly questionId: number }>({
      query: ({ id, questionId }) => ({ url: `work/${String(id)}/questions/${String(questionId)}`, method: 'DELETE' }),
      invalidatesTags: ['questions'],
    }),
    assignmentQuestions: build.query<AssignmentQuestions, number>({
      query: (id) => `assignments/${String(id)}/questions`,
      responseSchema: AssignmentQuestionsSchema,
      providesTags: ['questions'],
    }),
    answerQuestion: build.mutation<unknown, { readonly id: number } & AnswerQuestion>({
      query: ({ id, ...body }) => ({ url: `questions/${String(id)}/answer`, method: 'PUT', body }),
      invalidatesTags: ['questions', 'news'],
    }),
    addErratum: build.mutation<unknown, { readonly id: number } & NewErratum>({
      query: ({ id, ...body }) => ({ url: `assignments/${String(id)}/errata`, method: 'POST', body }),
      invalidatesTags: ['questions'],
    }),
    withdrawErratum: build.mutation<unknown, { readonly id: number; readonly erratumId: number }>({
      query: ({ id, erratumId }) => ({
        url: `assignments/${String(id)}/errata/${String(erratumId)}`,
        method: 'DELETE',
      }),
      invalidatesTags: ['questions'],
    }),
  }),
});
