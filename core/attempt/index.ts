/** The two long computations, each one call: an exercise becomes a reference, a handed-in file becomes a report. */
import { measureSubmission, prepareReference, type Measurement, type Reference } from '#core/check';
import type { Exercise } from '#core/exercise';
import { gradeMeasurement, type Report, type ScoringPolicy, type TypedInput } from '#core/grade';
import type { Kernel } from '#core/kernel';
import { attempt, ProblemError, unwrap, type Result } from '#core/problem';
import { buildRecipe, type ParameterValues } from '#core/recipe';
import { drawSheet, renderSvg } from '#core/sheet';
import type { Solid } from '#core/solid';

export interface PreparedExercise {
  readonly reference: Reference;
  readonly sheetSvg: string;
  /** The reference part as STEP in the drawing unit. */
  readonly step: Uint8Array;
  /** Check ids that the reference itself fails; empty for a sound check plan. */
  readonly failing: readonly string[];
}

/** Stages of a long computation, for progress. */
export type Stage = 'reading' | 'measuring' | 'comparing' | 'scoring';

/** Builds the part, ties the check plan to it, draws the sheet. Refuses with the problems of recipe and check plan. */
export function prepareExercise(
  kernel: Kernel,
  exercise: Exercise,
  values: ParameterValues = {},
): Result<PreparedExercise> {
  return attempt(() => {
    const { shape, surfaces, scope } = unwrap(buildRecipe(kernel, exercise.recipe, values));
    try {
      const solid = unwrap(
        kernel.analyze(shape, {
          format: 'recipe',
          declaredUnit: exercise.recipe.unit,
          productName: exercise.title,
          originatingSystem: null,
        }),
      );
      const reference = unwrap(prepareReference(exercise, solid, surfaces, scope));
      const own = gradeMeasurement(reference, measureSubmission(reference, solid), [], exercise.scoring);
      return {
        reference,
        sheetSvg: renderSvg(drawSheet(kernel, shape, exercise, reference, scope)),
        step: kernel.writeStep(shape, exercise.recipe.unit, exercise.title),
        failing: own.lines.filter((line) => line.verdict !== 'right').map((line) => line.checkId),
      };
    } finally {
      shape.free();
    }
  });
}

/** Reads a STEP file as the analyzed form. Refuses with the problems of reading. */
export function readModel(
  kernel: Kernel,
  bytes: Uint8Array,
  onStage: (stage: Stage) => void = () => {},
): Result<Solid> {
  return attempt(() => {
    onStage('reading');
    const { shape, source } = unwrap(kernel.readStep(bytes));
    try {
      onStage('measuring');
      return unwrap(kernel.analyze(shape, source));
    } finally {
      shape.free();
    }
  });
}

export interface GradedFile {
  readonly solid: Solid;
  readonly measurement: Measurement;
  readonly report: Report;
}

/** From the bytes of a handed-in file to its report. Refuses with the problems of reading and with `no-solid`. */
export function gradeFile(
  kernel: Kernel,
  reference: Reference,
  bytes: Uint8Array,
  typed: readonly TypedInput[],
  policy: ScoringPolicy,
  onStage: (stage: Stage) => void = () => {},
): Result<GradedFile> {
  return attempt(() => {
    const solid = unwrap(readModel(kernel, bytes, onStage));
    if (solid.bodies === 0)
      throw new ProblemError(
        'no-solid',
        'The STEP file holds surfaces but no solid body, so it has no volume to check. Close the surfaces to a solid and export it again.',
      );
    onStage('comparing');
    const measurement = measureSubmission(reference, solid);
    onStage('scoring');
    return { solid, measurement, report: gradeMeasurement(reference, measurement, typed, policy) };
  });
}
