import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';

/** The server; each subject adds its endpoints where it is first needed, so that the first page carries its own only. */
export const api = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({ baseUrl: '/api/', credentials: 'same-origin' }),
  tagTypes: [
    'session',
    'exercises',
    'assignments',
    'attempt',
    'work',
    'remarks',
    'people',
    'calendar',
    'sites',
    'news',
    'questions',
  ],
  endpoints: () => ({}),
});
