import { ProblemError } from '#core/problem';
import type { Vec3 } from '#core/vector';

import { MAX_CORNERS, triangulate } from './polygon.ts';
import { MAX_COORDINATE, MAX_TRIANGLES, type MeshFile } from './triangles.ts';

/** Whether a text looks like OBJ: a vertex line and a face line. */
export const isObj = (text: string): boolean =>
  /^[ \t]*v[ \t]+[-+.\d]/m.test(text) && /^[ \t]*f[ \t]+[-\d]/m.test(text);

/**
 * Reads an OBJ file: vertices and faces of any number of corners, indices from the front or, negative, from the back.
 * Raises `mesh-bad-number`, `bad-index`, `decimal-comma`, `too-many-triangles`, `empty-mesh`.
 */
export function readObj(text: string): MeshFile {
  const positions: number[] = [];
  const indices: number[] = [];
  let name: string | null = null;
  for (const line of text.replaceAll(/\\\r?\n/g, ' ').split(/\r?\n/)) {
    const words = line.trim().split(/\s+/);
    switch (words[0]) {
      case 'o':
        name ??= words.slice(1).join(' ').slice(0, 80) || null;
        break;
      case 'v':
        positions.push(...vertexOf(words));
        break;
      case 'f':
        indices.push(...triangulate(cornersOf(words, positions.length / 3), positions));
        if (indices.length > 3 * MAX_TRIANGLES)
          throw new ProblemError(
            'too-many-triangles',
            `The file has more than ${String(MAX_TRIANGLES)} triangles. Export it again with a coarser setting, or as STEP.`,
          );
        break;
    }
  }
  if (indices.length === 0)
    throw new ProblemError('empty-mesh', 'The OBJ file contains no faces. Export the solid body itself.');
  return {
    format: 'obj',
    declaredUnit: null,
    name,
    program: null,
    parts: [{ positions: Float64Array.from(positions), indices: Uint32Array.from(indices) }],
  };
}

function vertexOf(words: readonly string[]): Vec3 {
  const values = words.slice(1, 4).map((word) => {
    if (/^[-+]?\d+,\d+$/.test(word))
      throw new ProblemError(
        'decimal-comma',
        'The file writes numbers with a decimal comma, which the format does not allow, so its sizes cannot be trusted. Export it with the system set to a decimal point.',
      );
    return Number(word);
  });
  const [x = NaN, y = NaN, z = NaN] = values;
  if (![x, y, z].every((value) => Math.abs(value) <= MAX_COORDINATE))
    throw new ProblemError(
      'mesh-bad-number',
      `The file contains a coordinate that is not a usable number ("${words.slice(1, 4).join(' ').slice(0, 60)}"). Export the model again.`,
    );
  return [x, y, z];
}

function cornersOf(words: readonly string[], count: number): number[] {
  const corners = words.slice(1).map((word) => {
    const written = Number(word.split('/')[0]);
    const index = written < 0 ? count + written : written - 1;
    if (!Number.isInteger(index) || index < 0 || index >= count)
      throw new ProblemError(
        'bad-index',
        `A face of the OBJ file names a vertex that does not exist ("${word.slice(0, 30)}"). Export the model again.`,
      );
    return index;
  });
  if (corners.length > MAX_CORNERS)
    throw new ProblemError('bad-index', 'A face of the OBJ file has too many corners. Export the model again.');
  return corners;
}
