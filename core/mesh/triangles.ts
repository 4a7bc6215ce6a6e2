import type { LengthUnit } from '#core/quantity';

/** An indexed triangle mesh; three numbers a vertex, three indices a triangle. */
export interface Triangles {
  readonly positions: Float64Array;
  readonly indices: Uint32Array;
}

/** What a mesh file says, in the unit of the file. */
export interface MeshFile {
  readonly format: 'stl' | 'obj' | '3mf' | 'ply';
  /** Null for formats that carry no unit. */
  readonly declaredUnit: LengthUnit | null;
  readonly name: string | null;
  readonly program: string | null;
  /** One for each object of the file. */
  readonly parts: readonly Triangles[];
}

/** More triangles than this are refused: no hand-made part needs them, and reading them would hold up a class. */
export const MAX_TRIANGLES = 400_000;

/** Coordinates beyond this are damage, not a part. In units of the file. */
export const MAX_COORDINATE = 1e7;
