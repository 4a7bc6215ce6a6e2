/** What a student keeps between reading and handing in. */
import type * as v from 'valibot';

import {
  KeptBuildSchema,
  ClassReadingSchema,
  KeptPlanSchema,
  KeptSizesSchema,
  type KeptPlan,
  KeptTimeSchema,
  ReadingDueSchema,
  ReadingSchema,
  ReadingVerdictSchema,
  type ClassReading,
  type ReadingChoice,
  type ReadingQuestion,
  type ReadingVerdict,
  RoundAnswerSchema,
  SavedSchema,
  type Round,
  type RoundAnswer,
  SheetWordsSchema,
  SizeAnswerSchema,
  type Saved,
  type SizeAnswer,
  type SizeQuestion,
  type Worked,
  WorkedSchema,
  type Working,
} from '#api';
import type { WordId } from '#core/words';

import { api } from '#web/server';

interface Place {
  readonly id: number;
  /** From 1. */
  readonly stage: number;
}
const at = (what: 'build' | 'plan' | 'round' | 'sizes' | 'time', { id, stage }: Place): string =>
  `work/${String(id)}/${what}?stage=${String(stage)}`;

export const {
  useBuildQuery,
  useLazyBuildQuery,
  useKeepBuildMutation,
  usePlanQuery,
  useLazyPlanQuery,
  useKeepPlanMutation,
  useRoundQuery,
  useLazyRoundQuery,
  useKeepRoundMutation,
  useSheetWordsQuery,
  useSizesQuery,
  useTimeQuery,
  useLazyTimeQuery,
  useKeepTimeMutation,
  useLazySizesQuery,
  useKeepSizesMutation,
  useAskSizeMutation,
  useReadingQuery,
  useAnswerReadingMutation,
  useReadingDueQuery,
  useClassReadingQuery,
  useWorkedQuery,
} = api.injectEndpoints({
  endpoints: (build) => ({
    sheetWords: build.query<readonly WordId[], Place>({
      query: ({ id, stage }) => `work/${String(id)}/words?stage=${String(stage)}`,
      rawResponseSchema: SheetWordsSchema,
      transformResponse: (answer: v.InferOutput<typeof SheetWordsSchema>) => answer.words,
    }),
    worked: build.query<Worked, Place>({
      query: ({ id, stage }) => `work/${String(id)}/worked?stage=${String(stage)}`,
      responseSchema: WorkedSchema,
    }),
    build: build.query<v.InferOutput<typeof KeptBuildSchema>, Place>({
      query: (place) => at('build', place),
      responseSchema: KeptBuildSchema,
      keepUnusedDataFor: 0,
    }),
    keepBuild: build.mutation<Saved, Place & { readonly version: number; readonly document: Working<'build'> }>({
      query: ({ id, stage, ...body }) => ({ url: at('build', { id, stage }), method: 'PUT', body }),
      responseSchema: SavedSchema,
    }),
    plan: build.query<KeptPlan, Place>({
      query: (place) => at('plan', place),
      responseSchema: KeptPlanSchema,
      keepUnusedDataFor: 0,
    }),
    keepPlan: build.mutation<Saved, Place & { readonly version: number; readonly document: Working<'plan'> }>({
      query: ({ id, stage, ...body }) => ({ url: at('plan', { id, stage }), method: 'PUT', body }),
      responseSchema: SavedSchema,
    }),
    round: build.query<RoundAnswer, Place>({
      query: (place) => at('round', place),
      responseSchema: RoundAnswerSchema,
      keepUnusedDataFor: 0,
    }),
    keepRound: build.mutation<RoundAnswer, Place & { readonly version: number; readonly document: Round }>({
      query: ({ id, stage, ...body }) => ({ url: at('round', { id, stage }), method: 'PUT', body }),
      responseSchema: RoundAnswerSchema,
    }),
    sizes: build.query<v.InferOutput<typeof KeptSizesSchema>, Place>({
      query: (place) => at('sizes', place),
      responseSchema: KeptSizesSchema,
      keepUnusedDataFor: 0,
    }),
    keepSizes: build.mutation<Saved, Place & { readonly version: number; readonly document: Working<'sizes'> }>({
      query: ({ id, stage, ...body }) => ({ url: at('sizes', { id, stage }), method: 'PUT', body }),
      responseSchema: SavedSchema,
    }),
    time: build.query<v.InferOutput<typeof KeptTimeSchema>, Place>({
      query: (place) => at('time', place),
      responseSchema: KeptTimeSchema,
      keepUnusedDataFor: 0,
    }),
    keepTime: build.mutation<Saved, Place & { readonly version: number; readonly document: Working<'time'> }>({
      query: ({ id, stage, ...body }) => ({ url: at('time', { id, stage }), method: 'PUT', body }),
      responseSchema: SavedSchema,
    }),
    askSize: build.mutation<SizeAnswer, Place & SizeQuestion>({
      query: ({ id, stage, ...body }) => ({
        url: `work/${String(id)}/size?stage=${String(stage)}`,
        method: 'POST',
        body,
      }),
      responseSchema: SizeAnswerSchema,
    }),
    reading: build.query<ReadingQuestion[], Place>({
      query: ({ id, stage }) => `work/${String(id)}/reading?stage=${String(stage)}`,
      rawResponseSchema: ReadingSchema,
      transformResponse: (answer: v.InferOutput<typeof ReadingSchema>) => answer.questions,
      keepUnusedDataFor: 0,
    }),
    answerReading: build.mutation<ReadingVerdict, Place & ReadingChoice>({
      query: ({ id, stage, ...body }) => ({
        url: `work/${String(id)}/reading?stage=${String(stage)}`,
        method: 'POST',
        body,
      }),
      responseSchema: ReadingVerdictSchema,
    }),
    readingDue: build.query<v.InferOutput<typeof ReadingDueSchema>['topics'], void>({
      query: () => 'my-reading',
      rawResponseSchema: ReadingDueSchema,
      transformResponse: (answer: v.InferOutput<typeof ReadingDueSchema>) => answer.topics,
      keepUnusedDataFor: 0,
    }),
    classReading: build.query<ClassReading['topics'], number>({
      query: (courseId) => `courses/${String(courseId)}/reading`,
      rawResponseSchema: ClassReadingSchema,
      transformResponse: (answer: ClassReading) => answer.topics,
      keepUnusedDataFor: 0,
    }),
  }),
});
