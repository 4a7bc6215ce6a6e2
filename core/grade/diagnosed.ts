import type { Cause } from './report.ts';

/** A cause that a diagnosis found, with what words it in the terms of the sheet. */
export interface DiagnosedCause extends Cause {
  /** What the mistake was made in. */
  readonly about?: string | undefined;
  /** Of a size that is another than the sheet gives: how that may have come. */
  readonly why?: string | undefined;
  /** What that size became, or by how much a place moved, in mm or degrees. */
  readonly becomes?:
    | { readonly kind: 'size'; readonly from: number; readonly to: number }
    | { readonly kind: 'place'; readonly byMm: number }
    | undefined;
}

/** What a diagnosis found, for scoring and for the report. */
export interface Diagnosed {
  readonly causes: readonly DiagnosedCause[];
  /** Whether a part with the first cause is the very part that was handed in. */
  readonly complete: boolean;
  /** Whether it also explains where the part lies. */
  readonly inPlace: boolean;
  /** What the checks measure on such a part, where it differs from the right one. */
  readonly checks: readonly { readonly checkId: string; readonly measured: number | null }[];
  /** Checks that speak of the mistakes themselves; the others fail only because of them. */
  readonly roots: readonly string[];
}
