/** A student's work, and handing in. */
import type * as v from 'valibot';

import {
  HandedInSchema,
  ProgressSchema,
  type Progress,
  type WorkDetail,
  WorkDetailSchema,
  type WorkItem,
  WorkListSchema,
} from '#api';
import type { TypedInput } from '#core/grade';
import type { LengthUnit } from '#core/quantity';

import { api } from '#web/server';

export interface HandIn {
  readonly assignmentId: number;
  /** From 1. */
  readonly stage: number;
  readonly file: File;
  /** What a file without unit is in; null for other files. */
  readonly unit: LengthUnit | null;
  readonly typed: readonly TypedInput[];
  readonly buildLog: string;
  /** Of this hand-in: sent again, it is still the same attempt. */
  readonly key: string;
}

export const { useWorkQuery, useWorkDetailQuery, useHandInMutation, useProgressQuery } = api.injectEndpoints({
  endpoints: (build) => ({
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
    progress: build.query<Progress, void>({
      query: () => 'my-progress',
      responseSchema: ProgressSchema,
      providesTags: ['work'],
    }),
    handIn: build.mutation<{ attemptId: number }, HandIn>({
      query: ({ assignmentId, stage, file, unit, typed, buildLog, key }) => {
        const body = new FormData();
        body.append('file', file);
        if (unit !== null) body.append('unit', unit);
        body.append('stage', String(stage));
        body.append('typed', JSON.stringify(typed));
        body.append('log', buildLog);
        body.append('key', key);
        return { url: `work/${String(assignmentId)}/attempts`, method: 'POST', body };
      },
      responseSchema: HandedInSchema,
      invalidatesTags: ['work'],
    }),
  }),
});
