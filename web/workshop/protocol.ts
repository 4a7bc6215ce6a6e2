import type { DisplayModel } from '#api';
import type { Check } from '#core/check';
import type { Exercise, SheetView, Variant } from '#core/exercise';
import type { Recipe, Thread, Unfinished } from '#core/recipe';
import type { ChainFinding, DerivedSize } from '#core/chain';
import type { OpenSizes } from '#core/determinacy';
import type { FeatureKind } from '#core/feature';
import type { Loop } from '#core/outline';
import type { CheckState } from '#core/plan';
import type { Problem, Result } from '#core/problem';
import type { Outline } from '#core/outline';
import type { Sheet } from '#core/sheet';
import type { LengthUnit } from '#core/quantity';
import type { Edge, Estimate, Face, MassProperties, Solid, Warning } from '#core/solid';
import type { KeyEntry, ParameterRange, VariantVerdict } from '#core/variant';
import type { Vec3 } from '#core/vector';

/** What the page asks of the workshop. */
export type Request =
  | { readonly kind: 'build'; readonly recipe: Recipe; readonly until: string | null }
  /** The whole part as STEP; refused where a step of it fails. */
  | { readonly kind: 'export'; readonly recipe: Recipe }
  /** Reads the model file of an exercise. */
  | { readonly kind: 'read'; readonly exercise: Exercise }
  /** Reads a model file that is nobody's yet, to be measured; without unit where its format says it or it is guessed. */
  | {
      readonly kind: 'inspect';
      readonly bytes: Uint8Array;
      readonly fileName: string;
      readonly unit: LengthUnit | null;
    }
  | { readonly kind: 'outline'; readonly recipe: Recipe; readonly outline: Outline }
  | { readonly kind: 'plan'; readonly exercise: Exercise }
  | { readonly kind: 'sheet'; readonly exercise: Exercise }
  | { readonly kind: 'suggest'; readonly exercise: Exercise }
  /** Varies the numbers of the recipe; takes seconds, so that it has a workshop of its own. */
  | { readonly kind: 'determine'; readonly exercise: Exercise }
  /** Adds what settles the sizes that are open. */
  | { readonly kind: 'complete'; readonly exercise: Exercise }
  /** Chooses the views of a new sheet. */
  | { readonly kind: 'views'; readonly exercise: Exercise }
  | { readonly kind: 'judge'; readonly exercise: Exercise }
  | {
      readonly kind: 'generate';
      readonly exercise: Exercise;
      readonly ranges: readonly ParameterRange[];
      readonly wanted: number;
      readonly seed: number;
    }
  | { readonly kind: 'key'; readonly exercise: Exercise };
export type RequestKind = Request['kind'];

/** A part for the preview. */
export interface PartPreview {
  readonly model: DisplayModel;
  readonly properties: MassProperties;
  readonly sizeMm: Vec3;
  /** Names of the surfaces of each face. */
  readonly namesOfFace: readonly (readonly string[])[];
  readonly threads: readonly Thread[];
}

export interface BuiltAnswer {
  readonly part: PartPreview | null;
  readonly unfinished: Unfinished | null;
  /** Of the kernel alone, ms. */
  readonly durationMs: number;
}

/** A model file as it was read. */
export interface ReadAnswer {
  readonly part: PartPreview;
  readonly source: Solid['source'];
  readonly warnings: readonly Warning[];
  /** Recognized features in words, each kind with its count. */
  readonly features: readonly {
    readonly kind: FeatureKind;
    readonly count: number;
    readonly faceIds: readonly number[];
  }[];
  readonly durationMs: number;
}

/** A model file as it is, with all that can be measured on it. */
export interface InspectAnswer {
  readonly model: DisplayModel;
  readonly faces: readonly Face[];
  readonly edges: readonly Edge[];
  readonly sizeMm: Vec3;
  readonly estimate: Estimate;
  readonly bodies: number;
  readonly closed: boolean;
  readonly source: Solid['source'];
  readonly warnings: readonly Warning[];
  readonly features: ReadAnswer['features'];
  readonly durationMs: number;
}

/** The drawing, and what it fails to say. */
export interface SheetAnswer {
  readonly sheet: Sheet;
  readonly findings: readonly ChainFinding[];
  /** Sizes that are checked, but can only be worked out from the sheet. */
  readonly derived: readonly DerivedSize[];
  /** Faces of each check that is a dimension. */
  readonly facesOf: Readonly<Record<string, readonly number[]>>;
  readonly durationMs: number;
}

export interface OutlineAnswer {
  readonly loops: readonly { readonly loop: Loop; readonly hole: boolean }[];
}

/** What the workshop answers to each kind of request. */
export interface Answers {
  readonly build: BuiltAnswer;
  readonly export: Uint8Array;
  readonly read: ReadAnswer;
  readonly inspect: InspectAnswer;
  readonly outline: OutlineAnswer;
  readonly plan: readonly CheckState[];
  readonly sheet: SheetAnswer;
  readonly suggest: readonly Check[];
  readonly determine: OpenSizes;
  readonly complete: readonly Check[];
  readonly views: readonly SheetView[];
  readonly judge: readonly VariantVerdict[];
  readonly generate: { readonly variants: readonly Variant[]; readonly left: Readonly<Record<string, number>> };
  readonly key: readonly KeyEntry[];
}

export type FromWorkshop =
  | { readonly kind: 'ready' }
  | { readonly kind: 'answer'; readonly id: number; readonly result: Result<unknown> }
  | { readonly kind: 'progress'; readonly id: number; readonly done: number; readonly total: number }
  /** The kernel is broken for good; a new workshop is needed. */
  | { readonly kind: 'broken'; readonly id: number; readonly problem: Problem };

export interface ToWorkshop {
  readonly id: number;
  readonly request: Request;
  /** Where the model file of the exercise that is asked about can be had. */
  readonly modelUrl: string | null;
}
