import type { Measurement, Reference } from '#core/check';

import type { KnownPart } from './known.ts';
import type { ReportLine, TypedLine } from './report.ts';

/** What is known of a submission when causes are looked for. */
export interface Evidence {
  readonly reference: Reference;
  readonly measurement: Measurement;
  readonly lines: readonly ReportLine[];
  readonly typed: readonly TypedLine[];
  /** Parts of other exercises, one of which may have been handed in. */
  readonly others: readonly KnownPart[];
}
