import * as v from 'valibot';

import { FailureSchema } from '#api/session';

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

/** Whether somebody saved something in the meantime. */
export const isConflict = (error: unknown): boolean => (error as { status?: unknown } | undefined)?.status === 409;

function parseJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
