import type { Measurement } from '#core/check';

/** A part of another exercise, known by its size. */
export interface KnownPart {
  /** Number and title of its exercise. */
  readonly name: string;
  readonly volumeMm3: number;
  readonly areaMm2: number;
}

/** Two parts of exercises are never alike to this share, and the same part always is. */
const SAME_SHARE = 1e-4;

/** The known part that was measured, by volume and area, as far as facets can tell; null where it is none of them. */
export function knownPart({ estimate }: Pick<Measurement, 'estimate'>, parts: readonly KnownPart[]): KnownPart | null {
  const { volumeMm3, areaMm2, volumeUncertaintyMm3, areaUncertaintyMm2 } = estimate;
  return (
    parts.find(
      (part) =>
        Math.abs(part.volumeMm3 - volumeMm3) <= SAME_SHARE * volumeMm3 + volumeUncertaintyMm3 &&
        Math.abs(part.areaMm2 - areaMm2) <= SAME_SHARE * areaMm2 + areaUncertaintyMm2,
    ) ?? null
  );
}
