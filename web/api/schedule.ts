/** Series of exercises over a term. */
import * as v from 'valibot';

import { ShiftedSchema, type Schedule, type Shifted } from '#api';

import { api } from '#web/server';

const IdsSchema = v.object({ ids: v.array(v.number()) });

export const { useScheduleMutation, useShiftMutation } = api.injectEndpoints({
  endpoints: (build) => ({
    schedule: build.mutation<{ readonly ids: number[] }, Schedule>({
      query: (body) => ({ url: 'schedules', method: 'POST', body }),
      responseSchema: IdsSchema,
      invalidatesTags: (answer) => (answer ? ['assignments', 'exercises'] : []),
    }),
    shift: build.mutation<Shifted, { readonly id: number; readonly days: number }>({
      query: ({ id, days }) => ({ url: `assignments/${String(id)}/shift`, method: 'POST', body: { days } }),
      responseSchema: ShiftedSchema,
      invalidatesTags: ['assignments', 'attempt'],
    }),
  }),
});
