/** What is new for who is signed in. */
import { NewsSchema, type News, type WantsMail } from '#api/news';

import { api } from './base.ts';

export const { useNewsQuery, useSeenMutation, useWantMailMutation } = api.injectEndpoints({
  endpoints: (build) => ({
    news: build.query<News, void>({ query: () => 'news', responseSchema: NewsSchema, providesTags: ['news'] }),
    // What was new stays marked as long as it is looked at.
    seen: build.mutation<null, void>({
      query: () => ({ url: 'news/seen', method: 'POST', body: {} }),
      transformResponse: () => null,
    }),
    wantMail: build.mutation<null, WantsMail>({
      query: (body) => ({ url: 'news/mail', method: 'PUT', body }),
      transformResponse: () => null,
      invalidatesTags: ['news'],
    }),
  }),
});
