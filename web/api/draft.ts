/** Drafts of exercises, their files and revisions. */
import * as v from 'valibot';

import {
  type DraftDetail,
  type KeyToPrint,
  DraftDetailSchema,
  type RevisionJob,
  type RevisionJobAnswer,
  RevisionJobAnswerSchema,
  RevisionListSchema,
  type RevisionSummary,
  SavedDraftSchema,
} from '#api';
import {
  type Exercise,
  ExerciseSchema,
  type FileOfExercise,
  FileOfExerciseSchema,
  type ModelFile,
  ModelFileSchema,
} from '#core/exercise';

import { api } from '#web/server';

export const {
  useLazyDraftQuery,
  useDraftQuery,
  useSaveDraftMutation,
  useUploadModelMutation,
  useUploadDrawingMutation,
  useRevisionsQuery,
  useRevisionQuery,
  useMakeRevisionMutation,
  useRevisionJobQuery,
  usePrintKeyMutation,
} = api.injectEndpoints({
  endpoints: (build) => ({
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
    /** The answer key as a PDF. */
    printKey: build.mutation<Blob, { readonly id: number } & KeyToPrint>({
      query: ({ id, ...body }) => ({
        url: `exercises/${String(id)}/key.pdf`,
        method: 'POST',
        body,
        responseHandler: (response) => (response.ok ? response.blob() : response.text()),
        cache: 'no-cache',
      }),
    }),
    revisionJob: build.query<RevisionJob | null, number>({
      query: (id) => `exercises/${String(id)}/revision-job`,
      rawResponseSchema: RevisionJobAnswerSchema,
      transformResponse: (answer: RevisionJobAnswer) => answer.job,
    }),
    makeRevision: build.mutation<RevisionJob | null, { readonly id: number; readonly version: number }>({
      query: ({ id, version }) => ({ url: `exercises/${String(id)}/revisions`, method: 'POST', body: { version } }),
      rawResponseSchema: RevisionJobAnswerSchema,
      transformResponse: (answer: RevisionJobAnswer) => answer.job,
    }),
  }),
});
