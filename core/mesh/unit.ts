import { LENGTH_UNITS, type LengthUnit } from '#core/quantity';
import { boxAround, boxSize, boxUnion, type Box, type Vec3 } from '#core/vector';

import type { MeshFile } from './triangles.ts';

/** Extents of all objects of a file along X, Y and Z, in its own numbers. */
export function extentsOf({ parts }: MeshFile): Vec3 {
  const boxes = parts.map(({ positions }) => boxAround(positions));
  const [first, ...others] = boxes;
  return first === undefined ? [0, 0, 0] : boxSize(others.reduce<Box>(boxUnion, first));
}

/** A hand-made part is between these over all, mm. */
const USUAL_SIZE_MM = [8, 2000] as const;
/** A guess must come this near to the size that is expected. */
const NEAR = 1.6;
const GUESSES: readonly LengthUnit[] = ['mm', 'in', 'cm', 'm'];

/**
 * The unit in which a file that states none has the expected size; without an expected size, the first in which it has a
 * usual one. `preferred` comes before all others.
 */
export function guessUnit(
  diagonal: number,
  {
    expectedSizeMm,
    preferred = 'mm',
  }: { readonly expectedSizeMm?: number | undefined; readonly preferred?: LengthUnit } = {},
): LengthUnit {
  if (expectedSizeMm === undefined) {
    const isUsual = (unit: LengthUnit): boolean => {
      const size = diagonal * LENGTH_UNITS[unit];
      return size >= USUAL_SIZE_MM[0] && size <= USUAL_SIZE_MM[1];
    };
    return [preferred, ...GUESSES].find(isUsual) ?? preferred;
  }
  const off = (unit: LengthUnit): number => Math.abs(Math.log((diagonal * LENGTH_UNITS[unit]) / expectedSizeMm));
  const best = GUESSES.reduce((a, b) => (off(b) < off(a) ? b : a));
  return off(best) < Math.log(NEAR) ? best : preferred;
}
