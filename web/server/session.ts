/** Who is signed in. */
import type * as v from 'valibot';

import { SessionSchema, type SignIn } from '#api/session';

import { api } from './base.ts';

type SessionAnswer = v.InferOutput<typeof SessionSchema>;

export const { useSessionQuery, useSignInMutation, useSignOutMutation } = api.injectEndpoints({
  endpoints: (build) => ({
    session: build.query<SessionAnswer, void>({
      query: () => 'session',
      responseSchema: SessionSchema,
      providesTags: ['session'],
    }),
    signIn: build.mutation<SessionAnswer, SignIn>({
      query: (body) => ({ url: 'session', method: 'POST', body }),
      responseSchema: SessionSchema,
      invalidatesTags: (answer) => (answer ? ['session', 'exercises', 'assignments', 'attempt', 'work'] : []),
    }),
    signOut: build.mutation<SessionAnswer, void>({
      query: () => ({ url: 'session', method: 'DELETE' }),
      responseSchema: SessionSchema,
    }),
  }),
});
