import type { Kernel, Shape, WorkPlane } from '#core/kernel';
import type { Named } from '#core/outline';
import type { Axis, Edge, Face, Surface } from '#core/solid';

import type { AxisReference, Mode, PlaneReference } from './entries.ts';
import type { StepValues } from './values.ts';
import type { NamedSurface } from './surfaces.ts';

/** Bodies that a step adds to the part or cuts from it, in one operation. */
export interface Part {
  readonly mode: Mode;
  readonly tools: readonly Shape[];
}

/** A thread that is shown and called out but not cut. Lengths in mm; `surface` is the wall that carries it. */
export interface Thread {
  readonly stepId: string;
  readonly designation: string;
  readonly fit: string | null;
  readonly surface: Surface;
  /** Null: as long as the wall. */
  readonly lengthMm: number | null;
  readonly external: boolean;
}

/** What a step does to the part. Names of surfaces are those after the id of the step. */
export type Outcome =
  | {
      readonly kind: 'parts';
      readonly parts: readonly Part[];
      readonly surfaces: readonly Named[];
      readonly threads?: readonly Thread[];
    }
  | { readonly kind: 'body'; readonly body: Shape; readonly surfaces: readonly Named[] }
  | { readonly kind: 'plane'; readonly plane: WorkPlane }
  | { readonly kind: 'axis'; readonly axis: Axis }
  | { readonly kind: 'thread'; readonly thread: Thread };

/** What a step finds when it is built. */
export interface Context {
  readonly kernel: Kernel;
  readonly values: StepValues;
  surface(name: string): NamedSurface;
  /** All names so far. */
  surfaces(): ReadonlyMap<string, NamedSurface>;
  plane(reference: PlaneReference): WorkPlane;
  axis(reference: AxisReference): Axis;
  /** The part so far, with nothing left to be joined or cut. Refuses with `nothing-to-cut`. */
  readonly body: () => Shape;
  tables(body: Shape): { readonly faces: readonly Face[]; readonly edges: readonly Edge[] };
  /** How far the part reaches along a normal, with room on both ends. */
  reach(plane: WorkPlane): { readonly fromMm: number; readonly toMm: number };
  /** What an earlier step made, to be copied. Refuses with `unknown-step` and `cannot-copy`. */
  made(stepId: string): { readonly parts: readonly Part[]; readonly surfaces: readonly Named[] };
  /** Hands a shape to the builder, who frees it when nothing needs it any more. */
  readonly keep: (shape: Shape) => Shape;
}

/** "wall" for one of one, "2.wall" for the second of several. */
export const numbered = (index: number, count: number, role: string): string =>
  count === 1 ? role : `${String(index + 1)}.${role}`;
