import type { Cause } from './report.ts';

/** What a diagnosis found, for scoring and for the report. */
export interface Diagnosed {
  readonly causes: readonly Cause[];
  /** Whether a part with the first cause is the very part that was handed in. */
  readonly complete: boolean;
  /** Whether it also explains where the part lies. */
  readonly inPlace: boolean;
  /** What the checks measure on such a part, where it differs from the right one. */
  readonly checks: readonly { readonly checkId: string; readonly measured: number | null }[];
  /** Checks that speak of the mistakes themselves; the others fail only because of them. */
  readonly roots: readonly string[];
}
