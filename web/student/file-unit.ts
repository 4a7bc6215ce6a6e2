import { isAsciiStl, isBinaryStl, isObj, readObj, readStl, type MeshFile } from '#core/mesh';
import { formatFixed, LENGTH_UNITS, type DrawingUnit, type LengthUnit } from '#core/quantity';

/** Largest extents along X, Y and Z of a file whose format has no unit, in its own numbers. */
export type Extents = readonly [number, number, number];

/** Usual extents of a part, mm: outside of these the numbers are taken in another unit. */
const USUAL_MM = [8, 2000] as const;

/** Extents of an STL or OBJ file; null for other formats, which say their unit, and for files that cannot be read. */
export function extentsOf(bytes: Uint8Array, fileName: string): Extents | null {
  try {
    const file = meshFileOf(bytes, fileName);
    return file === null ? null : measure(file);
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

function measure({ parts }: MeshFile): Extents {
  const low: [number, number, number] = [Infinity, Infinity, Infinity];
  const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
  for (const { positions } of parts)
    for (let i = 0; i < positions.length; i++) {
      const axis = (i % 3) as 0 | 1 | 2;
      low[axis] = Math.min(low[axis], positions[i] ?? 0);
      high[axis] = Math.max(high[axis], positions[i] ?? 0);
    }
  return [high[0] - low[0], high[1] - low[1], high[2] - low[2]];
}

/** The unit in which the file has a usual size: that of the drawing before others. */
export function guessFileUnit(extents: Extents, drawing: DrawingUnit): LengthUnit {
  const size = Math.hypot(...extents);
  const fits = (unit: LengthUnit): boolean =>
    size * LENGTH_UNITS[unit] >= USUAL_MM[0] && size * LENGTH_UNITS[unit] <= USUAL_MM[1];
  return ([drawing, 'mm', 'in', 'cm', 'm'] as const).find(fits) ?? drawing;
}

/** "120.0 x 64.0 x 10.0 mm": the part when its numbers are taken in `unit`, written in the unit of the drawing. */
export function sizeText(extents: Extents, unit: LengthUnit, drawing: DrawingUnit): string {
  const decimals = drawing === 'mm' ? 1 : 2;
  const sizes = extents.map((size) => formatFixed((size * LENGTH_UNITS[unit]) / LENGTH_UNITS[drawing], decimals));
  return `${sizes.join(' x ')} ${drawing}`;
}
