/** Courses, sections, staff, and who belongs to a section. */
import * as v from 'valibot';

import {
  AuditSchema,
  type AuditEntry,
  CourseListSchema,
  NewCodeSchema,
  RosterChangeSchema,
  RosterPreviewSchema,
  RosterSchema,
  type ChangeCourse,
  type ChangeSection,
  type ChangeStaff,
  type Course,
  type NewCode,
  type NewCourse,
  type NewStaff,
  type Roster,
  type RosterApply,
  type RosterChange,
  type RosterPreview,
} from '#api';

import { api } from '#web/server';

const CreatedSchema = v.object({ id: v.number() });
const AddedStaffSchema = v.object({ login: v.string(), code: v.nullable(v.string()) });
const PDF = {
  responseHandler: (response: Response) => (response.ok ? response.blob() : response.text()),
  cache: 'no-cache' as const,
};

export const {
  useCoursesQuery,
  useNewCourseMutation,
  useCourseLogQuery,
  useChangeCourseMutation,
  useNewSectionMutation,
  useChangeSectionMutation,
  useRemoveSectionMutation,
  useAddStaffMutation,
  useChangeStaffMutation,
  useRemoveStaffMutation,
  useRosterQuery,
  usePreviewRosterMutation,
  useApplyRosterMutation,
  useUndoRosterMutation,
  usePrintSlipsMutation,
  useNewCodeMutation,
} = api.injectEndpoints({
  endpoints: (build) => ({
    courses: build.query<Course[], void>({
      query: () => 'courses',
      rawResponseSchema: CourseListSchema,
      transformResponse: (answer: v.InferOutput<typeof CourseListSchema>) => answer.courses,
      providesTags: ['people'],
    }),
    courseLog: build.query<AuditEntry[], number>({
      query: (id) => `courses/${String(id)}/log`,
      rawResponseSchema: AuditSchema,
      transformResponse: (answer: v.InferOutput<typeof AuditSchema>) => answer.entries,
    }),
    newCourse: build.mutation<{ id: number }, NewCourse>({
      query: (body) => ({ url: 'courses', method: 'POST', body }),
      responseSchema: CreatedSchema,
      invalidatesTags: ['people', 'exercises'],
    }),
    changeCourse: build.mutation<null, ChangeCourse & { readonly id: number }>({
      query: ({ id, ...body }) => ({ url: `courses/${String(id)}`, method: 'PATCH', body }),
      transformResponse: () => null,
      invalidatesTags: ['people', 'session', 'assignments', 'exercises'],
    }),
    newSection: build.mutation<{ id: number }, { readonly courseId: number; readonly name: string }>({
      query: ({ courseId, name }) => ({ url: `courses/${String(courseId)}/sections`, method: 'POST', body: { name } }),
      responseSchema: CreatedSchema,
      invalidatesTags: ['people', 'exercises'],
    }),
    changeSection: build.mutation<null, ChangeSection & { readonly id: number }>({
      query: ({ id, ...body }) => ({ url: `sections/${String(id)}`, method: 'PATCH', body }),
      transformResponse: () => null,
      invalidatesTags: ['people', 'assignments'],
    }),
    removeSection: build.mutation<null, number>({
      query: (id) => ({ url: `sections/${String(id)}`, method: 'DELETE' }),
      transformResponse: () => null,
      invalidatesTags: ['people', 'exercises'],
    }),
    addStaff: build.mutation<v.InferOutput<typeof AddedStaffSchema>, NewStaff & { readonly courseId: number }>({
      query: ({ courseId, ...body }) => ({ url: `courses/${String(courseId)}/staff`, method: 'POST', body }),
      responseSchema: AddedStaffSchema,
      invalidatesTags: ['people'],
    }),
    changeStaff: build.mutation<null, ChangeStaff & { readonly courseId: number; readonly id: number }>({
      query: ({ courseId, id, ...body }) => ({
        url: `courses/${String(courseId)}/staff/${String(id)}`,
        method: 'PATCH',
        body,
      }),
      transformResponse: () => null,
      invalidatesTags: ['people'],
    }),
    removeStaff: build.mutation<null, { readonly courseId: number; readonly id: number }>({
      query: ({ courseId, id }) => ({ url: `courses/${String(courseId)}/staff/${String(id)}`, method: 'DELETE' }),
      transformResponse: () => null,
      invalidatesTags: ['people'],
    }),
    roster: build.query<Roster, number>({
      query: (id) => `sections/${String(id)}/students`,
      responseSchema: RosterSchema,
      providesTags: ['people'],
    }),
    previewRoster: build.mutation<RosterPreview, { readonly id: number; readonly text: string }>({
      query: ({ id, text }) => ({ url: `sections/${String(id)}/students/preview`, method: 'POST', body: { text } }),
      responseSchema: RosterPreviewSchema,
    }),
    applyRoster: build.mutation<RosterChange, RosterApply & { readonly id: number }>({
      query: ({ id, ...body }) => ({ url: `sections/${String(id)}/students`, method: 'POST', body }),
      responseSchema: RosterChangeSchema,
      invalidatesTags: ['people', 'assignments'],
    }),
    undoRoster: build.mutation<null, { readonly id: number; readonly changeId: number }>({
      query: ({ id, changeId }) => ({
        url: `sections/${String(id)}/students/undo`,
        method: 'POST',
        body: { changeId },
      }),
      transformResponse: () => null,
      invalidatesTags: ['people', 'assignments'],
    }),
    printSlips: build.mutation<Blob, { readonly id: number; readonly studentIds: readonly number[] | null }>({
      query: ({ id, studentIds }) => ({
        url: `sections/${String(id)}/slips.pdf`,
        method: 'POST',
        body: { studentIds },
        ...PDF,
      }),
    }),
    newCode: build.mutation<NewCode, { readonly id: number; readonly studentId: number }>({
      query: ({ id, studentId }) => ({
        url: `sections/${String(id)}/students/${String(studentId)}/code`,
        method: 'POST',
        body: {},
      }),
      responseSchema: NewCodeSchema,
    }),
  }),
});
