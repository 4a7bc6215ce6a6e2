import { measureSubmission, type CheckMeasurement, type Measurement, type Reference } from '#core/check';
import { exerciseOfStage, type Exercise } from '#core/exercise';
import type { Kernel, Shape } from '#core/kernel';
import { attempt, unwrap } from '#core/problem';
import { withValues, type ParameterValues, type Recipe } from '#core/recipe';
import { RECIPE_SOURCE, type Solid } from '#core/solid';

import { applyEdits } from './edit.ts';
import { buildOn, groundOf, type Ground } from './ground.ts';
import type { Mistake } from './mistake.ts';

/** Which part of an exercise mistakes are made in. */
export interface PartOptions {
  readonly values?: ParameterValues | undefined;
  /** From 1. */
  readonly stage?: number | undefined;
  /** Of the exercise; keeps what its parts have in common. The caller frees it. */
  readonly ground?: Ground | undefined;
}

/** Fine enough for laying parts on each other. */
const COARSE = { toleranceMm: 0.3, angleRad: 0.6 } as const;
/** Builds parts of one exercise with mistakes in them, and measures them. What cannot be built gives null. */
export class MistakenParts {
  readonly exercise: Exercise;
  private readonly kernel: Kernel;
  private readonly recipe: Recipe;
  private readonly ground: Ground;
  private readonly ownsGround: boolean;

  constructor(kernel: Kernel, document: Exercise, { values = {}, stage = 1, ground }: PartOptions) {
    this.kernel = kernel;
    this.ownsGround = ground === undefined;
    this.ground = ground ?? groundOf(kernel, document);
    this.exercise = exerciseOfStage(this.ground.exercise, stage);
    this.recipe = unwrap(withValues(this.exercise.recipe, values));
  }

  /** Opens the part with some mistakes for as long as `use` runs. */
  with<T>(mistakes: readonly Mistake[], use: (shape: Shape) => T): T | null {
    const edits = mistakes.flatMap((mistake) => mistake.edits);
    const edited = applyEdits(this.recipe, edits);
    if (!edited.ok) return null;
    const stretches = edits.filter((edit) => edit.kind === 'stretch');
    const built = this.safely(() => buildOn(this.kernel, this.ground, edited.value, stretches));
    if (!built?.ok) return null;
    const { shape } = built.value;
    try {
      return use(shape);
    } finally {
      shape.free();
    }
  }

  /** What the checks of a reference find on a part; null where it is no closed body, or cannot be measured. */
  measured(shape: Shape, reference: Reference): { readonly solid: Solid; readonly measurement: Measurement } | null {
    const solid = this.safely(() => this.kernel.analyze(shape, RECIPE_SOURCE, COARSE));
    if (!solid?.ok || !solid.value.closed || solid.value.bodies === 0) return null;
    const measurement = attempt(() => measureSubmission(reference, solid.value));
    return measurement.ok ? { solid: solid.value, measurement: measurement.value } : null;
  }

  /** What the kernel raises of its own means that there is no such part; anything else is a fault of the program. */
  safely<T>(work: () => T): T | null {
    try {
      return work();
    } catch (error) {
      if (this.kernel.explain(error) !== null) return null;
      throw error;
    }
  }

  free(): void {
    if (this.ownsGround) this.ground.free();
  }
}

/** Without faces, which mean nothing on another part. */
export const withoutFaces = (check: CheckMeasurement): CheckMeasurement => ({
  ...check,
  faceIds: [],
  referenceFaceIds: [],
});
