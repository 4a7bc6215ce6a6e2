import * as v from 'valibot';

import type { Chamfer, Feature, Hole } from '#core/feature';
import type { Face, Solid, Warning } from '#core/solid';
import type { Vec3 } from '#core/vector';

import { planned, targeted, type AxisIndex, type CheckGroup, type Quantity, type Tolerance } from './entries.ts';
import type { Frame } from './frame.ts';
import type { CheckMeasurement } from './measurement.ts';

/** What a kind finds when a check of it is tied to the reference. Refuses by raising a `ProblemError`. */
export interface PrepareContext {
  readonly solid: Solid;
  readonly densityGPerCm3: number;
  /** Whether the plan also checks where the part lies. */
  readonly checksFrame: boolean;
  /** Value of an expression as it is, or in mm. */
  readonly number: (expression: string) => number;
  readonly lengthMm: (expression: string) => number;
  /** Faces of the reference that carry a named surface. Refuses with `check-anchor` where there are none. */
  readonly faceIds: (surfaceName: string) => readonly number[];
  /** The same, with none where there are none. */
  readonly named: (surfaceName: string) => readonly number[];
  /** All checks of the plan, with the surfaces that some of them hang on. */
  readonly checks: readonly {
    readonly kind: string;
    readonly off?: boolean | undefined;
    readonly on?: string | undefined;
    readonly to?: string | undefined;
    readonly of?: string | readonly string[] | undefined;
    readonly like?: string | undefined;
    readonly size?: string | undefined;
  }[];
  readonly holes: () => readonly Hole[];
  readonly chamfers: () => readonly Chamfer[];
  /** Nominal in mm and tolerance of a dimension. */
  readonly size: (check: PlannedValue) => TargetSize;
  /** The same in degrees. */
  readonly angle: (check: PlannedValue) => TargetSize;
  /** A nominal with a tolerance in percent of it. */
  readonly property: (
    nominal: number,
    tolerancePercent: number,
  ) => { readonly nominal: number; readonly tolerance: number };
  /** Raises `check-anchor` with a sentence that begins with the name of the check. */
  readonly refuse: (what: string) => never;
}

interface PlannedValue {
  readonly nominal: string;
  readonly tolerance: Tolerance;
}

interface TargetSize {
  readonly expression: string;
  readonly nominal: number;
  readonly tolerance: number;
  readonly limits?: { readonly lower: number; readonly upper: number };
}

/** What was found on the model, without the check that it belongs to. */
export type Found = Omit<CheckMeasurement, 'checkId'>;

/** A value, or a sentence that says why there is none. */
export type Ruling = number | string;

/** What a kind finds when a check of it is measured on a submission. Face ids are those of the reference, if not said. */
export interface MeasureContext {
  readonly reference: Solid;
  readonly submission: Solid;
  readonly frame: Frame;
  readonly densityGPerCm3: number;
  /** The best partner on the submission of any of the faces that carry one surface of the reference. */
  readonly partner: (referenceFaceIds: readonly number[]) => Face | null;
  /** Partners that are without doubt, of each of these faces. */
  readonly nearPartners: (referenceFaceIds: readonly number[]) => readonly Face[];
  /** All partners on the submission. */
  readonly partnerIds: (referenceFaceIds: readonly number[]) => readonly number[];
  /** A direction of the part as it lies in the file. */
  readonly directionInFile: (direction: Vec3) => Vec3;
  /** A point of the file as it lies on the reference. */
  readonly pointOnReference: (point: Vec3) => Vec3;
  /** Partner of the hole or chamfer of the reference that has one of these faces; null where it is missing. */
  readonly holePartner: (referenceFaceIds: readonly number[]) => Hole | null;
  readonly chamferPartner: (referenceFaceIds: readonly number[]) => Chamfer | null;
  /** Holes of the submission that no hole of the reference is the partner of. */
  readonly unpairedHoles: () => readonly Hole[];
  /** Faces of the submission that belong to nothing on the reference. */
  readonly foreignFaces: () => readonly Face[];
  /** Partners of the holes of the reference with these faces. */
  readonly holePartners: (referenceFaceIds: readonly number[]) => readonly Hole[];
  readonly features: () => readonly Feature[];
  readonly isSymmetric: (center: Vec3, normal: Vec3) => boolean;
  readonly extentMm: (direction: Vec3) => number;
  /** Uncertainty of the position of faces of the submission, together, mm. */
  readonly uncertaintyMm: (faceIds: readonly number[]) => number;
  /** Measures between the partners of two surfaces; the value is as uncertain as both together. */
  readonly between: (
    fromFaceIds: readonly number[],
    toFaceIds: readonly number[],
    rule: (from: Face, to: Face) => Ruling,
  ) => Found;
}

/** What is known of a submission besides its measurements when a check is judged. */
export interface JudgeFacts {
  readonly bodies: number;
  readonly closed: boolean;
  readonly warnings: readonly Warning[];
  /** By the typed mass and the volume of the file, g/cm3; null without a typed mass. */
  readonly typedDensityGPerCm3: number | null;
}

/** Something that a dimension is measured from or to: a flat face, or the axis of a cylinder. `A` names it. */
export interface SpanEnd<A> {
  readonly on: 'face' | 'axis';
  readonly at: A;
}

/**
 * What a dimension spans: the distance of two ends, as seen along an axis of the part where one is named, or the whole
 * extent of the part along an axis.
 */
export type Span<A> =
  | { readonly kind: 'between'; readonly from: SpanEnd<A>; readonly to: SpanEnd<A>; readonly along?: AxisIndex }
  | { readonly kind: 'extent'; readonly axis: AxisIndex };

/** What a check says for the dimension chains of the sheet, besides its span. */
export interface ChainRole {
  /** The members of circles with equal spacing, which places all of them about their middles. */
  readonly circles?: readonly (readonly (readonly number[])[])[];
  /** Members at equal angles about a center: one of them places all, but no length follows. */
  readonly tied?: readonly (readonly (readonly number[])[])[];
  /** A depth along the axis of a hole: ties its bottom to the face it begins in, or its shoulder to that. */
  readonly depth?: { readonly faceIds: readonly number[]; readonly of: 'hole' | 'recess' };
  /** Cylinders whose diameter or radius is given. */
  readonly sized?: readonly number[];
  /** Faces of a chamfer that is given. */
  readonly chamfered?: readonly number[];
  /** Faces whose direction is given. */
  readonly directed?: readonly number[];
}

/** How a check is drawn on the sheet; face ids of the reference. */
export type Drafting =
  | { readonly form: 'linear'; readonly span: Span<readonly number[]> }
  /** Diameters and radii: across a turned part, or by a leader with its count. */
  | {
      readonly form: 'circular';
      readonly sign: '⌀' | 'R';
      readonly members: readonly (readonly number[])[];
    }
  /** A part of the callout of a hole. */
  | { readonly form: 'hole-note'; readonly faceIds: readonly number[]; readonly part: HoleNotePart }
  /** That rounds lie at equal angles about a center, some of them left out between others; said once for all rings. */
  | {
      readonly form: 'spacing';
      readonly faceIds: readonly number[];
      readonly count: number;
      readonly leftOut: number;
      /** All round, with none left out. */
      readonly isFull: boolean;
    }
  /** The circle through the axes of holes. */
  | { readonly form: 'bolt-circle'; readonly members: readonly (readonly number[])[] }
  | {
      readonly form: 'chamfer';
      readonly faceIds: readonly number[];
      readonly onFaceIds: readonly number[];
      /** How many like chamfers have this size. */
      readonly count: number;
    }
  /** The circle where two faces meet, or the one of this size around a face. */
  | {
      readonly form: 'edge-circle';
      readonly faceIds: readonly number[];
      readonly onFaceIds: readonly number[] | null;
      readonly diameterMm: number;
    }
  /** From a flat face, or an axis, to the edge where two others meet. */
  | {
      readonly form: 'edge';
      readonly fromFaceIds: readonly number[];
      readonly faceIds: readonly number[];
      readonly onFaceIds: readonly number[];
    }
  /** The angle at a center between a flat face and the line to a hole. */
  | {
      readonly form: 'polar';
      readonly faceIds: readonly number[];
      readonly aboutFaceIds: readonly number[];
      readonly fromFaceIds: readonly number[];
    }
  | { readonly form: 'angular'; readonly fromFaceIds: readonly number[]; readonly toFaceIds: readonly number[] };

export type HoleNotePart =
  | 'depth'
  | 'counterbore-diameter'
  | 'counterbore-depth'
  | 'countersink-diameter'
  | 'countersink-angle';

/** How a check is made by picking surfaces in the part. */
export interface Picking {
  /** What the list of new checks calls it. */
  readonly label: string;
  /** The field that each picked surface fills, in the order of picking; `list` fields take one or more. */
  readonly fills: readonly { readonly field: string; readonly list?: boolean }[];
  /** Values of a new check that differ from the usual ones. */
  readonly starts?: Readonly<Record<string, string>>;
}

/** How the measured value is judged. */
export type Judging =
  /** Its deviation from the nominal lies within the tolerance. */
  | { readonly by: 'tolerance' }
  /** It is a distance, and itself the deviation. */
  | { readonly by: 'distance' }
  /** It is exactly this number; 1 stands for yes. */
  | { readonly by: 'value'; readonly wanted: number };

type Entries = v.ObjectEntries;
type Strict<E extends Entries> = v.StrictObjectSchema<E, undefined>;
type Plain<E extends Entries> = v.ObjectSchema<E, undefined>;
type CheckEntries<K extends string, C extends Entries> = typeof planned &
  C & { readonly kind: v.LiteralSchema<K, undefined> };
type TargetEntries<K extends string, T extends Entries> = typeof targeted &
  T & { readonly kind: v.LiteralSchema<K, undefined> };
type Fields<E extends Entries> = v.InferOutput<Plain<E>>;
type CheckFields<K extends string, C extends Entries> = Readonly<v.InferOutput<Strict<CheckEntries<K, C>>>>;
type TargetFields<K extends string, T extends Entries> = Readonly<v.InferOutput<Plain<TargetEntries<K, T>>>>;

/** What holds for a kind whatever its fields are. */
export interface KindFacts {
  readonly group: CheckGroup;
  readonly quantity: Quantity;
  /** Whether it gives the size of something, or where it is. */
  readonly gives: 'size' | 'place' | null;
  readonly judging: Judging;
  /** How it is made by picking in the editor; kinds without it come with a suggested plan. */
  readonly picking?: Picking;
  /** The nominal in words, where it is no number. */
  readonly nominalWords?: string;
  /** What is learned after measuring: a value for what the model alone does not tell, or that it does not hold. */
  afterwards?(facts: JudgeFacts): {
    readonly measured?: number | null;
    readonly reason?: string;
    readonly fails?: boolean;
  };
  /** What is said of a model on which it fails, as a part of a sentence after its label; `value` is written with its unit. */
  readonly notAsDrawn?: (value: string) => string;
  /** What causes of mistakes look at when a check of this kind fails. */
  readonly tellsOf?: 'diameter' | 'radius' | 'count-of-holes' | 'bodies' | 'frame';
}

/**
 * Everything that the program knows of one kind of check. `C` and `T` are the fields of a check of this kind in a plan,
 * and of its target, beside those that all kinds have. A file of this folder's `kinds/` defines each.
 */
export interface KindDefinition<K extends string, C extends Entries, T extends Entries> extends KindFacts {
  readonly kind: K;
  /** Fields of a check, as the check plan writes them: expressions and names of surfaces. */
  readonly check: C;
  /** Fields of a target: numbers and faces of the reference. */
  readonly target: T;
  /** Fields of the check that say what is measured; two checks that agree in them measure the same. */
  readonly hangsOn: readonly (keyof C & string)[];
  /** Evaluates a check and ties it to faces of the reference. */
  prepare(check: CheckFields<K, C>, context: PrepareContext): Fields<T>;
  measure(target: TargetFields<K, T>, context: MeasureContext): Found;
  /** Faces of the reference that a check is about, to be marked in the part. */
  marks(target: TargetFields<K, T>): readonly number[];
  /** What a dimension spans, by names of surfaces and by faces of the reference. */
  spanOfCheck?(check: CheckFields<K, C>): Span<string>;
  spanOfTarget?(target: TargetFields<K, T>): Span<readonly number[]>;
  /** What it says for the dimension chains of the sheet. */
  chain?(target: TargetFields<K, T>): ChainRole;
  /** How it is drawn on the sheet; kinds without it are not. */
  drafting?(target: TargetFields<K, T>): Drafting;
}

/** A definition with the schemas that follow from it. */
export type Kind<K extends string, C extends Entries, T extends Entries> = KindDefinition<K, C, T> & {
  readonly checkSchema: Strict<CheckEntries<K, C>>;
  readonly targetSchema: Plain<TargetEntries<K, T>>;
};

/** Defines a kind of check; its schemas for check plans and targets are made from the fields it names. */
export function defineKind<const K extends string, C extends Entries, T extends Entries>(
  definition: KindDefinition<K, C, T>,
): Kind<K, C, T> {
  const kind = v.literal(definition.kind);
  return {
    ...definition,
    checkSchema: v.strictObject({ ...planned, ...definition.check, kind }),
    targetSchema: v.object({ ...targeted, ...definition.target, kind }),
  };
}
