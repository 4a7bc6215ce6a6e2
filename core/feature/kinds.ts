import type { Hole } from './hole.ts';
import type { BoltCircle, MirroredTwins, Row } from './pattern.ts';
import type { Boss, Groove, Pocket, Rib, Slot, SlottedHole, Step } from './prism.ts';
import type { Chamfer, Fillet, FullRound } from './fillet.ts';
import type { SymmetryPlane, Thread, TurnedBody } from './whole.ts';

export type Feature =
  | Hole
  | SlottedHole
  | Boss
  | Pocket
  | Slot
  | Step
  | Groove
  | Rib
  | Fillet
  | FullRound
  | Chamfer
  | Thread
  | BoltCircle
  | Row
  | MirroredTwins
  | TurnedBody
  | SymmetryPlane;
export type FeatureKind = Feature['kind'];
export type FeatureOf<K extends FeatureKind> = Extract<Feature, { kind: K }>;

export const FEATURE_KINDS = [
  'hole',
  'slotted-hole',
  'boss',
  'pocket',
  'slot',
  'step',
  'groove',
  'rib',
  'fillet',
  'full-round',
  'chamfer',
  'thread',
  'bolt-circle',
  'row',
  'mirrored-twins',
  'turned-body',
  'symmetry-plane',
] as const satisfies readonly FeatureKind[];
