/** The table of operations. Everything that depends on the operation of a step is read from it. */
import * as v from 'valibot';

import type { FeatureKind } from '#core/feature';
import type { Outline } from '#core/outline';
import type { DrawingUnit } from '#core/quantity';

import type { Context, Outcome } from '../context.ts';
import type { Field, FieldPath } from '../form.ts';
import type { NumberRole } from '../numbers.ts';
import type { Effect, PlacedMember, Repeat, StartContext, StepExtent, StepMistake } from '../operation.ts';
import { axis } from './axis.ts';
import { chamfer } from './chamfer.ts';
import { circularPattern } from './circular-pattern.ts';
import { extrude } from './extrude.ts';
import { fillet } from './fillet.ts';
import { fullRound } from './full-round.ts';
import { hole } from './hole.ts';
import { linearPattern } from './linear-pattern.ts';
import { loft } from './loft.ts';
import { mirror } from './mirror.ts';
import { plane } from './plane.ts';
import { revolve } from './revolve.ts';
import { rib } from './rib.ts';
import { thread } from './thread.ts';

/** Every operation, in the order in which lists show them. A new one is a file of this folder and a line here. */
const DEFINITIONS = [
  extrude,
  revolve,
  hole,
  fillet,
  fullRound,
  chamfer,
  rib,
  loft,
  mirror,
  linearPattern,
  circularPattern,
  plane,
  axis,
  thread,
] as const;

export type Operation = (typeof DEFINITIONS)[number]['op'];
export const OPERATIONS = DEFINITIONS.map(({ op }) => op);

export const StepSchema = v.variant(
  'op',
  DEFINITIONS.map(({ schema }) => schema),
);
/** A build step. */
export type Step = Readonly<v.InferOutput<typeof StepSchema>>;
export type StepOf<Op extends Operation> = Extract<Step, { op: Op }>;

/** What is common to all operations; its functions take a step of the operation that it was looked up for. */
export interface AnyOperation {
  readonly op: Operation;
  readonly name: string;
  readonly searchWords: string;
  readonly logWords: RegExp;
  readonly surfaces: readonly string[];
  effect(step: Step): Effect;
  build(step: Step, context: Context): Outcome;
  sentence(step: Step): string;
  readonly form: readonly Field[];
  start(context: StartContext): object;
  mistakes?(step: Step, unit: DrawingUnit): readonly StepMistake[];
  readonly numberRoles?: Readonly<Record<string, NumberRole>>;
  otherOutlines?(step: Step): readonly { readonly path: FieldPath; readonly outline: Outline }[];
  repeats?(step: Step): readonly Repeat[];
  placed?(step: Step): readonly PlacedMember[];
  extent?(step: Step): StepExtent | null;
  readonly leaves?: { readonly features: readonly FeatureKind[]; readonly absent: string };
  readonly ownFeature?: FeatureKind;
  readonly makerOf?: { readonly feature: FeatureKind; readonly words: string };
  readonly usesSymmetry?: boolean;
}

const BY_NAME = new Map<Operation, AnyOperation>(DEFINITIONS.map((definition) => [definition.op, definition]));

/** The definition of an operation. */
export function operationOf(op: Operation): AnyOperation {
  const definition = BY_NAME.get(op);
  if (definition === undefined) throw new Error(`no operation "${op}"`);
  return definition;
}
