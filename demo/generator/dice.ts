import { seeded } from '#demo/corpus';
import { LENGTH_UNITS, type DrawingUnit } from '#core/quantity';

/** Sizes are whole steps of these, in the drawing unit: what a designer of small parts would write. */
const COARSE: Readonly<Record<DrawingUnit, number>> = { mm: 1, in: 1 / 16 };
const FINE: Readonly<Record<DrawingUnit, number>> = { mm: 0.5, in: 1 / 32 };

/** A number as a recipe writes it. */
export const text = (value: number): string => String(Number(value.toFixed(6)));

/** Numbers that follow from a seed: the same in every run. */
export class Dice {
  readonly unit: DrawingUnit;
  private readonly next: () => number;

  constructor(seed: number, unit?: DrawingUnit) {
    this.next = seeded(seed * 7919 + 13);
    for (let i = 0; i < 5; i++) this.next();
    this.unit = unit ?? (this.next() < 0.3 ? 'in' : 'mm');
  }

  /** A whole number of both ends and what lies between. */
  whole(least: number, most: number): number {
    return least + Math.floor(this.next() * (most - least + 1));
  }

  chance(share: number): boolean {
    return this.next() < share;
  }

  pick<T>(list: readonly [T, ...T[]]): T {
    return list[this.whole(0, list.length - 1)] ?? list[0];
  }

  /** A size between two, given in mm, in the drawing unit and round in it. */
  size(leastMm: number, mostMm: number): number {
    return this.round(leastMm + this.next() * (mostMm - leastMm), COARSE);
  }

  /** The same for small sizes, such as diameters of holes. */
  small(leastMm: number, mostMm: number): number {
    return this.round(leastMm + this.next() * (mostMm - leastMm), FINE);
  }

  private round(lengthMm: number, steps: Readonly<Record<DrawingUnit, number>>): number {
    const step = steps[this.unit];
    return Math.max(step, Number((Math.round(lengthMm / LENGTH_UNITS[this.unit] / step) * step).toFixed(6)));
  }
}
