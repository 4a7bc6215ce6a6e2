import { extentsOf, guessUnit, isAsciiStl, isBinaryStl, isObj, readObj, readStl, type MeshFile } from '#core/mesh';
import { formatFixed, LENGTH_UNITS, type DrawingUnit, type LengthUnit } from '#core/quantity';
import { length } from '#core/vector';

/** Largest extents along X, Y and Z of a file whose format has no unit, in its own numbers. */
export type Extents = readonly [number, number, number];

/** Extents of an STL or OBJ file; null for other formats, which say their unit, and for files that cannot be read. */
export function extentsOfFile(bytes: Uint8Array, fileName: string): Extents | null {
  try {
    const file = meshFileOf(bytes, fileName);
    return file === null ? null : extentsOf(file);
  } catch {
    // What is wrong with the file is said by the server, when it is handed in.
    return null;
  }
}

function meshFileOf(bytes: Uint8Array, fileName: string): MeshFile | null {
  if (isAsciiStl(bytes) || (/\.stl$/i.test(fileName) && isBinaryStl(bytes))) return readStl(bytes);
  if (!/\.obj$/i.test(fileName)) return null;
  const text = new TextDecoder().decode(bytes);
  return isObj(text) ? readObj(text) : null;
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
