/** Groups of students who have other dates. */
import type * as v from 'valibot';

import { GroupDatesSchema, StudentGroupsSchema, type GroupDates, type SetStudentGroup, type StudentGroup } from '#api';

import { api } from '#web/server';

const groupAt = (sectionId: number, groupId: number): string =>
  `sections/${String(sectionId)}/groups/${String(groupId)}`;

export const {
  useStudentGroupsQuery,
  useAddGroupMutation,
  useChangeGroupMutation,
  useRemoveGroupMutation,
  useGroupDatesQuery,
  useSetGroupDueMutation,
} = api.injectEndpoints({
  endpoints: (build) => ({
    studentGroups: build.query<StudentGroup[], number>({
      query: (sectionId) => `sections/${String(sectionId)}/groups`,
      rawResponseSchema: StudentGroupsSchema,
      transformResponse: (answer: v.InferOutput<typeof StudentGroupsSchema>) => answer.groups,
      providesTags: ['people'],
    }),
    addGroup: build.mutation<unknown, SetStudentGroup & { readonly sectionId: number }>({
      query: ({ sectionId, ...body }) => ({ url: `sections/${String(sectionId)}/groups`, method: 'POST', body }),
      invalidatesTags: ['people'],
    }),
    changeGroup: build.mutation<unknown, SetStudentGroup & { readonly sectionId: number; readonly groupId: number }>({
      query: ({ sectionId, groupId, ...body }) => ({ url: groupAt(sectionId, groupId), method: 'PUT', body }),
      invalidatesTags: ['people', 'assignments'],
    }),
    removeGroup: build.mutation<unknown, { readonly sectionId: number; readonly groupId: number }>({
      query: ({ sectionId, groupId }) => ({ url: groupAt(sectionId, groupId), method: 'DELETE' }),
      invalidatesTags: ['people', 'assignments'],
    }),
    groupDates: build.query<GroupDates['groups'], number>({
      query: (assignmentId) => `assignments/${String(assignmentId)}/groups`,
      rawResponseSchema: GroupDatesSchema,
      transformResponse: (answer: GroupDates) => answer.groups,
      providesTags: ['people', 'assignments'],
    }),
    setGroupDue: build.mutation<
      unknown,
      { readonly assignmentId: number; readonly groupId: number; readonly dueAt: string | null }
    >({
      query: ({ assignmentId, groupId, dueAt }) => {
        const url = `assignments/${String(assignmentId)}/groups/${String(groupId)}`;
        return dueAt === null ? { url, method: 'DELETE' } : { url, method: 'PUT', body: { dueAt } };
      },
      invalidatesTags: ['assignments'],
    }),
  }),
});
