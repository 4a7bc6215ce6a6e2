import { measureSubmission, type CheckMeasurement, type Measurement, type Reference } from '#core/check';
import { exerciseOfStage, type Exercise } from '#core/exercise';
import type { Kernel, Shape } from '#core/kernel';
import { attempt, unwrap } from '#core/problem';
import { RecipeBuilder, withValues, type ParameterValues, type Recipe } from '#core/recipe';
import type { Solid } from '#core/solid';

import { applyEdits } from './edit.ts';
import type { Mistake } from './mistake.ts';

/** Which part of an exercise mistakes are made in. */
export interface PartOptions {
  readonly values?: ParameterValues | undefined;
  /** From 1. */
  readonly stage?: number | undefined;
  /** Keeps what the parts have in common; the caller frees it. */
  readonly builder?: RecipeBuilder | undefined;
}

/** Fine enough for laying parts on each other. */
const COARSE = { toleranceMm: 0.3, angleRad: 0.6 } as const;
const SOURCE = { format: 'recipe', declaredUnit: 'mm', productName: null, originatingSystem: null } as const;

/** Builds parts of one exercise with mistakes in them, and measures them. What cannot be built gives null. */
export class MistakenParts {
  readonly exercise: Exercise;
  private readonly kernel: Kernel;
  private readonly recipe: Recipe;
  private readonly builder: RecipeBuilder;
  private readonly ownsBuilder: boolean;

  constructor(kernel: Kernel, document: Exercise, { values = {}, stage = 1, builder }: PartOptions) {
    this.kernel = kernel;
    this.exercise = exerciseOfStage(document, stage);
    this.recipe = unwrap(withValues(this.exercise.recipe, values));
    this.ownsBuilder = builder === undefined;
    this.builder = builder ?? new RecipeBuilder(kernel);
  }

  /** Opens the part with some mistakes for as long as `use` runs. */
  with<T>(mistakes: readonly Mistake[], use: (shape: Shape) => T): T | null {
    const edited = applyEdits(
      this.recipe,
      mistakes.flatMap(({ edits }) => edits),
    );
    if (!edited.ok) return null;
    const built = this.safely(() => this.builder.build(edited.value));
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
    const solid = this.safely(() => this.kernel.analyze(shape, SOURCE, COARSE));
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
    if (this.ownsBuilder) this.builder.free();
  }
}

/** Without faces, which mean nothing on another part. */
export const withoutFaces = (check: CheckMeasurement): CheckMeasurement => ({
  ...check,
  faceIds: [],
  referenceFaceIds: [],
});
