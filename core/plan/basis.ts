import type { Exercise } from '#core/exercise';
import type { Scope } from '#core/quantity';
import type { NamedSurfaces } from '#core/recipe';
import type { Solid } from '#core/solid';

/** The reference that a plan is suggested for. */
export interface PlanBasis {
  readonly exercise: Exercise;
  readonly solid: Solid;
  readonly surfaces: NamedSurfaces;
  readonly scope: Scope;
}
