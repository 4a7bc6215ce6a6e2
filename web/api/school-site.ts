/** The school's site: arriving from it, registering it, its class lists, and the grades that it is told. */
import {
  ArrivalSchema,
  SchoolSitesSchema,
  SendingSchema,
  SentGradesSchema,
  SiteListSchema,
  SiteMembersSchema,
  type Arrival,
  type NewSchoolSite,
  type SchoolSites,
  type Sending,
  type SentGrades,
} from '#api';

import { api } from '#web/server';

export const {
  useArrivalQuery,
  useArriveAsMutation,
  useArriveNewMutation,
  useArriveInMutation,
  useSchoolSitesQuery,
  useRegisterSiteMutation,
  useRemoveSiteMutation,
  useRenewKeyMutation,
  useSiteOfSectionQuery,
  useSiteMembersMutation,
  useSentGradesQuery,
  useSendGradesMutation,
} = api.injectEndpoints({
  endpoints: (build) => ({
    arrival: build.query<Arrival, void>({ query: () => 'arrival', responseSchema: ArrivalSchema }),
    arriveAs: build.mutation<Arrival, { readonly login: string; readonly password: string }>({
      query: (body) => ({ url: 'arrival/account', method: 'POST', body }),
      responseSchema: ArrivalSchema,
    }),
    arriveNew: build.mutation<Arrival, void>({
      query: () => ({ url: 'arrival/new', method: 'POST', body: {} }),
      responseSchema: ArrivalSchema,
    }),
    arriveIn: build.mutation<Arrival, number>({
      query: (sectionId) => ({ url: 'arrival/section', method: 'POST', body: { sectionId } }),
      responseSchema: ArrivalSchema,
    }),
    schoolSites: build.query<SchoolSites, void>({
      query: () => 'school-sites',
      responseSchema: SchoolSitesSchema,
      providesTags: ['sites'],
    }),
    registerSite: build.mutation<SchoolSites, NewSchoolSite>({
      query: (body) => ({ url: 'school-sites', method: 'POST', body }),
      responseSchema: SchoolSitesSchema,
      invalidatesTags: (answer) => (answer ? ['sites'] : []),
    }),
    removeSite: build.mutation<SchoolSites, number>({
      query: (id) => ({ url: `school-sites/${String(id)}`, method: 'DELETE' }),
      responseSchema: SchoolSitesSchema,
      invalidatesTags: (answer) => (answer ? ['sites'] : []),
    }),
    renewKey: build.mutation<SchoolSites, void>({
      query: () => ({ url: 'school-sites/key', method: 'POST', body: {} }),
      responseSchema: SchoolSitesSchema,
      invalidatesTags: ['sites'],
    }),
    siteOfSection: build.query<{ readonly site: string | null }, number>({
      query: (id) => `sections/${String(id)}/site`,
      responseSchema: SiteListSchema,
    }),
    siteMembers: build.mutation<{ readonly text: string; readonly students: number }, number>({
      query: (id) => `sections/${String(id)}/site/members`,
      responseSchema: SiteMembersSchema,
    }),
    sentGrades: build.query<SentGrades, number>({
      query: (id) => `assignments/${String(id)}/sent-grades`,
      responseSchema: SentGradesSchema,
      providesTags: (_answer, _error, id) => [{ type: 'assignments', id }],
    }),
    sendGrades: build.mutation<Sending, number>({
      query: (id) => ({ url: `assignments/${String(id)}/sent-grades`, method: 'POST', body: {} }),
      responseSchema: SendingSchema,
      invalidatesTags: (_answer, _error, id) => [{ type: 'assignments', id }],
    }),
  }),
});
