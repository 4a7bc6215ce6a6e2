/** Typed errors: every failure has a stable code and a sentence that tells a person what to do. */

import type { ProblemCode } from './codes.ts';

export { statusOf, type ProblemCode, type ProblemStatus } from './codes.ts';

export interface Problem {
  /** Stable, lower case with dashes, for programs. */
  readonly code: ProblemCode;
  /** One or two sentences for the person who has to act. */
  readonly message: string;
}

export type Result<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly problem: Problem };

export const succeed = <T>(value: T): Result<T> => ({ ok: true, value });
export const refuse = (code: ProblemCode, message: string): Result<never> => ({
  ok: false,
  problem: { code, message },
});

/** Carries a `Problem` through code that is easier to read with exceptions; `attempt` turns it back into a value. */
export class ProblemError extends Error {
  readonly problem: Problem;
  constructor(code: ProblemCode, message: string) {
    super(message);
    this.name = 'ProblemError';
    this.problem = { code, message };
  }
}

/** Runs `work` and returns its value, or the problem it raised. Other exceptions pass through. */
export function attempt<T>(work: () => T): Result<T> {
  try {
    return succeed(work());
  } catch (error) {
    if (error instanceof ProblemError) return { ok: false, problem: error.problem };
    throw error;
  }
}

/** The value of a result; raises its problem as a `ProblemError`. */
export function unwrap<T>(result: Result<T>): T {
  if (result.ok) return result.value;
  throw new ProblemError(result.problem.code, result.problem.message);
}
