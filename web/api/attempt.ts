/** One attempt: its report, review and difference. */
import {
  type AttemptDetail,
  AttemptDetailSchema,
  type NewReply,
  type Review,
  type ReviewChange,
  ReviewSchema,
} from '#api';
import { type Overlay, OverlaySchema } from '#core/overlay';

import { api } from '#web/server';

export const attemptApi = api.injectEndpoints({
  endpoints: (build) => ({
    attempt: build.query<AttemptDetail, number>({
      query: (id) => `attempts/${String(id)}`,
      responseSchema: AttemptDetailSchema,
      providesTags: (_answer, _error, id) => [{ type: 'attempt', id }],
    }),
    overlay: build.query<Overlay, number>({
      query: (attemptId) => `attempts/${String(attemptId)}/overlay`,
      responseSchema: OverlaySchema,
      keepUnusedDataFor: 30,
    }),
    review: build.mutation<Review, { readonly id: number } & ReviewChange>({
      query: ({ id, ...body }) => ({ url: `attempts/${String(id)}/review`, method: 'POST', body }),
      responseSchema: ReviewSchema,
      // Where it was refused, somebody else has changed it: it is shown as it is now.
      invalidatesTags: (_answer, _error, { id }) => ['assignments', { type: 'attempt', id }],
    }),
    reply: build.mutation<unknown, { readonly id: number } & NewReply>({
      query: ({ id, ...body }) => ({ url: `attempts/${String(id)}/replies`, method: 'POST', body }),
      invalidatesTags: (_answer, _error, { id }) => [{ type: 'attempt', id }],
    }),
  }),
});

export const { useAttemptQuery, useOverlayQuery, useReviewMutation, useReplyMutation } = attemptApi;
