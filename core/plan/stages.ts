import type { Check } from '#core/check';
import { exerciseOfStage, stageCount, type Exercise } from '#core/exercise';

import { evaluatePlan, type CheckState } from './evaluate.ts';
import type { PlanBasis } from './basis.ts';
import { suggestPlan } from './suggest.ts';

const isSound = (state: CheckState): boolean => state.kind === 'off' || (state.kind === 'measured' && state.passes);

/**
 * Measures every check in every stage where it holds. A check is as in its first stage, or as in the first one that it
 * fails, which its message then names. `basisOf` opens the part of a stage and raises the problem where there is none.
 */
export function evaluateStages(exercise: Exercise, basisOf: (staged: Exercise) => PlanBasis): readonly CheckState[] {
  const states = new Map<string, CheckState>();
  for (let stage = 1; stage <= stageCount(exercise); stage++) {
    for (const state of evaluatePlan(basisOf(exerciseOfStage(exercise, stage)))) {
      const before = states.get(state.checkId);
      if (before === undefined || (isSound(before) && !isSound(state)))
        states.set(state.checkId, stage === 1 ? state : inStage(state, exercise.stages[stage - 2]?.title ?? ''));
    }
  }
  return exercise.checks.flatMap(({ id }) => states.get(id) ?? []);
}

function inStage(state: CheckState, title: string): CheckState {
  switch (state.kind) {
    case 'off':
      return state;
    case 'broken':
      return { ...state, message: `In stage "${title}": ${state.message}` };
    case 'measured':
      return { ...state, inStage: title };
  }
}

/**
 * A plan for all stages: that of the first, and of the last what can only be measured there. `othersOf` opens the same
 * part with one letter changed in each.
 */
export function suggestStages(
  exercise: Exercise,
  basisOf: (staged: Exercise) => PlanBasis,
  othersOf: (staged: Exercise, basis: PlanBasis) => readonly PlanBasis[],
): readonly Check[] {
  const suggested = (stage: number): readonly Check[] => {
    const staged = exerciseOfStage(exercise, stage);
    const basis = basisOf(staged);
    return suggestPlan(basis, othersOf(staged, basis));
  };
  const first = suggested(1);
  const last = stageCount(exercise);
  if (last === 1 || exercise.stages.every(({ adds = [] }) => adds.length === 0)) return first;
  const used = new Set(first.map(({ id }) => id));
  const further = suggested(last).filter(({ id }) => !used.has(id));
  const states = evaluatePlan(basisOf(exerciseOfStage({ ...exercise, checks: further }, 1)));
  return [
    ...first,
    ...further
      .filter((check) => states.some((state) => state.checkId === check.id && state.kind === 'broken'))
      .map((check) => ({ ...check, fromStage: last })),
  ];
}
