import { prepareReference } from '#core/check';
import { completedPlan, DeterminacyStudy, type OpenSizes } from '#core/determinacy';
import { DEFAULT_SHEET, exerciseOfStage, type Exercise, type SheetView } from '#core/exercise';
import type { Kernel } from '#core/kernel';
import { openPart, withPart } from '#core/model';
import { suggestStages, withSlightChanges, type PlanBasis } from '#core/plan';
import { attempt, unwrap } from '#core/problem';
import { suggestViews } from '#core/sheet';

/** A part with the plan that an author gets who takes every proposal. */
export interface PlannedPart {
  readonly exercise: Exercise;
  /** Checks that were suggested at first; the others were added for what these left open. */
  readonly suggested: number;
  /** What is open all the same, in the first stage. */
  readonly left: OpenSizes;
}

/** The same part with one letter changed in each. */
const othersOf = (kernel: Kernel, exercise: Exercise, { scope }: PlanBasis): readonly PlanBasis[] =>
  withSlightChanges(exercise.recipe, scope, (values) => {
    const other = attempt(() => openPart(kernel, exercise, { values }));
    return other.ok ? other.value : null;
  });

/** The views that a part asks for, with the dimensions of its plan. */
const viewsOf = (kernel: Kernel, exercise: Exercise): readonly SheetView[] =>
  withPart(kernel, exercise, {}, (part) => {
    const { solid, surfaces, scope } = part;
    return suggestViews({ ...part, exercise, reference: unwrap(prepareReference(exercise, solid, surfaces, scope)) });
  });

/** Suggests a plan and views for a part, and completes the plan of its first stage. */
export function planned(kernel: Kernel, bare: Exercise): PlannedPart {
  const checks = suggestStages(
    bare,
    (exercise) => openPart(kernel, exercise),
    (exercise, basis) => othersOf(kernel, exercise, basis),
  );
  const exercise = exerciseOfStage({ ...bare, checks }, 1);
  const basis = openPart(kernel, exercise);
  const study = new DeterminacyStudy(kernel, basis);
  try {
    const { checks: all, left } = completedPlan(study, basis);
    const later = checks.filter(({ id }) => all.every((check) => check.id !== id));
    const sheet = { ...DEFAULT_SHEET, views: viewsOf(kernel, { ...exercise, checks: all }) };
    return { exercise: { ...bare, sheet, checks: [...all, ...later] }, suggested: checks.length, left };
  } finally {
    study.free();
  }
}
