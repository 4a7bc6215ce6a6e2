import { SaxesParser } from 'saxes';

import { ProblemError } from '#core/problem';
import type { LengthUnit } from '#core/quantity';

import { damaged3mf, eachPieceOfModel } from './package.ts';
import { MAX_COORDINATE, MAX_TRIANGLES, type MeshFile, type Triangles } from './triangles.ts';

const MAX_DEPTH = 12;
const MAX_INSTANCES = 500;
/** Elements that are neither vertices nor triangles, and how deep they lie: far more than a part of many bodies has. */
const MAX_ELEMENTS = 50_000;
const MAX_NESTING = 40;
/** A title or an attribute that is longer is no such thing. */
const MAX_TEXT = 100_000;
/** Closed parts have about half as many vertices as triangles; unjoined ones three to a triangle. */
const MAX_VERTICES = 3 * MAX_TRIANGLES;

const UNITS: Readonly<Record<string, readonly [unit: LengthUnit, factor: number]>> = {
  micron: ['mm', 1e-3],
  millimeter: ['mm', 1],
  centimeter: ['cm', 1],
  inch: ['in', 1],
  foot: ['ft', 1],
  meter: ['m', 1],
};

/** The extension of colors and materials, which says nothing of the shape. */
const HARMLESS_EXTENSION = '/3dmanufacturing/material/';

type Attributes = Readonly<Record<string, string>>;

/** Rows of a 4 x 3 matrix that is applied to row vectors. */
type Transform = readonly number[];
const STAY: Transform = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];

/** An object placed: of the components of another, or of what is built. */
interface Placing {
  readonly objectId: string;
  readonly transform: Transform;
}

interface ModelObject {
  readonly isModel: boolean;
  mesh: Triangles | null;
  readonly components: Placing[];
}

interface ModelDocument {
  readonly unit: string;
  readonly objects: ReadonlyMap<string, ModelObject>;
  readonly build: readonly Placing[];
  readonly metadata: ReadonlyMap<string, string>;
}

function transformOf(text: string | undefined): Transform {
  if (text === undefined || text === '') return STAY;
  const values = text.trim().split(/\s+/).map(Number);
  if (values.length !== 12 || !values.every(Number.isFinite)) throw damaged3mf('a transform is not twelve numbers');
  return values;
}

const placingOf = (attributes: Attributes): Placing => ({
  objectId: attributes['objectid'] ?? '',
  transform: transformOf(attributes['transform']),
});

const tooManyTriangles = (): ProblemError =>
  new ProblemError(
    'too-many-triangles',
    `The file has more than ${String(MAX_TRIANGLES)} triangles. Export it again with a coarser setting, or as STEP.`,
  );

function coordinate(text: string | undefined): number {
  const value = text === undefined || text.trim() === '' ? Number.NaN : Number(text);
  if (Math.abs(value) <= MAX_COORDINATE) return value;
  throw new ProblemError(
    'mesh-bad-number',
    `The file contains a coordinate that is not a usable number ("${(text ?? '').slice(0, 40)}"). Export the model again.`,
  );
}

/** Refuses a model that needs what would change its shape, and is not read here. */
function checkExtensions(attributes: Attributes): void {
  for (const prefix of (attributes['requiredextensions'] ?? '').split(/\s+/).filter(Boolean)) {
    const namespace = attributes[`xmlns:${prefix}`] ?? '';
    if (!namespace.includes(HARMLESS_EXTENSION))
      throw new ProblemError(
        'unknown-extension',
        `The 3MF file needs an extension of the format that is not read here ("${(namespace || prefix).slice(0, 120)}"). Export the part as plain 3MF, or as STEP.`,
      );
  }
}

/** Takes the elements of a model one by one, and stops at what no part has. */
class ModelReader implements ModelDocument {
  unit = 'millimeter';
  readonly objects = new Map<string, ModelObject>();
  readonly build: Placing[] = [];
  readonly metadata = new Map<string, string>();
  readonly #path: string[] = [];
  #elements = 0;
  #triangles = 0;
  #object: ModelObject | null = null;
  #positions: number[] = [];
  #indices: number[] = [];
  #named: string | null = null;
  #text = '';

  open(name: string, attributes: Attributes): void {
    this.#path.push(name);
    if (name === 'vertex') this.#vertex(attributes);
    else if (name === 'triangle') this.#triangle(attributes);
    else this.#openOther(name, attributes);
  }

  #openOther(name: string, attributes: Attributes): void {
    if (++this.#elements > MAX_ELEMENTS || this.#path.length > MAX_NESTING)
      throw damaged3mf('it has more elements than any part needs');
    const parent = this.#path.at(-2);
    if (name === 'model') {
      this.unit = attributes['unit'] ?? this.unit;
      checkExtensions(attributes);
    } else if (name === 'metadata' && parent === 'model') {
      [this.#named, this.#text] = [attributes['name'] ?? '', ''];
    } else if (name === 'object') {
      this.#begin(attributes);
    } else if (name === 'mesh') {
      [this.#positions, this.#indices] = [[], []];
    } else if (name === 'component') {
      this.#object?.components.push(placingOf(attributes));
    } else if (name === 'item' && parent === 'build') {
      this.build.push(placingOf(attributes));
    }
  }

  text(text: string): void {
    if (this.#named !== null && this.#text.length < MAX_TEXT) this.#text += text;
  }

  close(name: string): void {
    this.#path.pop();
    if (name === 'metadata' && this.#named !== null) {
      this.metadata.set(this.#named, this.#text.trim());
      this.#named = null;
    } else if (name === 'mesh' && this.#object !== null) {
      const count = this.#positions.length / 3;
      if (this.#indices.some((index) => index >= count))
        throw new ProblemError(
          'bad-index',
          'A triangle of the 3MF file names a vertex that does not exist. Export the model again.',
        );
      this.#object.mesh = { positions: Float64Array.from(this.#positions), indices: Uint32Array.from(this.#indices) };
    } else if (name === 'object') {
      this.#object = null;
    }
  }

  #begin({ id = '', type = '' }: Attributes): void {
    if (this.objects.has(id)) throw damaged3mf('two of its objects have one number');
    this.#object = { isModel: type === '' || type === 'model', mesh: null, components: [] };
    this.objects.set(id, this.#object);
  }

  #vertex({ x, y, z }: Attributes): void {
    if (this.#positions.length >= 3 * MAX_VERTICES) throw tooManyTriangles();
    this.#positions.push(coordinate(x), coordinate(y), coordinate(z));
  }

  #triangle({ v1, v2, v3 }: Attributes): void {
    if (++this.#triangles > MAX_TRIANGLES) throw tooManyTriangles();
    for (const text of [v1, v2, v3]) {
      const index = text === undefined || text === '' ? Number.NaN : Number(text);
      if (!Number.isInteger(index) || index < 0)
        throw new ProblemError(
          'bad-index',
          'A triangle of the 3MF file names a vertex that does not exist. Export the model again.',
        );
      this.#indices.push(index);
    }
  }
}

/** The name of an element without the prefix of its namespace. */
const localName = (name: string): string => name.slice(name.indexOf(':') + 1);

function readModel(bytes: Uint8Array): ModelDocument {
  const reader = new ModelReader();
  const parser = new SaxesParser();
  let sinceElement = 0;
  parser.on('error', () => {
    throw damaged3mf('its XML cannot be read');
  });
  parser.on('doctype', () => {
    throw damaged3mf('it declares entities of its own');
  });
  parser.on('opentag', ({ name, attributes }) => {
    sinceElement = 0;
    reader.open(localName(name), attributes);
  });
  parser.on('text', (text) => {
    reader.text(text);
  });
  parser.on('closetag', ({ name }) => {
    reader.close(localName(name));
  });
  const decoder = new TextDecoder();
  eachPieceOfModel(bytes, (piece) => {
    sinceElement += piece.length;
    // One piece of what was packed may be millions of elements; what holds none for so long is no model.
    if (sinceElement > piece.length + 10 * MAX_TEXT) throw damaged3mf('it has more text than any part needs');
    parser.write(decoder.decode(piece, { stream: true }));
  });
  parser.write(decoder.decode()).close();
  return reader;
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

/** The meshes of all that a model builds, in the unit that is read for it. */
function built({ objects, build }: ModelDocument, factor: number): readonly Triangles[] {
  const parts: Triangles[] = [];
  let [instances, corners] = [0, 0];
  const place = ({ objectId, transform }: Placing, around: Transform, depth: number): void => {
    const object = objects.get(objectId);
    if (object === undefined) throw damaged3mf('an object that is built is not in the file');
    if (depth > MAX_DEPTH) throw damaged3mf('its components contain each other');
    if (++instances > MAX_INSTANCES) throw damaged3mf('it builds too many objects');
    if (!object.isModel) return;
    const whole = chained(transform, around);
    if (object.mesh !== null) {
      corners += object.mesh.indices.length;
      if (corners > 3 * MAX_TRIANGLES)
        throw new ProblemError('too-many-triangles', 'The file builds too many triangles. Export the part alone.');
      parts.push(placed(object.mesh, whole, factor));
    }
    for (const component of object.components) place(component, whole, depth + 1);
  };
  for (const item of build) place(item, STAY, 0);
  return parts.filter((part) => part.indices.length > 0);
}

/**
 * Reads a 3MF package: unit, all objects that are built, their components and placements. It is unpacked and read a piece at
 * a time, and given up as soon as more has come than a part has. Raises `damaged-3mf`, `locked-3mf`, `not-3mf`,
 * `unknown-extension`, `too-large-unpacked`, `mesh-bad-number`, `bad-index`, `too-many-triangles`, `empty-mesh`.
 */
export function read3mf(bytes: Uint8Array): MeshFile {
  const model = readModel(bytes);
  const [declaredUnit, factor] = UNITS[model.unit] ?? [null, 1];
  const parts = built(model, factor);
  if (parts.length === 0)
    throw new ProblemError('empty-mesh', 'The 3MF file builds no object. Export the solid body itself.');
  const said = (name: string): string | null => model.metadata.get(name)?.slice(0, 80) || null;
  return { format: '3mf', declaredUnit, name: said('Title'), program: said('Application'), parts };
}
