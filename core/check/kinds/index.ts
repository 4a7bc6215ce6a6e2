/** The table of check kinds. Everything that depends on the kind of a check is read from it. */
import * as v from 'valibot';

import type { ChainRole, Drafting, Found, KindFacts, MeasureContext, PrepareContext, Span } from '../kind.ts';
import { angleAbout } from './angle-about.ts';
import { axesMeet } from './axes-meet.ts';
import { angle } from './angle.ts';
import { area } from './area.ts';
import { boltCircle } from './bolt-circle.ts';
import { centerDistance } from './center-distance.ts';
import { centerOfMass } from './center-of-mass.ts';
import { chamferSize } from './chamfer-size.ts';
import { concentric } from './concentric.ts';
import { countersinkAngle } from './countersink-angle.ts';
import { diameter } from './diameter.ts';
import { distance } from './distance.ts';
import { edgeDiameter } from './edge-diameter.ts';
import { edgeDistance } from './edge-distance.ts';
import { featureCount } from './feature-count.ts';
import { flush } from './flush.ts';
import { inLine } from './in-line.ts';
import { frame } from './frame.ts';
import { holeCount } from './hole-count.ts';
import { holePosition } from './hole-position.ts';
import { holeSize } from './hole-size.ts';
import { mass } from './mass.ts';
import { material } from './material.ts';
import { noNeedlessEdges } from './no-needless-edges.ts';
import { nothingElse } from './nothing-else.ts';
import { overallSize } from './overall-size.ts';
import { presence } from './presence.ts';
import { principalMomentsKind } from './principal-moments.ts';
import { radius } from './radius.ts';
import { singleBody } from './single-body.ts';
import { spacing } from './spacing.ts';
import { square } from './square.ts';
import { symmetric } from './symmetric.ts';
import { thickness } from './thickness.ts';
import { unit } from './unit.ts';
import { volume } from './volume.ts';

/** Every kind, in the order in which lists show them. A new kind is a file of this folder and a line here. */
const DEFINITIONS = [
  distance,
  diameter,
  radius,
  holePosition,
  centerDistance,
  thickness,
  angle,
  angleAbout,
  holeSize,
  countersinkAngle,
  chamferSize,
  edgeDistance,
  edgeDiameter,
  boltCircle,
  spacing,
  concentric,
  axesMeet,
  flush,
  inLine,
  overallSize,
  holeCount,
  featureCount,
  square,
  nothingElse,
  presence,
  symmetric,
  principalMomentsKind,
  volume,
  area,
  mass,
  centerOfMass,
  singleBody,
  noNeedlessEdges,
  unit,
  frame,
  material,
] as const;
type Definition = (typeof DEFINITIONS)[number];

export type CheckKind = Definition['kind'];
export const CHECK_KINDS = DEFINITIONS.map(({ kind }) => kind);

export const CheckSchema = v.variant(
  'kind',
  DEFINITIONS.map(({ checkSchema }) => checkSchema),
);
/** One thing that is measured and judged; a dimension is also drawn on the sheet, under the same id. */
export type Check = Readonly<v.InferOutput<typeof CheckSchema>>;

export const TargetSchema = v.variant(
  'kind',
  DEFINITIONS.map(({ targetSchema }) => targetSchema),
);
/** A check with its expressions evaluated and its surfaces found on the reference. */
export type Target = Readonly<v.InferOutput<typeof TargetSchema>>;
export type CheckOf<K extends CheckKind> = Extract<Check, { kind: K }>;
export type TargetOf<K extends CheckKind> = Extract<Target, { kind: K }>;

/** What is common to all kinds; its functions take a check or target of the kind that it was looked up for. */
export interface AnyKind extends KindFacts {
  readonly kind: CheckKind;
  readonly hangsOn: readonly string[];
  readonly checkSchema: { readonly entries: object };
  prepare(check: Check, context: PrepareContext): object;
  measure(target: Target, context: MeasureContext): Found;
  marks(target: Target): readonly number[];
  spanOfCheck?(check: Check): Span<string>;
  spanOfTarget?(target: Target): Span<readonly number[]>;
  chain?(target: Target): ChainRole;
  drafting?(target: Target): Drafting;
}

const BY_NAME = new Map<CheckKind, AnyKind>(DEFINITIONS.map((definition) => [definition.kind, definition]));

/** The definition of a kind. */
export function kindOf(kind: CheckKind): AnyKind {
  const definition = BY_NAME.get(kind);
  if (definition === undefined) throw new Error(`no check kind "${kind}"`);
  return definition;
}
