import { strFromU8 } from 'fflate';

import { ProblemError } from '#core/problem';

import { MAX_CORNERS, triangulate } from './polygon.ts';
import { MAX_COORDINATE, MAX_TRIANGLES, type MeshFile } from './triangles.ts';

/** Kinds of numbers, by both of the names that files use, with how many bytes each takes. */
const NUMBERS = {
  char: 1,
  int8: 1,
  uchar: 1,
  uint8: 1,
  short: 2,
  int16: 2,
  ushort: 2,
  uint16: 2,
  int: 4,
  int32: 4,
  uint: 4,
  uint32: 4,
  float: 4,
  float32: 4,
  double: 8,
  float64: 8,
} as const;
type NumberKind = keyof typeof NUMBERS;
const isNumberKind = (word: string | undefined): word is NumberKind => word !== undefined && word in NUMBERS;

interface Property {
  readonly name: string;
  readonly kind: NumberKind;
  /** Kind of the count in front of a list; null for a single number. */
  readonly countKind: NumberKind | null;
}

interface Element {
  readonly name: string;
  readonly count: number;
  readonly properties: readonly Property[];
}

interface Header {
  readonly encoding: 'ascii' | 'binary_little_endian' | 'binary_big_endian';
  readonly elements: readonly Element[];
  /** First byte behind the header. */
  readonly end: number;
}

const MOST_HEADER_BYTES = 64 * 1024;
/** Closed parts have about half as many vertices as triangles; unjoined ones three to a triangle. */
const MAX_ROWS = 3 * MAX_TRIANGLES;

const damaged = (what: string): ProblemError =>
  new ProblemError('damaged-ply', `The PLY file is damaged (${what}). Export the model again.`);
const tooMany = (): ProblemError =>
  new ProblemError(
    'too-many-triangles',
    `The file has more than ${String(MAX_TRIANGLES)} triangles. Export it again with a coarser setting, or as STEP.`,
  );

/** Whether a text begins as a PLY file does. */
export const isPly = (head: string): boolean =>
  /^ply\r?\n\s*(?:comment[^\n]*\n|obj_info[^\n]*\n)*\s*format\s/.test(head);

function headerOf(bytes: Uint8Array): Header {
  const text = strFromU8(bytes.subarray(0, MOST_HEADER_BYTES), true);
  const end = /\bend_header\r?\n/.exec(text);
  if (end === null) throw damaged('its header does not end');
  let encoding: Header['encoding'] | null = null;
  const elements: { name: string; count: number; properties: Property[] }[] = [];
  for (const line of text.slice(0, end.index).split(/\r?\n/)) {
    const [word, first, second, third, fourth] = line.trim().split(/\s+/);
    if (word === 'format') {
      if (first !== 'ascii' && first !== 'binary_little_endian' && first !== 'binary_big_endian')
        throw damaged(`its format "${first ?? ''}" is not known`);
      encoding = first;
    } else if (word === 'element') {
      const count = Number(second);
      if (!Number.isInteger(count) || count < 0) throw damaged('a number of elements is none');
      if (count > MAX_ROWS) throw tooMany();
      elements.push({ name: first ?? '', count, properties: [] });
    } else if (word === 'property') {
      const isList = first === 'list';
      const [kind, countKind, name] = isList ? [third, second, fourth] : [first, null, second];
      if (!isNumberKind(kind) || (isList && !isNumberKind(countKind ?? undefined)))
        throw damaged('a property has a kind of number that is not known');
      elements.at(-1)?.properties.push({
        name: name ?? '',
        kind,
        countKind: isNumberKind(countKind ?? undefined) ? (countKind as NumberKind) : null,
      });
    }
  }
  if (encoding === null) throw damaged('it does not say its format');
  return { encoding, elements, end: end.index + end[0].length };
}

/** Gives the numbers of a file one after the other. */
type Next = (kind: NumberKind) => number;

/** Raises where the file breaks off. */
function asciiNumbers(bytes: Uint8Array, from: number): Next {
  const text = strFromU8(bytes.subarray(from), true);
  const words = text.matchAll(/\S+/g);
  return () => {
    const next = words.next();
    if (next.done === true) throw damaged('it breaks off before its end');
    const value = Number(next.value[0]);
    if (Number.isNaN(value))
      throw new ProblemError(
        'mesh-bad-number',
        `The file contains a coordinate that is not a usable number ("${next.value[0].slice(0, 40)}"). Export the model again.`,
      );
    return value;
  };
}

function binaryNumbers(bytes: Uint8Array, from: number, isLittle: boolean): Next {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const read: Readonly<Record<NumberKind, (at: number) => number>> = {
    char: (at) => view.getInt8(at),
    int8: (at) => view.getInt8(at),
    uchar: (at) => view.getUint8(at),
    uint8: (at) => view.getUint8(at),
    short: (at) => view.getInt16(at, isLittle),
    int16: (at) => view.getInt16(at, isLittle),
    ushort: (at) => view.getUint16(at, isLittle),
    uint16: (at) => view.getUint16(at, isLittle),
    int: (at) => view.getInt32(at, isLittle),
    int32: (at) => view.getInt32(at, isLittle),
    uint: (at) => view.getUint32(at, isLittle),
    uint32: (at) => view.getUint32(at, isLittle),
    float: (at) => view.getFloat32(at, isLittle),
    float32: (at) => view.getFloat32(at, isLittle),
    double: (at) => view.getFloat64(at, isLittle),
    float64: (at) => view.getFloat64(at, isLittle),
  };
  let at = from;
  return (kind) => {
    if (at + NUMBERS[kind] > bytes.length) throw damaged('it breaks off before its end');
    const value = read[kind](at);
    at += NUMBERS[kind];
    return value;
  };
}

/** Reads one row: single numbers by name, lists by name. */
function readRow(
  properties: readonly Property[],
  next: Next,
): { readonly numbers: Map<string, number>; readonly lists: Map<string, number[]> } {
  const numbers = new Map<string, number>();
  const lists = new Map<string, number[]>();
  for (const { name, kind, countKind } of properties) {
    if (countKind === null) {
      numbers.set(name, next(kind));
      continue;
    }
    const count = next(countKind);
    if (!Number.isInteger(count) || count < 0 || count > MAX_CORNERS) throw damaged('a list has an absurd length');
    lists.set(
      name,
      Array.from({ length: count }, () => next(kind)),
    );
  }
  return { numbers, lists };
}

/** The corner of a face, checked. */
function cornerOf(index: number, count: number): number {
  if (Number.isInteger(index) && index >= 0 && index < count) return index;
  throw new ProblemError(
    'bad-index',
    'A face of the PLY file names a vertex that does not exist. Export the model again.',
  );
}

/**
 * Reads a PLY file, as text or in either order of bytes: its vertices and its faces of any number of corners; all else in it
 * is passed over. Raises `damaged-ply`, `mesh-bad-number`, `bad-index`, `too-many-triangles`, `empty-mesh`.
 */
export function readPly(bytes: Uint8Array): MeshFile {
  const { encoding, elements, end } = headerOf(bytes);
  const next =
    encoding === 'ascii' ? asciiNumbers(bytes, end) : binaryNumbers(bytes, end, encoding === 'binary_little_endian');
  const positions: number[] = [];
  const indices: number[] = [];
  for (const { name, count, properties } of elements)
    for (let i = 0; i < count; i++) {
      const { numbers, lists } = readRow(properties, next);
      if (name === 'vertex')
        for (const axis of ['x', 'y', 'z']) {
          const value = numbers.get(axis) ?? Number.NaN;
          if (!(Math.abs(value) <= MAX_COORDINATE))
            throw new ProblemError(
              'mesh-bad-number',
              `The file contains a coordinate that is not a usable number ("${String(value)}"). Export the model again.`,
            );
          positions.push(value);
        }
      if (name === 'face') {
        const corners = lists.get('vertex_indices') ?? lists.get('vertex_index') ?? [];
        const checked = corners.map((index) => cornerOf(index, positions.length / 3));
        indices.push(...triangulate(checked, positions));
        if (indices.length > 3 * MAX_TRIANGLES) throw tooMany();
      }
    }
  if (indices.length === 0)
    throw new ProblemError('empty-mesh', 'The PLY file contains no faces. Export the solid body itself.');
  const parts = [{ positions: Float64Array.from(positions), indices: Uint32Array.from(indices) }];
  return { format: 'ply', declaredUnit: null, name: null, program: null, parts };
}
