/** The only code that touches the B-rep kernel. Everything it returns is plain data or an opaque `Shape` to be freed. */
import type { OpenCascadeInstance } from 'replicad-opencascadejs';

import { attempt, type Result } from '#core/problem';
import type { DrawingUnit } from '#core/quantity';
import type { DisplayMesh, Edge, Face, MassProperties, Solid, SolidSource, Warning } from '#core/solid';
import { boxDiagonal, type Box, type Mat3, type Vec2, type Vec3 } from '#core/vector';

import { analyzeShape, displayMeshOf, massPropertiesOf, type MeshFineness } from './analyze.ts';
import * as build from './build.ts';
import { cutAway, type CutAway, type CutView, type ViewDirection } from './cutaway.ts';
import { chamfer, fillet, type ChamferedEdge } from './dress.ts';
import { combineProfiles, offsetProfile, type Contour, type Profile, type WorkPlane } from './profile.ts';
import { scoped } from './scope.ts';
import { kernelMessage, memoryOf, type Shape } from './shape.ts';
import { readStepFile, writeStepFile } from './step.ts';
import { boundsOf, edgesOf, facesOf, topologyOf } from './topology.ts';

export type { Arc, Contour, Profile, Segment, WorkPlane } from './profile.ts';
export { arcThrough, circleCenter, contourArea, offsetPlane, pointOn } from './profile.ts';
export type { CutAway, CutView, ViewDirection } from './cutaway.ts';
export type { ChamferedEdge } from './dress.ts';
export { declaredUnit, readHeader, screenStep } from './step-text.ts';
export type { Shape } from './shape.ts';
export type { MeshFineness } from './analyze.ts';

/** A loaded kernel instance, as `replicad-opencascadejs` initializes it. */
export type KernelInstance = OpenCascadeInstance;

/** A part for an editor: tables, triangles, box and mass properties. */
export interface Preview {
  readonly faces: readonly Face[];
  readonly edges: readonly Edge[];
  readonly mesh: DisplayMesh;
  readonly bounds: Box;
  readonly properties: MassProperties;
}

/** Operations of the kernel. Shapes that are returned belong to the caller, who frees them. */
export interface Kernel {
  /** Reads a STEP file; refuses what cannot be read with a sentence for the person who sent it. */
  readStep(
    bytes: Uint8Array,
  ): Result<{ readonly shape: Shape; readonly source: SolidSource; readonly warnings: readonly Warning[] }>;
  /** Everything known of a shape as plain data; refuses with `kernel-analysis`. */
  analyze(shape: Shape, source: SolidSource, fineness?: MeshFineness): Result<Solid>;
  massProperties(shape: Shape): MassProperties;
  /** Triangles and edge polylines for the viewer alone. */
  displayMesh(shape: Shape, fineness?: MeshFineness): DisplayMesh;
  /** What an editor shows of a part, in one walk over it. */
  preview(shape: Shape): Preview;
  writeStep(shape: Shape, unit: DrawingUnit, productName: string): Uint8Array;
  /** The part cut open in front of planes, as a section shows it. */
  cutAway(shape: Shape, view: ViewDirection, cuts: readonly CutAway[]): CutView;
  /** Faces and edges with their ids, for selecting. */
  tables(shape: Shape): { readonly faces: readonly Face[]; readonly edges: readonly Edge[] };

  extrude(plane: WorkPlane, outline: Contour | Profile, fromMm: number, toMm: number): Shape;
  /** All the way round, or by an angle. */
  revolve(
    plane: WorkPlane,
    outline: Contour | Profile,
    axis: { readonly origin: Vec2; readonly direction: Vec2 },
    angleRad?: number,
  ): Shape;
  loft(
    first: { readonly plane: WorkPlane; readonly contour: Contour },
    second: { readonly plane: WorkPlane; readonly contour: Contour },
  ): Shape;
  combineProfiles(
    kind: 'add' | 'subtract' | 'intersect',
    first: readonly Profile[],
    second: readonly Profile[],
  ): readonly Profile[];
  offsetProfile(profile: Profile, distanceMm: number): readonly Profile[];
  fuse(body: Shape, tools: readonly Shape[]): Shape;
  cut(body: Shape, tools: readonly Shape[]): Shape;
  common(body: Shape, tools: readonly Shape[]): Shape;
  /** The solids of a shape, each by itself. */
  pieces(shape: Shape): readonly Shape[];
  splitBy(tool: Shape, body: Shape, faceIds: readonly number[]): readonly Shape[];
  /** What flat faces of a body sweep over when they move. */
  sweep(body: Shape, faceIds: readonly number[], by: Vec3): readonly Shape[];
  fillet(body: Shape, edgeIds: readonly number[], radiusMm: number): Shape;
  chamfer(body: Shape, edges: readonly ChamferedEdge[]): Shape;
  /** The matrix may hold a reflection. */
  moved(body: Shape, rotation: Mat3, translation: Vec3): Shape;
  /** A second handle of the same body, freed on its own. */
  handle(shape: Shape): Shape;
  withSeam(body: Shape, plane: WorkPlane): Shape;
  reach(body: Shape, plane: WorkPlane): { readonly fromMm: number; readonly toMm: number };
  /** Tight box in the axes of a plane. */
  boxOn(body: Shape, plane: WorkPlane): Box;
  /** Tight box, mm. */
  bounds(shape: Shape): Box;
  bodyCount(shape: Shape): number;

  /** Size of the kernel's memory, which never shrinks. */
  heapBytes(): number;
  /** The kernel's own words for an exception it raised, or null for any other exception. */
  explain(error: unknown): string | null;
}

/** Wraps a loaded kernel instance. How its wasm is found and loaded is the caller's business. */
export function createKernel(oc: KernelInstance): Kernel {
  return {
    readStep: (bytes) => attempt(() => readStepFile(oc, bytes)),
    analyze: (shape, source, fineness) => attempt(() => analyzeShape(oc, shape, source, fineness)),
    massProperties: (shape) => massPropertiesOf(oc, shape.raw),
    displayMesh: (shape, fineness) =>
      scoped((keep) => {
        const topology = topologyOf(oc, shape.raw, keep);
        const diagonal = boxDiagonal(boundsOf(oc, shape.raw));
        return displayMeshOf(oc, shape.raw, { topology, faces: facesOf(oc, topology), diagonalMm: diagonal, fineness });
      }),
    preview: (shape) =>
      scoped((keep) => {
        const topology = topologyOf(oc, shape.raw, keep);
        const [faces, edges] = [facesOf(oc, topology), edgesOf(oc, topology)];
        const bounds = boundsOf(oc, shape.raw);
        const mesh = displayMeshOf(oc, shape.raw, { topology, faces, diagonalMm: boxDiagonal(bounds) });
        return { faces, edges, mesh, bounds, properties: massPropertiesOf(oc, shape.raw) };
      }),
    writeStep: (shape, unit, productName) => writeStepFile(oc, shape, unit, productName),
    cutAway: (...args) => cutAway(oc, ...args),
    tables: (shape) =>
      scoped((keep) => {
        const topology = topologyOf(oc, shape.raw, keep);
        return { faces: facesOf(oc, topology), edges: edgesOf(oc, topology) };
      }),
    extrude: (plane, outline, fromMm, toMm) => build.extrude(oc, plane, outline, { fromMm, toMm }),
    revolve: (plane, outline, axis, angleRad) => build.revolve(oc, plane, outline, { axis, angleRad }),
    fuse: (...args) => build.fuse(oc, ...args),
    cut: (...args) => build.cut(oc, ...args),
    loft: (...args) => build.loft(oc, ...args),
    combineProfiles: (...args) => combineProfiles(oc, ...args),
    offsetProfile: (...args) => offsetProfile(oc, ...args),
    common: (...args) => build.common(oc, ...args),
    pieces: (shape) => build.pieces(oc, shape),
    splitBy: (...args) => build.splitBy(oc, ...args),
    sweep: (...args) => build.sweep(oc, ...args),
    fillet: (...args) => fillet(oc, ...args),
    chamfer: (...args) => chamfer(oc, ...args),
    handle: (shape) => build.handle(shape),
    bounds: (shape) => boundsOf(oc, shape.raw),
    boxOn: (...args) => build.boxOn(oc, ...args),
    moved: (...args) => build.moved(oc, ...args),
    withSeam: (...args) => build.withSeam(oc, ...args),
    reach: (...args) => build.reach(oc, ...args),
    bodyCount: (shape) => build.bodyCount(oc, shape),
    heapBytes: () => memoryOf(oc).byteLength,
    explain: (error) => kernelMessage(oc, error),
  };
}
