/** The server as the page sees it: one endpoint a route, every answer checked against its schema. */
import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import * as v from 'valibot';

import {
  AssignmentDetailSchema,
  AssignmentListSchema,
  AttemptDetailSchema,
  CoverageAnswerSchema,
  FurtherWarningsSchema,
  VariantBlursSchema,
  PolicyAnswerSchema,
  RescoredSchema,
  RemarkCollectionSchema,
  ReviewSchema,
  CreatedSchema,
  DeskSchema,
  DisplayModelSchema,
  DraftDetailSchema,
  ExerciseDetailSchema,
  ExerciseListSchema,
  FailureSchema,
  GroupReviewedSchema,
  HandedInSchema,
  MadeRevisionSchema,
  RevisionListSchema,
  SavedDraftSchema,
  SectionListSchema,
  SessionSchema,
  WorkDetailSchema,
  WorkListSchema,
  type AssignmentDetail,
  type AssignmentSummary,
  type AttemptDetail,
  type CoverageAnswer,
  type FurtherWarnings,
  type VariantBlurs,
  type PolicyAnswer,
  type Rescored,
  type Desk,
  type DisplayModel,
  type DraftDetail,
  type ExerciseDetail,
  type CollectedRemark,
  type ExerciseSummary,
  type GroupReview,
  type IssueInput,
  type NewReply,
  type Review,
  type ReviewChange,
  type NewExercise,
  type RevisionSummary,
  type Section,
  type SignIn,
  type User,
  type WorkDetail,
  type WorkItem,
} from '#api';
import {
  ExerciseSchema,
  FileOfExerciseSchema,
  ModelFileSchema,
  type Exercise,
  type FileOfExercise,
  type ModelFile,
} from '#core/exercise';
import type { ScoringPolicy, TypedInput } from '#core/grade';
import { OverlaySchema, type Overlay } from '#core/overlay';
import type { LengthUnit } from '#core/quantity';

type SessionAnswer = v.InferOutput<typeof SessionSchema>;

export interface HandIn {
  readonly assignmentId: number;
  /** From 1. */
  readonly stage: number;
  readonly file: File;
  /** What a file without unit is in; null for other files. */
  readonly unit: LengthUnit | null;
  readonly typed: readonly TypedInput[];
  readonly buildLog: string;
}

const text = { responseHandler: 'text' } as const;

export const api = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({ baseUrl: '/api/', credentials: 'same-origin' }),
  tagTypes: ['session', 'exercises', 'assignments', 'attempt', 'work', 'remarks'],
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

    desk: build.query<Desk, void>({ query: () => 'desk', responseSchema: DeskSchema, providesTags: ['assignments'] }),
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
    importExercise: build.mutation<{ id: number }, Blob>({
      query: (body) => ({
        url: 'exercises/import',
        method: 'POST',
        body,
        headers: { 'Content-Type': 'application/zip' },
      }),
      responseSchema: CreatedSchema,
      invalidatesTags: (answer) => (answer ? ['exercises'] : []),
    }),
    draft: build.query<DraftDetail, number>({
      query: (id) => `exercises/${String(id)}/draft`,
      responseSchema: DraftDetailSchema,
      keepUnusedDataFor: 0,
    }),
    saveDraft: build.mutation<
      v.InferOutput<typeof SavedDraftSchema>,
      { readonly id: number; readonly version: number; readonly document: Exercise }
    >({
      query: ({ id, ...body }) => ({ url: `exercises/${String(id)}/draft`, method: 'PUT', body }),
      responseSchema: SavedDraftSchema,
    }),
    uploadModel: build.mutation<ModelFile, { readonly id: number; readonly file: File }>({
      query: ({ id, file }) => ({
        url: `exercises/${String(id)}/models?name=${encodeURIComponent(file.name)}`,
        method: 'POST',
        body: file,
        headers: { 'Content-Type': 'application/octet-stream' },
      }),
      responseSchema: ModelFileSchema,
    }),
    /** Puts a file beside an exercise: a drawing, or the picture of a page of it. */
    uploadDrawing: build.mutation<
      FileOfExercise,
      { readonly id: number; readonly part: 'drawings' | 'pages'; readonly name: string; readonly content: Blob }
    >({
      query: ({ id, part, name, content }) => ({
        url: `exercises/${String(id)}/${part}?name=${encodeURIComponent(name)}`,
        method: 'POST',
        body: content,
        headers: { 'Content-Type': 'application/octet-stream' },
      }),
      responseSchema: FileOfExerciseSchema,
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
    coverage: build.query<CoverageAnswer, number>({
      query: (id) => `exercises/${String(id)}/coverage`,
      responseSchema: CoverageAnswerSchema,
      providesTags: ['exercises'],
    }),
    furtherWarnings: build.query<FurtherWarnings['parts'], number>({
      query: (id) => `exercises/${String(id)}/warnings`,
      rawResponseSchema: FurtherWarningsSchema,
      transformResponse: (answer: FurtherWarnings) => answer.parts,
      providesTags: ['exercises'],
    }),
    variantBlurs: build.query<VariantBlurs, number>({
      query: (id) => `exercises/${String(id)}/coverage/variants`,
      responseSchema: VariantBlursSchema,
      providesTags: ['exercises'],
    }),
    revisions: build.query<RevisionSummary[], number>({
      query: (id) => `exercises/${String(id)}/revisions`,
      rawResponseSchema: RevisionListSchema,
      transformResponse: (answer: v.InferOutput<typeof RevisionListSchema>) => answer.revisions,
      providesTags: ['exercises'],
    }),
    revision: build.query<Exercise, { readonly id: number; readonly number: number }>({
      query: ({ id, number }) => `exercises/${String(id)}/revisions/${String(number)}`,
      rawResponseSchema: v.object({ document: ExerciseSchema }),
      transformResponse: (answer: { document: Exercise }) => answer.document,
    }),
    makeRevision: build.mutation<{ revision: number }, { readonly id: number; readonly version: number }>({
      query: ({ id, version }) => ({ url: `exercises/${String(id)}/revisions`, method: 'POST', body: { version } }),
      responseSchema: MadeRevisionSchema,
      invalidatesTags: (answer) => (answer ? ['exercises'] : []),
    }),
    model: build.query<DisplayModel, string>({
      query: (url) => url,
      responseSchema: DisplayModelSchema,
      keepUnusedDataFor: 120,
    }),
    overlay: build.query<Overlay, number>({
      query: (attemptId) => `attempts/${String(attemptId)}/overlay`,
      responseSchema: OverlaySchema,
      keepUnusedDataFor: 30,
    }),
    sheet: build.query<string, string>({
      query: (url) => ({ url, ...text }),
      responseSchema: v.string(),
    }),
    sections: build.query<Section[], void>({
      query: () => 'sections',
      rawResponseSchema: SectionListSchema,
      transformResponse: (answer: v.InferOutput<typeof SectionListSchema>) => answer.sections,
    }),
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
    issue: build.mutation<{ id: number }, IssueInput>({
      query: (body) => ({ url: 'assignments', method: 'POST', body }),
      responseSchema: v.object({ id: v.number() }),
      invalidatesTags: ['assignments', 'exercises'],
    }),
    attempt: build.query<AttemptDetail, number>({
      query: (id) => `attempts/${String(id)}`,
      responseSchema: AttemptDetailSchema,
      providesTags: (_answer, _error, id) => [{ type: 'attempt', id }],
    }),
    review: build.mutation<Review, { readonly id: number } & ReviewChange>({
      query: ({ id, ...body }) => ({ url: `attempts/${String(id)}/review`, method: 'POST', body }),
      responseSchema: ReviewSchema,
      // Where it was refused, somebody else has changed it: it is shown as it is now.
      invalidatesTags: (_answer, _error, { id }) => ['assignments', { type: 'attempt', id }],
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
    reply: build.mutation<unknown, { readonly id: number } & NewReply>({
      query: ({ id, ...body }) => ({ url: `attempts/${String(id)}/replies`, method: 'POST', body }),
      invalidatesTags: (_answer, _error, { id }) => [{ type: 'attempt', id }],
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

    work: build.query<WorkItem[], void>({
      query: () => 'work',
      rawResponseSchema: WorkListSchema,
      transformResponse: (answer: v.InferOutput<typeof WorkListSchema>) => answer.work,
      providesTags: ['work'],
    }),
    workDetail: build.query<WorkDetail, { readonly id: number; readonly stage: number | null }>({
      query: ({ id, stage }) => `work/${String(id)}${stage === null ? '' : `?stage=${String(stage)}`}`,
      responseSchema: WorkDetailSchema,
      providesTags: (_answer, _error, { id }) => [{ type: 'work', id }],
    }),
    handIn: build.mutation<{ attemptId: number }, HandIn>({
      query: ({ assignmentId, stage, file, unit, typed, buildLog }) => {
        const body = new FormData();
        body.append('file', file);
        if (unit !== null) body.append('unit', unit);
        body.append('stage', String(stage));
        body.append('typed', JSON.stringify(typed));
        body.append('log', buildLog);
        return { url: `work/${String(assignmentId)}/attempts`, method: 'POST', body };
      },
      responseSchema: HandedInSchema,
      invalidatesTags: ['work'],
    }),
  }),
});

export const {
  useSessionQuery,
  useSignInMutation,
  useSignOutMutation,
  useDeskQuery,
  useExercisesQuery,
  useExerciseQuery,
  useCoverageQuery,
  useFurtherWarningsQuery,
  useVariantBlursQuery,
  usePolicyQuery,
  useRescoreMutation,
  useLazyDraftQuery,
  useCreateExerciseMutation,
  useImportExerciseMutation,
  useDraftQuery,
  useSaveDraftMutation,
  useUploadDrawingMutation,
  useUploadModelMutation,
  useRevisionsQuery,
  useRevisionQuery,
  useMakeRevisionMutation,
  useModelQuery,
  useOverlayQuery,
  useSheetQuery,
  useSectionsQuery,
  useAssignmentsQuery,
  useAssignmentQuery,
  useIssueMutation,
  useAttemptQuery,
  useReviewMutation,
  useReviewGroupMutation,
  useReplyMutation,
  useRemarksQuery,
  useCollectRemarkMutation,
  useForgetRemarkMutation,
  useWorkQuery,
  useWorkDetailQuery,
  useHandInMutation,
} = api;

/** What a failed request says to the person. */
export function failureText(error: unknown): string {
  const data = (error as { data?: unknown } | undefined)?.data;
  const parsed = v.safeParse(FailureSchema, typeof data === 'string' ? parseJson(data) : data);
  if (parsed.success) return parsed.output.error.message;
  if ((error as { status?: unknown } | undefined)?.status === 'FETCH_ERROR')
    return 'The server cannot be reached. Check the connection and try again.';
  return 'Something went wrong. Nothing was lost; try again.';
}

export const isSignedOut = (error: unknown): boolean => (error as { status?: unknown } | undefined)?.status === 401;

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}

export type { User };
