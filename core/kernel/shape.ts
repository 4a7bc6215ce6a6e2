import type { OpenCascadeInstance, TopAbs_ShapeEnum, TopoDS_Shape } from 'replicad-opencascadejs';

import { ProblemError, type ProblemCode } from '#core/problem';
import type { Vec3 } from '#core/vector';

import { scoped, type Keep } from './scope.ts';

export type Oc = OpenCascadeInstance;

/** Opaque handle of a B-rep in the kernel's memory. The owner frees it. */
export class Shape {
  /** @internal for this folder only */
  readonly raw: TopoDS_Shape;
  private freed = false;
  constructor(raw: TopoDS_Shape) {
    this.raw = raw;
  }
  /** Gives the memory back; more than once does no harm. */
  free(): void {
    if (!this.freed) this.raw.delete();
    this.freed = true;
  }
}

/** A point or vector of the kernel as numbers. Does not free it; `take` does. */
export const toVec = (point: { X(): number; Y(): number; Z(): number }): Vec3 => [point.X(), point.Y(), point.Z()];

/** Reads a point or vector of the kernel and frees it. */
export function take(point: { X(): number; Y(): number; Z(): number; delete(): void }): Vec3 {
  const vector = toVec(point);
  point.delete();
  return vector;
}

/** Sub-shapes of a kind in the kernel's order; each is kept by `keep`. */
export function subShapes(oc: Oc, shape: TopoDS_Shape, kind: TopAbs_ShapeEnum, keep: Keep): TopoDS_Shape[] {
  const explorer = new oc.TopExp_Explorer(shape, kind, 'TopAbs_SHAPE');
  const found: TopoDS_Shape[] = [];
  try {
    while (explorer.More()) {
      found.push(keep(explorer.Current()));
      explorer.Next();
    }
  } finally {
    explorer.delete();
  }
  return found;
}

/** Number of sub-shapes of a kind, counted once each even where several parents share one. */
export function countSolids(oc: Oc, shape: TopoDS_Shape): number {
  return scoped((keep) => subShapes(oc, shape, 'TopAbs_SOLID', keep).length);
}

/** The kernel's memory. It moves when it grows: ask anew after every kernel call. */
export const memoryOf = (oc: Oc): ArrayBuffer =>
  (oc as unknown as { readonly wasmMemory: { readonly buffer: ArrayBuffer } }).wasmMemory.buffer;

interface WasmNamespace {
  readonly Exception?: new (...args: never[]) => object;
}

/** The kernel's own words for an exception it raised, or null for an exception from elsewhere. */
export function kernelMessage(oc: Oc, error: unknown): string | null {
  const wasm = (globalThis as { WebAssembly?: WasmNamespace }).WebAssembly;
  if (wasm?.Exception === undefined || !(error instanceof wasm.Exception)) return null;
  try {
    return oc.getExceptionMessage(error as Parameters<Oc['getExceptionMessage']>[0]).join(': ');
  } catch {
    return 'unnamed failure';
  }
}

/** Runs a kernel call; what the kernel raises becomes a `ProblemError` with the given code and sentence. */
export function guarded<T>(oc: Oc, code: ProblemCode, sentence: string, work: () => T): T {
  try {
    return work();
  } catch (error) {
    const message = kernelMessage(oc, error);
    if (message === null) throw error;
    throw new ProblemError(code, `${sentence} (geometry kernel: ${message})`);
  }
}
