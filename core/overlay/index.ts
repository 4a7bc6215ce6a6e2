/** Missing and extra material between two solids, as closed pieces that are traced to the faces of both. */
import type { Manifold, ManifoldToplevel } from 'manifold-3d';

import { distanceTo } from '#core/fit';
import { weldExact, write3mf, type Triangles } from '#core/mesh';
import { attempt, ProblemError, type Result } from '#core/problem';
import { shapeOf, type Face, type Solid } from '#core/solid';
import {
  add,
  determinant,
  distance,
  dot,
  placeBack,
  type Placement,
  placePoint,
  pointAt,
  scale,
  subtract,
  type Vec3,
} from '#core/vector';

import type { Overlay, OverlayPiece, OverlaySummary } from './schema.ts';

export {
  OverlayPieceSchema,
  OverlaySchema,
  OverlaySummarySchema,
  type Overlay,
  type OverlayPiece,
  type OverlaySummary,
} from './schema.ts';

/** What is said of an overlay in words: how much, and where the largest pieces are. */
export const summarize = ({ missingMm3, extraMm3, pieces }: Overlay): OverlaySummary => ({
  missingMm3,
  extraMm3,
  pieces: pieces.slice(0, 12).map(({ kind, volumeMm3, centerMm }) => ({ kind, volumeMm3, centerMm })),
});

/** The pieces as a 3MF package, one object each, in the frame of the submission. */
export const overlayFile = ({ pieces }: Overlay, title: string): Uint8Array =>
  write3mf(
    pieces.map(({ positions, indices }) => ({
      positions: Float64Array.from(positions),
      indices: Uint32Array.from(indices),
    })),
    title,
  );

/** A loaded instance of the mesh library, set up. */
export type MeshLibrary = ManifoldToplevel;

export interface Overlayer {
  /**
   * The pieces by which a submission, laid onto the reference by `placement`, differs from it. Slivers between facets of
   * surfaces that are the same are left out, whatever the tessellation. Refuses with `overlay-too-large` and
   * `overlay-not-closed`.
   */
  compare(reference: Solid, submission: Solid, placement: Placement): Result<Overlay>;
  /** Volume that several bodies of a solid have in common; 0 for one body or bodies apart. */
  sharedVolume(solid: Solid): Result<number>;
}

/** Together, more triangles than this would take many seconds. */
const MOST_TRIANGLES = 60_000;
/** Pieces beyond these are too many to look at; the largest are kept. */
const MOST_PIECES = 60;
const POSITION_MM = 2e-3;
/** Areas and volumes of equal parts from two files differ by less, as a share. */
const SAME_SHARE = 1e-5;

export function createOverlayer(library: MeshLibrary): Overlayer {
  return {
    compare: (reference, submission, placement) =>
      attempt(() => new Comparison(library, reference, submission, placement).run()),
    sharedVolume: (solid) =>
      attempt(() => {
        const bodies = bodiesOf(library, solid, null);
        try {
          if (bodies.length < 2) return 0;
          const sum = bodies.reduce((total, body) => total + body.volume(), 0);
          const whole = library.Manifold.union(bodies);
          const shared = Math.max(0, sum - whole.volume());
          whole.delete();
          return shared;
        } finally {
          for (const body of bodies) body.delete();
        }
      }),
  };
}

/** The triangles of each body of a solid, placed, as closed manifolds whose triangles know their faces. */
function bodiesOf(library: MeshLibrary, solid: Solid, placement: Placement | null, originalId?: number): Manifold[] {
  const { mesh, faces } = solid;
  const turned = placement !== null && determinant(placement.rotation) < 0;
  const point = (i: number): Vec3 => {
    const p: Vec3 = pointAt(mesh.positions, i);
    return placement === null ? p : placePoint(placement, p);
  };
  const found: Manifold[] = [];
  for (const body of new Set(faces.map((face) => face.bodyId))) {
    const groups = mesh.groups.filter((group) => faces[group.faceId]?.bodyId === body);
    const positions: number[] = [];
    const indices: number[] = [];
    const faceOf: number[] = [];
    const numberOf = new Map<number, number>();
    for (const { faceId, start, count } of groups)
      for (let i = start; i < start + count; i += 3) {
        const order = turned ? [0, 2, 1] : [0, 1, 2];
        for (const k of order) {
          const corner = mesh.indices[i + k] ?? 0;
          let id = numberOf.get(corner);
          if (id === undefined) {
            id = positions.length / 3;
            numberOf.set(corner, id);
            positions.push(...point(corner));
          }
          indices.push(id);
        }
        faceOf.push(faceId);
      }
    if (indices.length === 0) continue;
    const welded = weldWithFaces(
      { positions: Float64Array.from(positions), indices: Uint32Array.from(indices) },
      faceOf,
    );
    const shape = new library.Mesh({
      numProp: 3,
      vertProperties: Float32Array.from(welded.mesh.positions),
      triVerts: welded.mesh.indices,
      faceID: Uint32Array.from(welded.faceOf),
      runIndex: Uint32Array.from([0, welded.mesh.indices.length]),
      runOriginalID: Uint32Array.from([originalId ?? library.Manifold.reserveIDs(1)]),
    });
    try {
      found.push(new library.Manifold(shape));
    } catch {
      shape.merge();
      try {
        found.push(new library.Manifold(shape));
      } catch {
        for (const other of found) other.delete();
        throw new ProblemError(
          'overlay-not-closed',
          'The triangles of this model do not close, so missing and extra material cannot be shown.',
        );
      }
    }
  }
  return found;
}

/** Joins equal corners; the faces of triangles that vanish go with them. */
function weldWithFaces(mesh: Triangles, faceOf: readonly number[]): { mesh: Triangles; faceOf: number[] } {
  const welded = weldExact(mesh);
  if (welded.indices.length === mesh.indices.length) return { mesh: welded, faceOf: [...faceOf] };
  // Some collapsed: tell by the corners, in order, which ones stayed.
  const kept: number[] = [];
  let next = 0;
  for (let t = 0; t < faceOf.length && next < welded.indices.length; t++) {
    const same = [0, 1, 2].every((k) => {
      const [a, b] = [3 * (mesh.indices[3 * t + k] ?? 0), 3 * (welded.indices[next + k] ?? 0)];
      return [0, 1, 2].every(
        (j) => Math.fround(mesh.positions[a + j] ?? 0) === Math.fround(welded.positions[b + j] ?? 0),
      );
    });
    if (!same) continue;
    kept.push(faceOf[t] ?? 0);
    next += 3;
  }
  return { mesh: welded, faceOf: kept };
}

class Comparison {
  private readonly library: MeshLibrary;
  private readonly reference: Solid;
  private readonly submission: Solid;
  private readonly placement: Placement;
  private readonly own: Manifold[] = [];

  constructor(library: MeshLibrary, reference: Solid, submission: Solid, placement: Placement) {
    this.library = library;
    this.reference = reference;
    this.submission = submission;
    this.placement = placement;
  }

  run(): Overlay {
    const triangles = (this.reference.mesh.indices.length + this.submission.mesh.indices.length) / 3;
    if (triangles > MOST_TRIANGLES)
      throw new ProblemError(
        'overlay-too-large',
        'The model has so many triangles that missing and extra material is not shown. Export it with a coarser setting, or as STEP.',
      );
    if (this.agree()) return { missingMm3: 0, extraMm3: 0, pieces: [] };
    try {
      const referenceId = this.library.Manifold.reserveIDs(1);
      const submissionId = this.library.Manifold.reserveIDs(1);
      const reference = this.whole(this.reference, null, referenceId);
      const submission = this.whole(this.submission, this.placement, submissionId);
      const missing = this.keep(reference.subtract(submission));
      const extra = this.keep(submission.subtract(reference));
      const pieces = [
        ...this.piecesOf(missing, 'missing', referenceId),
        ...this.piecesOf(extra, 'extra', referenceId),
      ].sort((a, b) => b.volumeMm3 - a.volumeMm3);
      const total = (kind: OverlayPiece['kind']): number =>
        pieces.reduce((sum, piece) => sum + (piece.kind === kind ? piece.volumeMm3 : 0), 0);
      return { missingMm3: total('missing'), extraMm3: total('extra'), pieces: pieces.slice(0, MOST_PIECES) };
    } finally {
      for (const manifold of this.own) manifold.delete();
    }
  }

  /**
   * Whether nothing can be missing or extra: two exact parts of the same volume whose faces pair off, each on the surface
   * of its partner with the same area and center. No triangles need to be cut then.
   */
  private agree(): boolean {
    const [own, theirs] = [this.reference, this.submission];
    if (own.faces.length !== theirs.faces.length) return false;
    if (theirs.faces.some(({ uncertaintyMm }) => uncertaintyMm > 0)) return false;
    const size = this.placement.scale;
    const near = (a: number, b: number): boolean => Math.abs(a - b) <= SAME_SHARE * Math.max(a, b);
    if (!near(own.massProperties.volumeMm3, theirs.massProperties.volumeMm3 * size ** 3)) return false;
    const left = new Set(theirs.faces);
    return own.faces.every((face) => {
      for (const other of left)
        if (
          near(face.areaMm2, other.areaMm2 * size ** 2) &&
          distance(face.centroid, placePoint(this.placement, other.centroid)) < POSITION_MM &&
          this.same(face, other)
        )
          return left.delete(other);
      return false;
    });
  }

  private keep(manifold: Manifold): Manifold {
    this.own.push(manifold);
    return manifold;
  }

  private whole(solid: Solid, placement: Placement | null, id: number): Manifold {
    const bodies = bodiesOf(this.library, solid, placement, id).map((body) => this.keep(body));
    const [first] = bodies;
    if (!first)
      throw new ProblemError('overlay-not-closed', 'The model has no triangles, so nothing can be compared in 3D.');
    return bodies.length === 1 ? first : this.keep(this.library.Manifold.union(bodies));
  }

  private piecesOf(difference: Manifold, kind: OverlayPiece['kind'], referenceId: number): OverlayPiece[] {
    const mesh = difference.getMesh();
    const { numProp, vertProperties, triVerts, faceID, runIndex, runOriginalID } = mesh;
    const count = mesh.numTri;
    const parent = Int32Array.from({ length: mesh.numVert }, (_, i) => i);
    const find = (x: number): number => {
      let root = x;
      while ((parent[root] ?? root) !== root) root = parent[root] = parent[parent[root] ?? root] ?? root;
      return root;
    };
    for (let i = 0; i < mesh.mergeFromVert.length; i++)
      parent[find(mesh.mergeFromVert[i] ?? 0)] = find(mesh.mergeToVert[i] ?? 0);
    for (let t = 0; t < count; t++) {
      const root = find(triVerts[3 * t] ?? 0);
      parent[find(triVerts[3 * t + 1] ?? 0)] = root;
      parent[find(triVerts[3 * t + 2] ?? 0)] = root;
    }
    const groups = new Map<number, number[]>();
    for (let t = 0; t < count; t++) {
      const root = find(triVerts[3 * t] ?? 0);
      const group = groups.get(root);
      if (group) group.push(t);
      else groups.set(root, [t]);
    }
    const isReference = new Uint8Array(count);
    for (let run = 0; run < runOriginalID.length; run++)
      if (runOriginalID[run] === referenceId)
        isReference.fill(1, (runIndex[run] ?? 0) / 3, (runIndex[run + 1] ?? 3 * count) / 3);
    const at = (v: number): Vec3 => [
      vertProperties[numProp * v] ?? 0,
      vertProperties[numProp * v + 1] ?? 0,
      vertProperties[numProp * v + 2] ?? 0,
    ];
    return [...groups.values()].flatMap((triangles) => {
      const referenceFaceIds = new Set<number>();
      const submissionFaceIds = new Set<number>();
      for (const t of triangles) (isReference[t] === 1 ? referenceFaceIds : submissionFaceIds).add(faceID[t] ?? 0);
      const { volumeMm3, areaMm2, center } = measure(triangles, triVerts, at);
      const thickness = areaMm2 > 0 ? (2 * volumeMm3) / areaMm2 : 0;
      if (!this.isReal(thickness, referenceFaceIds, submissionFaceIds)) return [];
      return [this.piece({ kind, volumeMm3, center, referenceFaceIds, submissionFaceIds, triangles, triVerts, at })];
    });
  }

  /**
   * A piece is real when it is bounded by a face that the other part has not. Between facets of the same surfaces, only
   * what is thicker than the facets are off can be.
   */
  private isReal(thickness: number, referenceIds: ReadonlySet<number>, submissionIds: ReadonlySet<number>): boolean {
    const own = [...referenceIds].flatMap((id) => this.reference.faces[id] ?? []);
    const theirs = [...submissionIds].flatMap((id) => this.submission.faces[id] ?? []);
    const facets = Math.max(
      ...own.map((face) => this.facetDepth(this.reference, face)),
      ...theirs.map((face) => this.facetDepth(this.submission, face)),
      0,
    );
    if (thickness > 1.1 * facets + POSITION_MM) return true;
    const alone =
      own.some((face) => !this.submission.faces.some((other) => this.same(face, other))) ||
      theirs.some((face) => !this.reference.faces.some((other) => this.same(other, face)));
    return alone && thickness > Math.min(POSITION_MM, 0.3 * facets + 1e-4);
  }

  private readonly depths = new Map<Face, number>();

  /** How far the triangles of a face are from its surface at most; for a freeform face, a guess by the size of the part. */
  private facetDepth(solid: Solid, face: Face): number {
    const known = this.depths.get(face);
    if (known !== undefined) return known;
    const shape = shapeOf(face.surface);
    const group = solid.mesh.groups.find(({ faceId }) => faceId === face.id);
    let depth = shape === null ? 0.1 : 0;
    if (shape !== null && shape.kind !== 'plane' && group) {
      const { positions, indices } = solid.mesh;
      const corner = (i: number): Vec3 => pointAt(positions, indices[i] ?? 0);
      for (let i = group.start; i < group.start + group.count; i += 3)
        for (let k = 0; k < 3; k++) {
          const middle = scale(add(corner(i + k), corner(i + ((k + 1) % 3))), 0.5);
          depth = Math.max(depth, Math.abs(distanceTo(shape, middle)));
        }
    }
    this.depths.set(face, depth);
    return depth;
  }

  /** Whether a face of the submission, placed, lies on the surface of a face of the reference. */
  private same(own: Face, other: Face): boolean {
    if (own.surface.kind !== other.surface.kind) return false;
    const shape = shapeOf(own.surface);
    if (shape === null) return true;
    const group = this.submission.mesh.groups.find(({ faceId }) => faceId === other.id);
    if (!group) return false;
    const { positions, indices } = this.submission.mesh;
    const room = POSITION_MM + other.uncertaintyMm;
    const step = Math.max(1, Math.floor(group.count / 12));
    for (let i = group.start; i < group.start + group.count; i += step) {
      const p = placePoint(this.placement, pointAt(positions, indices[i] ?? 0));
      if (Math.abs(distanceTo(shape, p)) > room) return false;
    }
    return true;
  }

  private piece(found: FoundPiece): OverlayPiece {
    const { kind, volumeMm3, center, referenceFaceIds, submissionFaceIds, triangles, triVerts, at } = found;
    // Laid back onto a submission of the other hand, triangles would be inside out.
    const order = determinant(this.placement.rotation) < 0 ? [0, 2, 1] : [0, 1, 2];
    const numberOf = new Map<number, number>();
    const positions: number[] = [];
    const indices: number[] = [];
    const min: [number, number, number] = [Infinity, Infinity, Infinity];
    const max: [number, number, number] = [-Infinity, -Infinity, -Infinity];
    for (const t of triangles)
      for (const k of order) {
        const corner = triVerts[3 * t + k] ?? 0;
        let id = numberOf.get(corner);
        if (id === undefined) {
          id = positions.length / 3;
          numberOf.set(corner, id);
          const p = this.back(at(corner));
          for (const axis of [0, 1, 2] as const) {
            const value = Math.round(p[axis] * 1e5) / 1e5;
            positions.push(value);
            min[axis] = Math.min(min[axis], value);
            max[axis] = Math.max(max[axis], value);
          }
        }
        indices.push(id);
      }
    return {
      kind,
      volumeMm3,
      centerMm: this.back(center),
      bounds: { min, max },
      referenceFaceIds: [...referenceFaceIds],
      submissionFaceIds: [...submissionFaceIds],
      positions,
      indices,
    };
  }

  /** From the frame of the reference to that of the submission. */
  private back(p: Vec3): Vec3 {
    return placeBack(this.placement, p);
  }
}

/** A closed piece of the difference, in the frame of the reference, as triangles `triVerts` of the corners that `at` gives. */
interface FoundPiece {
  readonly kind: OverlayPiece['kind'];
  readonly volumeMm3: number;
  readonly center: Vec3;
  readonly referenceFaceIds: ReadonlySet<number>;
  readonly submissionFaceIds: ReadonlySet<number>;
  readonly triangles: readonly number[];
  readonly triVerts: Uint32Array;
  readonly at: (v: number) => Vec3;
}

function measure(
  triangles: readonly number[],
  triVerts: Uint32Array,
  at: (v: number) => Vec3,
): { readonly volumeMm3: number; readonly areaMm2: number; readonly center: Vec3 } {
  const origin = at(triVerts[3 * (triangles[0] ?? 0)] ?? 0);
  let [six, area] = [0, 0];
  let moment: Vec3 = [0, 0, 0];
  for (const t of triangles) {
    const [a, b, c] = [0, 1, 2].map((k) => subtract(at(triVerts[3 * t + k] ?? 0), origin)) as [Vec3, Vec3, Vec3];
    const [u, w] = [subtract(b, a), subtract(c, a)];
    const n: Vec3 = [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]];
    const d = dot(a, n);
    six += d;
    area += Math.sqrt(dot(n, n)) / 2;
    moment = add(moment, scale(add(add(a, b), c), d / 4));
  }
  const center = six === 0 ? origin : add(origin, scale(moment, 1 / six));
  return { volumeMm3: Math.abs(six / 6), areaMm2: area, center };
}
