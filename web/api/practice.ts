/** What a student keeps between reading and handing in. */
import type * as v from 'valibot';

import {
  KeptBuildSchema,
  KeptSizesSchema,
  RoundAnswerSchema,
  SavedSchema,
  type Round,
  type RoundAnswer,
  SizeAnswerSchema,
  type Saved,
  type SizeAnswer,
  type SizeQuestion,
  type Working,
} from '#api';

import { api } from '#web/server';

interface Place {
  readonly id: number;
  /** From 1. */
  readonly stage: number;
}
const at = (what: 'build' | 'round' | 'sizes', { id, stage }: Place): string =>
  `work/${String(id)}/${what}?stage=${String(stage)}`;

export const {
  useBuildQuery,
  useLazyBuildQuery,
  useKeepBuildMutation,
  useRoundQuery,
  useLazyRoundQuery,
  useKeepRoundMutation,
  useSizesQuery,
  useLazySizesQuery,
  useKeepSizesMutation,
  useAskSizeMutation,
} = api.injectEndpoints({
  endpoints: (build) => ({
    build: build.query<v.InferOutput<typeof KeptBuildSchema>, Place>({
      query: (place) => at('build', place),
      responseSchema: KeptBuildSchema,
      keepUnusedDataFor: 0,
    }),
    keepBuild: build.mutation<Saved, Place & { readonly version: number; readonly document: Working<'build'> }>({
      query: ({ id, stage, ...body }) => ({ url: at('build', { id, stage }), method: 'PUT', body }),
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
    askSize: build.mutation<SizeAnswer, Place & SizeQuestion>({
      query: ({ id, stage, ...body }) => ({
        url: `work/${String(id)}/size?stage=${String(stage)}`,
        method: 'POST',
        body,
      }),
      responseSchema: SizeAnswerSchema,
    }),
  }),
});
