import type { DisplayModel } from '#api';
import type { Check, Exercise, Variant } from '#core/exercise';
import type { Loop } from '#core/outline';
import type { CheckState } from '#core/plan';
import type { Problem, Result } from '#core/problem';
import type { Outline } from '#core/outline';
import type { Recipe, Thread, Unfinished } from '#core/recipe';
import type { MassProperties } from '#core/solid';
import type { KeyEntry, LetterRange, VariantVerdict } from '#core/variant';
import type { Vec3 } from '#core/vector';

/** What the page asks of the workshop. */
export type Request =
  | { readonly kind: 'build'; readonly recipe: Recipe; readonly until: string | null }
  | { readonly kind: 'outline'; readonly recipe: Recipe; readonly outline: Outline }
  | { readonly kind: 'plan'; readonly exercise: Exercise }
  | { readonly kind: 'suggest'; readonly exercise: Exercise }
  | { readonly kind: 'judge'; readonly exercise: Exercise }
  | {
      readonly kind: 'generate';
      readonly exercise: Exercise;
      readonly ranges: readonly LetterRange[];
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

export interface OutlineAnswer {
  readonly loops: readonly { readonly loop: Loop; readonly hole: boolean }[];
}

/** What the workshop answers to each kind of request. */
export interface Answers {
  readonly build: BuiltAnswer;
  readonly outline: OutlineAnswer;
  readonly plan: readonly CheckState[];
  readonly suggest: readonly Check[];
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
}
