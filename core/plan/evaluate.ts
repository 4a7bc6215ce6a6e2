import { facesOfTarget, measureSubmission, prepareReference, type Reference, type Check } from '#core/check';
import type { Exercise } from '#core/exercise';
import type { NamedSurfaces } from '#core/recipe';
import { gradeMeasurement } from '#core/grade';
import type { Scope } from '#core/quantity';
import type { Solid } from '#core/solid';

import type { PlanBasis } from './basis.ts';

/** What a check gives on the reference itself. */
export type CheckState =
  | { readonly checkId: string; readonly kind: 'off' }
  /** It cannot be tied to the part, or its expressions have no value. */
  | { readonly checkId: string; readonly kind: 'broken'; readonly message: string }
  | {
      readonly checkId: string;
      readonly kind: 'measured';
      /** In mm, degrees, mm2, mm3, g or a count; null for checks without a number. */
      readonly nominal: number | null;
      readonly measured: number | null;
      readonly passes: boolean;
      readonly faceIds: readonly number[];
      /** Title of the stage that this was found in; nothing for the first. */
      readonly inStage?: string;
    };

/** The checks of a plan that can be tied to its part, and what is wrong with the others, by their id. */
export function soundChecks({ exercise, solid, surfaces, scope }: PlanBasis): {
  readonly sound: readonly Check[];
  readonly broken: ReadonlyMap<string, string>;
} {
  const broken = new Map<string, string>();
  const sound: Check[] = [];
  for (const check of exercise.checks.filter(({ off }) => off !== true)) {
    const alone = prepared({ ...exercise, checks: [check] }, solid, surfaces, scope);
    if (typeof alone === 'string') broken.set(check.id, alone);
    else sound.push(check);
  }
  return { sound, broken };
}

/** Measures every check of a plan on its own reference. One that is broken does not hide the others. */
export function evaluatePlan(basis: PlanBasis): readonly CheckState[] {
  const { exercise, solid, surfaces, scope } = basis;
  const { sound, broken } = soundChecks(basis);
  const reference = prepared({ ...exercise, checks: sound }, solid, surfaces, scope);
  const lines =
    typeof reference === 'string'
      ? []
      : gradeMeasurement(reference, measureSubmission(reference, solid), { typed: [], policy: exercise.scoring }).lines;
  return exercise.checks.map(({ id, off }): CheckState => {
    if (off === true) return { checkId: id, kind: 'off' };
    const message = broken.get(id);
    if (message !== undefined) return { checkId: id, kind: 'broken', message };
    const line = lines.find(({ checkId }) => checkId === id);
    const target = typeof reference === 'string' ? undefined : reference.targets.find(({ checkId }) => checkId === id);
    return {
      checkId: id,
      kind: 'measured',
      nominal: target && 'nominal' in target ? target.nominal : null,
      measured: typeof line?.measured === 'number' ? line.measured : null,
      passes: line?.verdict === 'right',
      faceIds: target === undefined ? [] : facesOfTarget(target),
    };
  });
}

const prepared = (exercise: Exercise, solid: Solid, surfaces: NamedSurfaces, scope: Scope): Reference | string => {
  const reference = prepareReference(exercise, solid, surfaces, scope);
  return reference.ok ? reference.value : reference.problem.message;
};
