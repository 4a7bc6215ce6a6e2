import type { Result } from '#core/problem';

/** What a number of a sum is: mm, rad, g/cm³, mm³ or g; a count has no unit. */
export type SumQuantity = 'length' | 'angle' | 'count' | 'density' | 'volume' | 'mass';

export interface SumInput {
  readonly id: string;
  readonly label: string;
  readonly quantity: SumQuantity;
}

export interface SumRow {
  readonly label: string;
  readonly quantity: SumQuantity;
  readonly value: number;
}

/** A sum of the workshop: what is typed, and what comes of it. */
export interface ShopSum {
  readonly id: string;
  readonly title: string;
  /** The formula in words, with where it comes from. */
  readonly source: string;
  readonly inputs: readonly SumInput[];
  /** `values` has every input, in the units of `SumQuantity`. Refuses with `bad-input` what gives no sense. */
  readonly work: (values: Readonly<Record<string, number>>) => Result<readonly SumRow[]>;
}
