import * as v from 'valibot';

import type { MistakeKind } from '#core/cause';
import type { FeatureKind } from '#core/feature';
import type { Outline } from '#core/outline';
import type { DrawingUnit } from '#core/quantity';

import type { Context, Outcome } from './context.ts';
import { stepFields } from './entries.ts';
import type { Field, FieldPath } from './form.ts';
import type { NumberRole } from './numbers.ts';

/** What a step does to the part. */
export type Effect = 'adds' | 'cuts' | 'dresses' | 'copies' | 'plane' | 'axis' | 'thread';

/** How a build step gets its depth, as a list of build steps may say it. */
export type StepExtent = 'through' | 'up-to' | 'symmetric';

/** What is known of the recipe when a new step is made. */
export interface StartContext {
  readonly unit: DrawingUnit;
  /** A name for the step that no other step has, from a base name. */
  readonly freeId: (base: string) => string;
  /** Names of the surfaces of the part so far, in the order in which they were made. */
  readonly surfaces: readonly string[];
  /** The last step that can be copied. */
  readonly lastStepId: string;
}

/** A value of a step that a mistake changes: of the step, or of one hole of several counted from 0. Null takes it away. */
export interface StepChange {
  readonly path: FieldPath;
  readonly value: unknown;
  readonly hole?: number;
}

/** A mistake that is made in one step: set to something else than the sheet shows. */
export interface StepMistake {
  readonly kind: MistakeKind;
  /** With the kind, unique within the step. */
  readonly key: string;
  readonly changes: readonly [StepChange, ...StepChange[]];
  /** The sentence for the student, after the name of the step. */
  readonly words: string;
  /** How often this one is made, beside others of its kind. */
  readonly factor?: number;
  /** The shape comes of many sizes, as of every depth that goes through: it is told by these words, not by one of them. */
  readonly ofAnySize?: true;
}

/** Things of a step that one of may be forgotten: items of a list, or places that can be skipped. */
export type Repeat =
  | { readonly kind: 'list'; readonly path: FieldPath; readonly length: number }
  | {
      readonly kind: 'places';
      /** Where the numbers of skipped places are kept. */
      readonly path: FieldPath;
      readonly skip: readonly number[];
      /** Number of places, an expression. */
      readonly count: string;
      /** The first place that can be skipped. */
      readonly first: 1 | 2;
    };

/** Something that a step puts at a point of its plane. */
export interface PlacedMember {
  readonly path: FieldPath;
  readonly point: readonly [string, string];
  /** Half of its own size, an expression; null where it has no one size. */
  readonly half: string | null;
}

type Entries = v.ObjectEntries;
type StepEntries<Op extends string, E extends Entries> = typeof stepFields &
  E & { readonly op: v.LiteralSchema<Op, undefined> };
type Fields<Op extends string, E extends Entries> = Readonly<
  v.InferOutput<v.StrictObjectSchema<StepEntries<Op, E>, undefined>>
>;

/** A step with some fields, for functions that are named before the operation is defined. */
export type StepWith<E extends Entries> = Readonly<v.InferOutput<v.ObjectSchema<typeof stepFields & E, undefined>>>;

/** Everything that the program knows of one operation. `E` are the fields of its steps beside those that all steps have. */
export interface OperationDefinition<Op extends string, E extends Entries> {
  readonly op: Op;
  /** What instructors and students read. */
  readonly name: string;
  /** Other words that people search it by. */
  readonly searchWords: string;
  /** Words by which it is known in a list of build steps; of words at the same place the longer ones decide. */
  readonly logWords: RegExp;
  readonly fields: E;
  /** Roles of the surfaces that it names; those with a number stand for one of several. */
  readonly surfaces: readonly string[];
  effect(step: Fields<Op, E>): Effect;
  /** Builds a step. Refuses by raising a `ProblemError`. */
  build(step: Fields<Op, E>, context: Context): Outcome;
  /** What a step does, with its numbers. */
  sentence(step: Fields<Op, E>): string;
  readonly form: readonly Field[];
  /** A new step, but for its operation, with sizes in mm that usually build. */
  start(context: StartContext): StepWith<E>;
  /** Mistakes that belong to it, beside wrong numbers and forgotten things, which all steps share. */
  mistakes?(step: Fields<Op, E>, unit: DrawingUnit): readonly StepMistake[];
  /** What its numbers are, by their field, where that is not the usual role of the field. */
  readonly numberRoles?: Readonly<Record<string, NumberRole>>;
  /** Outlines that are not in the field `outlines`. */
  otherOutlines?(step: Fields<Op, E>): readonly { readonly path: FieldPath; readonly outline: Outline }[];
  /** What one of may be forgotten, besides outlines and edges. */
  repeats?(step: Fields<Op, E>): readonly Repeat[];
  placed?(step: Fields<Op, E>): readonly PlacedMember[];
  extent?(step: Fields<Op, E>): StepExtent | null;
  /** Features of which one is there when the operation was used, and a sentence for a model that has none. */
  readonly leaves?: { readonly features: readonly FeatureKind[]; readonly absent: string };
  /** The feature that it alone leaves, by which it is known whatever the order of the steps. */
  readonly ownFeature?: FeatureKind;
  /** A feature that a list of build steps should account for, and the words for it. */
  readonly makerOf?: { readonly feature: FeatureKind; readonly words: string };
  /** Whether it makes use of symmetry. */
  readonly usesSymmetry?: boolean;
}

/** A definition with the schema that follows from it. */
export type OperationOf<Op extends string, E extends Entries> = OperationDefinition<Op, E> & {
  readonly schema: v.StrictObjectSchema<StepEntries<Op, E>, undefined>;
};

/** Defines an operation; the schema of its steps is made from the fields it names. */
export function defineOperation<const Op extends string, E extends Entries>(
  definition: OperationDefinition<Op, E>,
): OperationOf<Op, E> {
  return {
    ...definition,
    schema: v.strictObject({ ...stepFields, op: v.literal(definition.op), ...definition.fields }),
  };
}
