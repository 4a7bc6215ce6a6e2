import { extentsOf, guessUnit } from '#core/mesh';
import { detectFormat, formatOf } from '#core/model';
import { formatFixed, LENGTH_UNITS, type DrawingUnit, type LengthUnit } from '#core/quantity';
import { length } from '#core/vector';

/** Largest extents along X, Y and Z of a file whose format has no unit, in its own numbers. */
export type Extents = readonly [number, number, number];

/** Extents of a file whose format states no unit; null for other formats, and for files that cannot be read. */
export function extentsOfFile(bytes: Uint8Array, fileName: string): Extents | null {
  try {
    const format = detectFormat(bytes, fileName);
    if (format === null) return null;
    const { reader, statesUnit } = formatOf(format);
    return statesUnit || reader.by !== 'triangles' ? null : extentsOf(reader.read(bytes));
  } catch {
    // What is wrong with the file is said by the server, when it is handed in.
    return null;
  }
}

/** The unit in which the file has a usual size: that of the drawing before others. */
export const guessFileUnit = (extents: Extents, drawing: DrawingUnit): LengthUnit =>
  guessUnit(length(extents), { preferred: drawing });

/** "120.0 x 64.0 x 10.0 mm": the part when its numbers are taken in `unit`, written in the unit of the drawing. */
export function sizeText(extents: Extents, unit: LengthUnit, drawing: DrawingUnit): string {
  const decimals = drawing === 'mm' ? 1 : 2;
  const sizes = extents.map((size) => formatFixed((size * LENGTH_UNITS[unit]) / LENGTH_UNITS[drawing], decimals));
  return `${sizes.join(' x ')} ${drawing}`;
}
