/** Parts in 3D and sheets, whoever looks at them. */
import * as v from 'valibot';

import { type DisplayModel, DisplayModelSchema } from '#api';

import { api } from '#web/server';

const text = { responseHandler: 'text' } as const;

export const partApi = api.injectEndpoints({
  endpoints: (build) => ({
    model: build.query<DisplayModel, string>({
      query: (url) => url,
      responseSchema: DisplayModelSchema,
      keepUnusedDataFor: 120,
    }),
    sheet: build.query<string, string>({
      query: (url) => ({ url, ...text }),
      responseSchema: v.string(),
    }),
  }),
});

export const { useModelQuery, useSheetQuery } = partApi;
