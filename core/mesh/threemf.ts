import { XMLParser } from 'fast-xml-parser';
import { strFromU8, unzipSync } from 'fflate';

import { ProblemError } from '#core/problem';
import type { LengthUnit } from '#core/quantity';

import { MAX_COORDINATE, MAX_TRIANGLES, type MeshFile, type Triangles } from './triangles.ts';

/** Unpacked bytes of the model part; a package that unpacks to more is refused before it is unpacked. */
const MAX_UNPACKED_BYTES = 160 * 1024 * 1024;
const MAX_DEPTH = 12;
const MAX_INSTANCES = 500;

const UNITS: Readonly<Record<string, readonly [unit: LengthUnit, factor: number]>> = {
  micron: ['mm', 1e-3],
  millimeter: ['mm', 1],
  centimeter: ['cm', 1],
  inch: ['in', 1],
  foot: ['ft', 1],
  meter: ['m', 1],
};

const damaged = (what: string): ProblemError =>
  new ProblemError('damaged-3mf', `The 3MF file is damaged (${what}). Export the model again.`);

type Node = Readonly<Record<string, unknown>>;

const listOf = (value: unknown): Node[] =>
  (Array.isArray(value) ? value : value === undefined || value === '' ? [] : [value]) as Node[];
const nodeOf = (value: unknown): Node => (typeof value === 'object' && value !== null ? (value as Node) : {});
const textOf = (value: unknown): string => (typeof value === 'string' ? value : '');

/** Whether bytes begin as a zip archive does (local file header, PK 3). */
export const isZip = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 3;

function modelText(bytes: Uint8Array): string {
  let total = 0;
  const files = (() => {
    try {
      return unzipSync(bytes, {
        filter: ({ name, originalSize }) => {
          if (!/\.(model|rels)$/i.test(name)) return false;
          total += originalSize;
          if (total > MAX_UNPACKED_BYTES)
            throw new ProblemError(
              'too-large-unpacked',
              'The 3MF file unpacks to more data than any part needs. Export it with a coarser setting, or as STEP.',
            );
          return true;
        },
      });
    } catch (error) {
      if (error instanceof ProblemError) throw error;
      throw damaged('the package cannot be unpacked');
    }
  })();
  const relations = files['_rels/.rels'];
  const target =
    relations &&
    /Target="\/?([^"]+\.model)"[^>]*3dmodel|3dmodel"[^>]*Target="\/?([^"]+\.model)"/i.exec(strFromU8(relations));
  const named = target?.[1] ?? target?.[2];
  const found = (named === undefined ? undefined : files[named]) ?? files['3D/3dmodel.model'];
  const only = found ?? Object.entries(files).find(([name]) => name.toLowerCase().endsWith('.model'))?.[1];
  if (only === undefined)
    throw new ProblemError(
      'not-3mf',
      'The file is a package without a 3D model in it. Export the part as 3MF or STEP.',
    );
  return strFromU8(only);
}

/** Rows of a 4 x 3 matrix that is applied to row vectors. */
type Transform = readonly number[];
const STAY: Transform = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];

function transformOf(text: unknown): Transform {
  if (textOf(text) === '') return STAY;
  const values = textOf(text).trim().split(/\s+/).map(Number);
  if (values.length !== 12 || !values.every(Number.isFinite)) throw damaged('a transform is not twelve numbers');
  return values;
}

const cell = (m: Transform, row: number, column: number): number => m[3 * row + column] ?? 0;

/** First `a`, then `b`. */
const chained = (a: Transform, b: Transform): Transform =>
  Array.from({ length: 12 }, (_, i) => {
    const [row, column] = [Math.floor(i / 3), i % 3];
    const sum =
      cell(a, row, 0) * cell(b, 0, column) +
      cell(a, row, 1) * cell(b, 1, column) +
      cell(a, row, 2) * cell(b, 2, column);
    return row === 3 ? sum + cell(b, 3, column) : sum;
  });

const determinant = (m: Transform): number =>
  cell(m, 0, 0) * (cell(m, 1, 1) * cell(m, 2, 2) - cell(m, 1, 2) * cell(m, 2, 1)) -
  cell(m, 0, 1) * (cell(m, 1, 0) * cell(m, 2, 2) - cell(m, 1, 2) * cell(m, 2, 0)) +
  cell(m, 0, 2) * (cell(m, 1, 0) * cell(m, 2, 1) - cell(m, 1, 1) * cell(m, 2, 0));

function placed(mesh: Triangles, transform: Transform, factor: number): Triangles {
  const { positions } = mesh;
  const moved = new Float64Array(positions.length);
  for (let i = 0; i < positions.length; i += 3) {
    const [x, y, z] = [positions[i] ?? 0, positions[i + 1] ?? 0, positions[i + 2] ?? 0];
    for (let k = 0; k < 3; k++)
      moved[i + k] =
        (x * cell(transform, 0, k) + y * cell(transform, 1, k) + z * cell(transform, 2, k) + cell(transform, 3, k)) *
        factor;
  }
  const indices = mesh.indices.slice();
  // A mirrored placement turns the triangles inside out; they are turned back.
  if (determinant(transform) < 0)
    for (let t = 0; t < indices.length; t += 3) {
      const second = indices[t + 1] ?? 0;
      indices[t + 1] = indices[t + 2] ?? 0;
      indices[t + 2] = second;
    }
  return { positions: moved, indices };
}

function meshOf(mesh: Node): Triangles {
  const vertices = listOf(nodeOf(mesh['vertices'])['vertex']);
  const triangles = listOf(nodeOf(mesh['triangles'])['triangle']);
  if (triangles.length > MAX_TRIANGLES)
    throw new ProblemError(
      'too-many-triangles',
      `The file has more than ${String(MAX_TRIANGLES)} triangles. Export it again with a coarser setting, or as STEP.`,
    );
  const positions = new Float64Array(vertices.length * 3);
  vertices.forEach((vertex, i) => {
    (['x', 'y', 'z'] as const).forEach((axis, k) => {
      const value = Number(vertex[axis]);
      if (!(Math.abs(value) <= MAX_COORDINATE))
        throw new ProblemError(
          'mesh-bad-number',
          `The file contains a coordinate that is not a usable number ("${textOf(vertex[axis]).slice(0, 40)}"). Export the model again.`,
        );
      positions[3 * i + k] = value;
    });
  });
  const indices = new Uint32Array(triangles.length * 3);
  triangles.forEach((triangle, i) => {
    (['v1', 'v2', 'v3'] as const).forEach((corner, k) => {
      const index = Number(triangle[corner]);
      if (!Number.isInteger(index) || index < 0 || index >= vertices.length)
        throw new ProblemError(
          'bad-index',
          'A triangle of the 3MF file names a vertex that does not exist. Export the model again.',
        );
      indices[3 * i + k] = index;
    });
  });
  return { positions, indices };
}

/**
 * Reads a 3MF package: unit, all objects that are built, their components and placements. Raises `damaged-3mf`,
 * `not-3mf`, `too-large-unpacked`, `mesh-bad-number`, `bad-index`, `too-many-triangles`, `empty-mesh`.
 */
export function read3mf(bytes: Uint8Array): MeshFile {
  const text = modelText(bytes);
  if (/<!(DOCTYPE|ENTITY)/i.test(text.slice(0, 65_536))) throw damaged('it declares entities of its own');
  const parser = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '',
    processEntities: false,
    parseAttributeValue: false,
    removeNSPrefix: true,
  });
  const parsed = (() => {
    try {
      return parser.parse(text) as unknown;
    } catch {
      throw damaged('its XML cannot be read');
    }
  })();
  const model = nodeOf(nodeOf(parsed)['model']);
  const [declaredUnit, factor] = UNITS[textOf(model['unit']) || 'millimeter'] ?? [null, 1];
  const objects = new Map(listOf(nodeOf(model['resources'])['object']).map((object) => [textOf(object['id']), object]));
  const parts: Triangles[] = [];
  let instances = 0;

  const place = (id: string, transform: Transform, depth: number): void => {
    const object = objects.get(id);
    if (object === undefined) throw damaged('an object that is built is not in the file');
    if (depth > MAX_DEPTH) throw damaged('its components contain each other');
    if (++instances > MAX_INSTANCES) throw damaged('it builds too many objects');
    if (textOf(object['type']) !== '' && object['type'] !== 'model') return;
    if (object['mesh'] !== undefined) {
      parts.push(placed(meshOf(nodeOf(object['mesh'])), transform, factor));
      if (parts.reduce((sum, part) => sum + part.indices.length, 0) > 3 * MAX_TRIANGLES)
        throw new ProblemError('too-many-triangles', 'The file builds too many triangles. Export the part alone.');
    }
    for (const component of listOf(nodeOf(object['components'])['component']))
      place(textOf(component['objectid']), chained(transformOf(component['transform']), transform), depth + 1);
  };
  for (const item of listOf(nodeOf(model['build'])['item']))
    place(textOf(item['objectid']), transformOf(item['transform']), 0);
  const filled = parts.filter((part) => part.indices.length > 0);
  if (filled.length === 0)
    throw new ProblemError('empty-mesh', 'The 3MF file builds no object. Export the solid body itself.');
  const metadata = listOf(model['metadata']);
  const said = (name: string): string | null =>
    textOf(metadata.find((entry) => entry['name'] === name)?.['#text']).slice(0, 80) || null;
  return { format: '3mf', declaredUnit, name: said('Title'), program: said('Application'), parts: filled };
}
