/** The two long computations, each one call: an exercise becomes a reference, a handed-in file becomes a report. */
import { analyzeSheet } from '#core/chain';
import { measureSubmission, prepareReference, type Measurement, type Reference } from '#core/check';
import { exerciseOfStage, type Exercise } from '#core/exercise';
import { gradeMeasurement, type Circumstances, type Report, type ScoringPolicy, type TypedInput } from '#core/grade';
import type { Kernel } from '#core/kernel';
import { readModel, withPart, type PartOptions, type ReadOptions } from '#core/model';
import { summarize, type Overlay } from '#core/overlay';
import { attempt, ProblemError, unwrap, type Result } from '#core/problem';
import { diagnose, NO_DIAGNOSIS, diagnosedOf, type Atlas, type Diagnosis, type Verify } from '#core/mistake';
import { drawSheet, lintSheet, type LintFinding, type Sheet } from '#core/sheet';
import type { Solid } from '#core/solid';
import { boxDiagonal, placePoint } from '#core/vector';

import { replayRecipe, type ReplayPart } from './replay.ts';

export { replayRecipe, type ReplayPart } from './replay.ts';

export interface PreparedExercise {
  readonly reference: Reference;
  readonly sheet: Sheet;
  /** The reference part as STEP in the drawing unit, or the model file itself. */
  readonly file: Uint8Array;
  /** Check ids that the reference itself fails; empty for a sound check plan. */
  readonly failing: readonly string[];
}

/** Which of the parts of an exercise is prepared. */
export interface PrepareOptions extends PartOptions {
  /** From 1, which it is where nothing is said. */
  readonly stage?: number | undefined;
}

/**
 * Builds or reads the part, ties the check plan to it, draws the sheet. Refuses with the problems of recipe, model file
 * and check plan.
 */
export function prepareExercise(
  kernel: Kernel,
  document: Exercise,
  { stage = 1, ...options }: PrepareOptions = {},
): Result<PreparedExercise> {
  const exercise = exerciseOfStage(document, stage);
  return attempt(() =>
    withPart(kernel, exercise, options, (part) => {
      const { solid, surfaces, scope } = part;
      const reference = unwrap(prepareReference(exercise, solid, surfaces, scope));
      const own = gradeMeasurement(reference, measureSubmission(reference, solid), {
        typed: [],
        policy: exercise.scoring,
      });
      return {
        reference,
        sheet: drawnWithWarnings(drawSheet({ ...part, exercise, reference }), exercise, reference),
        file: part.file(),
        failing: own.lines.filter((line) => line.verdict !== 'right').map((line) => line.checkId),
      };
    }),
  );
}

/** Draws the sheet of an exercise and looks at it with the rules of a sound drawing. */
export function lintExercise(
  kernel: Kernel,
  document: Exercise,
  { stage = 1, ...options }: PrepareOptions = {},
): Result<readonly LintFinding[]> {
  const exercise = exerciseOfStage(document, stage);
  return attempt(() =>
    withPart(kernel, exercise, options, (part) => {
      const { solid, surfaces, scope } = part;
      const source = { ...part, exercise, reference: unwrap(prepareReference(exercise, solid, surfaces, scope)) };
      return lintSheet(drawSheet(source), source);
    }),
  );
}

/** The drawing with a warning for each size that it fails to say, or says wrongly; what an uploaded one says is not read. */
function drawnWithWarnings(sheet: Sheet, exercise: Exercise, reference: Reference): Sheet {
  if (exercise.sheet?.drawing !== undefined) return sheet;
  const failings = analyzeSheet(exercise, reference).filter(
    ({ kind }) => kind === 'missing' || kind === 'contradiction',
  );
  return { ...sheet, warnings: [...sheet.warnings, ...failings.map(({ message }) => message)] };
}

export interface GradedFile {
  readonly solid: Solid;
  readonly measurement: Measurement;
  readonly report: Report;
  /** Null where there is no atlas to look it up in. */
  readonly diagnosis: Diagnosis | null;
  /** Null where there is none to compare with, or it could not be made. */
  readonly overlay: Overlay | null;
}

/** What is needed to tell mistakes of the catalogue: those of the part, and how to build several of them together. */
export interface Explanation {
  readonly atlas: Atlas;
  readonly verify: Verify | null;
}

export interface GradeOptions extends ReadOptions {
  readonly explain?: Explanation | undefined;
  /** List of build steps, lateness, and the like. */
  readonly circumstances?: Omit<Circumstances, 'diagnosed'> | undefined;
  /** The part that a recipe among the circumstances is replayed against. */
  readonly replay?: ReplayPart | undefined;
}

/** Pieces that are smaller may be slivers between coarse facets, as a share of the part. */
const CLEAR_SHARE = 1e-5;
const CLEAR_MM3 = 1;

/**
 * Tells the mistakes that a measured part shows. A part that passes every check is right, as far as facets can tell, unless
 * material is clearly missing or extra; where it lies matters only where a check says that it is wrong.
 */
export function diagnoseReport(
  measurement: Measurement,
  report: Pick<Report, 'lines' | 'overlay'>,
  { atlas, verify }: Explanation,
): Diagnosis {
  const wrong = report.lines.filter(({ verdict, weight }) => verdict !== 'right' && weight > 0);
  const exact = measurement.estimate.volumeUncertaintyMm3 === 0;
  const least = Math.max(CLEAR_MM3, CLEAR_SHARE * measurement.estimate.volumeMm3);
  const clear = (report.overlay?.pieces ?? []).filter(({ volumeMm3 }) => volumeMm3 >= least);
  if (wrong.length === 0 && !exact && clear.length === 0) return NO_DIAGNOSIS;
  const pieces = clear.map(({ kind, volumeMm3, centerMm }) => ({
    volumeMm3: kind === 'missing' ? -volumeMm3 : volumeMm3,
    centerMm: placePoint(measurement.frame.placement, centerMm),
  }));
  const placeCounts = wrong.some(({ kind }) => kind === 'center-of-mass' || kind === 'frame');
  return diagnose(measurement, atlas, { verify, placeCounts, pieces, failing: wrong.map(({ checkId }) => checkId) });
}

/** What a student hands in, and how it is scored. */
export interface HandedIn {
  readonly bytes: Uint8Array;
  /** Numbers that were typed beside the file; none where nothing is said. */
  readonly typed?: readonly TypedInput[];
  readonly policy: ScoringPolicy;
}

/** From the bytes of a handed-in file to its report. Refuses with the problems of reading and with `no-solid`. */
export function gradeFile(
  kernel: Kernel,
  reference: Reference,
  { bytes, typed = [], policy }: HandedIn,
  { explain, circumstances = {}, replay, ...options }: GradeOptions = {},
): Result<GradedFile> {
  return attempt(() => {
    const expectedSizeMm = boxDiagonal(reference.solid.bounds);
    const solid = unwrap(readModel(kernel, bytes, { expectedSizeMm, ...options }));
    if (solid.bodies === 0)
      throw new ProblemError(
        'no-solid',
        solid.source.format === 'step'
          ? 'The STEP file holds surfaces but no solid body, so it has no volume to check. Close the surfaces to a solid and export it again.'
          : 'The surface of the model is not closed, so it has no volume to check. Close the gaps in the model, or export the solid as STEP.',
      );
    if (solid.massProperties.volumeMm3 < 1e-9)
      throw new ProblemError(
        'empty',
        'The model encloses no volume, so there is nothing to check. Export the solid body itself.',
      );
    options.onStage?.('comparing');
    const measured = measureSubmission(reference, solid);
    const recipe = circumstances.log?.recipe ?? null;
    const measurement =
      recipe === null || replay === undefined
        ? measured
        : { ...measured, replay: replayRecipe(kernel, recipe, replay, measured.estimate) };
    const compared = options.overlayer?.compare(reference.solid, solid, measurement.frame.placement);
    const overlay = compared?.ok ? compared.value : null;
    options.onStage?.('scoring');
    const plain = gradeMeasurement(reference, measurement, { typed, policy, ...circumstances });
    const summary = overlay && summarize(overlay);
    const diagnosis =
      explain === undefined ? null : diagnoseReport(measurement, { lines: plain.lines, overlay: summary }, explain);
    const diagnosed = diagnosis === null ? null : diagnosedOf(diagnosis);
    const report =
      diagnosed === null
        ? plain
        : gradeMeasurement(reference, measurement, { typed, policy, ...circumstances, diagnosed });
    const warnings = compared?.ok === false ? [...report.warnings, compared.problem] : report.warnings;
    return {
      solid,
      measurement,
      diagnosis,
      overlay,
      report: { ...report, warnings, overlay: summary },
    };
  });
}
