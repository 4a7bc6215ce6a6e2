import { strFromU8 } from 'fflate';

import { ProblemError } from '#core/problem';

import { MAX_COORDINATE, MAX_TRIANGLES, type MeshFile } from './triangles.ts';

const HEADER_BYTES = 80;
const FACET_BYTES = 50;

const tooMany = (): ProblemError =>
  new ProblemError(
    'too-many-triangles',
    `The file has more than ${String(MAX_TRIANGLES)} triangles. Export it again with a coarser setting, or as STEP.`,
  );

const badNumber = (text: string): ProblemError =>
  new ProblemError(
    'mesh-bad-number',
    `The file contains a coordinate that is not a usable number ("${text.slice(0, 40)}"). Export the model again.`,
  );

/** Whether the bytes are ASCII STL: they begin with "solid" and name a facet soon after, or end at once. */
export function isAsciiStl(bytes: Uint8Array): boolean {
  const head = strFromU8(bytes.subarray(0, 4096), true);
  return /^\s*solid\b/i.test(head) && (/\bfacet\s+normal\b/i.test(head) || /\bendsolid\b/i.test(head));
}

/** Whether the length of the bytes is that of a binary STL with the number of facets that it states, or more. */
export function isBinaryStl(bytes: Uint8Array): boolean {
  const count = facetCount(bytes);
  return count !== null && count > 0 && bytes.length >= HEADER_BYTES + 4 + FACET_BYTES * count;
}

function facetCount(bytes: Uint8Array): number | null {
  if (bytes.length < HEADER_BYTES + 4) return null;
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength).getUint32(HEADER_BYTES, true);
}

/**
 * Reads an STL file, binary or ASCII. Raises `truncated-stl`, `mesh-bad-number`, `decimal-comma`, `too-many-triangles`,
 * `empty-mesh`.
 */
export function readStl(bytes: Uint8Array): MeshFile {
  return isAsciiStl(bytes) ? readAscii(bytes) : readBinary(bytes);
}

function soup(positions: Float64Array, name: string | null): MeshFile {
  if (positions.length === 0)
    throw new ProblemError('empty-mesh', 'The STL file contains no triangles. Export the solid body itself.');
  const indices = Uint32Array.from({ length: positions.length / 3 }, (_, i) => i);
  return { format: 'stl', declaredUnit: null, name, program: null, parts: [{ positions, indices }] };
}

function readBinary(bytes: Uint8Array): MeshFile {
  const count = facetCount(bytes) ?? 0;
  if (count > MAX_TRIANGLES && bytes.length >= HEADER_BYTES + 4 + FACET_BYTES * MAX_TRIANGLES) throw tooMany();
  if (bytes.length < HEADER_BYTES + 4 + FACET_BYTES * count)
    throw new ProblemError(
      'truncated-stl',
      `The STL file states ${String(count)} triangles but breaks off before its end. Export it again, and check that the copy is complete.`,
    );
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const positions = new Float64Array(count * 9);
  for (let i = 0; i < count; i++) {
    const facet = HEADER_BYTES + 4 + FACET_BYTES * i + 12;
    for (let k = 0; k < 9; k++) {
      const value = view.getFloat32(facet + 4 * k, true);
      if (!(Math.abs(value) <= MAX_COORDINATE)) throw badNumber(String(value));
      positions[9 * i + k] = value;
    }
  }
  const header = strFromU8(bytes.subarray(0, HEADER_BYTES), true);
  const name = header.replace(/[^\x20-\x7e].*$/s, '').trim();
  return soup(positions, name === '' ? null : name);
}

function readAscii(bytes: Uint8Array): MeshFile {
  const text = strFromU8(bytes, true);
  if (!/\bendsolid\b/i.test(text.slice(-2048)))
    throw new ProblemError(
      'truncated-stl',
      'The STL file breaks off before its end. Export it again, and check that the copy is complete.',
    );
  const vertices = /\bvertex[ \t]+(\S+)[ \t]+(\S+)[ \t]+(\S+)([^\r\n]*)/gi;
  const values: number[] = [];
  for (const match of text.matchAll(vertices)) {
    if (match[0].includes(','))
      throw new ProblemError(
        'decimal-comma',
        'The file writes numbers with a decimal comma, which the format does not allow, so its sizes cannot be trusted. Export it with the system set to a decimal point.',
      );
    for (const part of match.slice(1, 4)) {
      const value = Number(part);
      if (!(Math.abs(value) <= MAX_COORDINATE)) throw badNumber(part);
      values.push(value);
    }
    if (values.length > 9 * MAX_TRIANGLES) throw tooMany();
  }
  if (values.length % 9 !== 0)
    throw new ProblemError('damaged-stl', 'A triangle of the STL file has too few corners. Export the model again.');
  const name = /^\s*solid[ \t]*([^\r\n]*)/i.exec(text)?.[1]?.trim() ?? '';
  return soup(Float64Array.from(values), name === '' ? null : name.slice(0, 80));
}
