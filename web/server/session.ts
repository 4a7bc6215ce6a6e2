/** Who is signed in. */
import type * as v from 'valibot';

import {
  JoinInfoSchema,
  SetupStateSchema,
  type ChangePassword,
  type CodeSignIn,
  type Join,
  type JoinInfo,
  type Setup,
  type SetupState,
} from '#api/people';
import { CalendarSchema, SessionSchema, type CalendarAnswer, type SignIn } from '#api/session';

import { api } from './base.ts';

type SessionAnswer = v.InferOutput<typeof SessionSchema>;

export const {
  useSessionQuery,
  useSignInMutation,
  useSignOutMutation,
  useSetupStateQuery,
  useSetUpMutation,
  useSignInByCodeMutation,
  useJoinInfoQuery,
  useJoinMutation,
  useChangePasswordMutation,
  useCalendarQuery,
  useEndOtherSessionsMutation,
  useRenewCalendarMutation,
} = api.injectEndpoints({
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
    setupState: build.query<SetupState, void>({ query: () => 'setup', responseSchema: SetupStateSchema }),
    setUp: build.mutation<SessionAnswer, Setup>({
      query: (body) => ({ url: 'setup', method: 'POST', body }),
      responseSchema: SessionSchema,
      invalidatesTags: (answer) => (answer ? ['session'] : []),
    }),
    signInByCode: build.mutation<SessionAnswer, CodeSignIn>({
      query: (body) => ({ url: 'session/code', method: 'POST', body }),
      responseSchema: SessionSchema,
      invalidatesTags: (answer) => (answer ? ['session'] : []),
    }),
    joinInfo: build.query<JoinInfo, string>({
      query: (code) => `join/${encodeURIComponent(code)}`,
      responseSchema: JoinInfoSchema,
    }),
    join: build.mutation<SessionAnswer, Join & { readonly code: string }>({
      query: ({ code, ...body }) => ({ url: `join/${encodeURIComponent(code)}`, method: 'POST', body }),
      responseSchema: SessionSchema,
      invalidatesTags: (answer) => (answer ? ['session'] : []),
    }),
    changePassword: build.mutation<SessionAnswer, ChangePassword>({
      query: (body) => ({ url: 'account/password', method: 'POST', body }),
      responseSchema: SessionSchema,
    }),
    endOtherSessions: build.mutation<null, void>({
      query: () => ({ url: 'account/end-others', method: 'POST', body: {} }),
      transformResponse: () => null,
    }),
    calendar: build.query<CalendarAnswer, void>({
      query: () => 'calendar',
      responseSchema: CalendarSchema,
      providesTags: ['calendar'],
    }),
    renewCalendar: build.mutation<CalendarAnswer, void>({
      query: () => ({ url: 'calendar/renew', method: 'POST', body: {} }),
      responseSchema: CalendarSchema,
      invalidatesTags: ['calendar'],
    }),
    signOut: build.mutation<SessionAnswer, void>({
      query: () => ({ url: 'session', method: 'DELETE' }),
      responseSchema: SessionSchema,
    }),
  }),
});
