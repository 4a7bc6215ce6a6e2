/** The work of a student: the list of exercises, and the page of one of them. */
import type { AttemptRow, WorkDetail, WorkItem } from '#api';
import { exerciseOfStage, stageCount, type Exercise, type Variant } from '#core/exercise';
import { lateInWords, tells, toldScore } from '#core/grade';
import { unwrap } from '#core/problem';
import { evaluateParameters, LENGTH_UNITS } from '#core/quantity';
import { withValues } from '#core/recipe';
import { dimensionText } from '#core/sheet';
import {
  aidsOf,
  answerPhase,
  attemptRowOf,
  countingOfStages,
  documentOf,
  factsOf,
  policyOf,
  scoreOfStages,
  type AssignmentRow,
  type StoredAttemptRow,
  type VariantStore,
} from '#server/assignment';

import type { Access } from './access.ts';
import type { AttemptStore } from './rows.ts';
import { lastOpenStage, openStage, stageTitles } from './stages.ts';

export interface Work {
  list(studentId: number): WorkItem[];
  /** The work of a student in one stage of it; where none is asked for, the last one that is open. */
  detail(assignmentId: number, studentId: number, stage?: number): WorkDetail | null;
  /** The attempts of a student, with no more than the student may know, the newest first. */
  attemptsFor(row: AssignmentRow, studentId: number): AttemptRow[];
}

/** The letters of a drawing with the values that a student's variant gives them, as the drawing writes them. */
function lettersOf({ recipe, decimals }: Exercise, values: Variant['values']): WorkDetail['letters'] {
  const { unit, parameters } = recipe;
  const scope = unwrap(evaluateParameters(unwrap(withValues(recipe, values)).parameters, unit));
  return parameters
    .filter(({ name }) => /^[A-Z]$/.test(name))
    .map(({ name, label }) => ({
      name,
      label: label ?? '',
      value: dimensionText((scope[name] ?? 0) * LENGTH_UNITS[unit], { unit, decimals }),
    }));
}

/** What coming late costs, in words; null where nothing is taken late, or it costs nothing. */
function lateCostOf(row: AssignmentRow): string | null {
  const { late } = policyOf(row);
  return row.lateUntil === null || late === undefined ? null : lateInWords(late);
}

export interface WorkParts {
  readonly store: AttemptStore;
  readonly access: Access;
  readonly variants: VariantStore;
  readonly now: () => Date;
}

export function createWork({ store, access, variants, now }: WorkParts): Work {
  const scoreTold = (row: AssignmentRow, { score, scoreBeforeRelease }: StoredAttemptRow): number | null =>
    score === null || scoreBeforeRelease === null
      ? null
      : toldScore({ score, scoreBeforeRelease }, answerPhase(row, now()));

  const attemptsFor = (row: AssignmentRow, studentId: number): AttemptRow[] =>
    store.attemptsOf(row.id, studentId).map((stored) => {
      const attempt = attemptRowOf(stored);
      if (attempt.state !== 'graded') return attempt;
      const degree = access.degreeOf(row, attempt, attempt.released);
      return {
        ...attempt,
        accepted: false,
        score: degree === null ? null : scoreTold(row, stored),
        finding: degree !== null && tells(degree, 'causes') ? attempt.finding : null,
      };
    });

  return {
    attemptsFor,

    list: (studentId) =>
      store
        .workOf(studentId)
        .filter((row) => access.isOpenYet(row))
        .map((row) => {
          const rows = attemptsFor(row, studentId);
          const stage = lastOpenStage(store, row, studentId);
          const attemptsUsed = store.used(row.id, studentId, stage);
          const [last] = rows;
          const stages = stageCount(documentOf(row));
          return {
            ...factsOf(row),
            stage,
            attemptsUsed,
            bestScore: scoreOfStages(countingOfStages(rows, policyOf(row)), stages),
            lastAttempt: last ? { id: last.id, state: last.state, score: last.score } : null,
            open: access.closedBecause(row, attemptsUsed) === null,
          };
        }),

    detail(assignmentId, studentId, asked) {
      const row = store.work(studentId, assignmentId);
      if (row === null || !access.isOpenYet(row)) return null;
      const open = openStage(store, row, studentId, asked);
      if (open === null) return null;
      const { stage, lastOpen } = open;
      const whole = documentOf(row);
      const document = exerciseOfStage(whole, stage);
      const place = variants.of(row.id, studentId);
      const variant = place === null ? undefined : whole.variants[place];
      const attemptsUsed = store.used(assignmentId, studentId, stage);
      const closed = access.closedBecause(row, attemptsUsed);
      const rows = attemptsFor(row, studentId);
      const best = countingOfStages(rows, policyOf(row));
      return {
        ...factsOf(row),
        variant: variant?.name ?? null,
        stage,
        stages: stageTitles(whole).map((title, i) => ({
          title,
          open: i < lastOpen,
          bestScore: best.get(i + 1) ?? null,
        })),
        brief: whole.stages[stage - 2]?.brief ?? document.brief,
        origin: document.origin,
        notes: [...document.notes],
        densityGPerCm3: document.material.densityGPerCm3,
        letters: lettersOf(document, document.variants.find(({ name }) => name === variant?.name)?.values ?? {}),
        typedValues: [...document.typedValues],
        attemptsUsed,
        open: closed === null,
        closedBecause: closed?.message ?? null,
        lateCost: lateCostOf(row),
        wantsBuildLog: whole.rules.length > 0,
        worked:
          document.recipe.steps.length > 0 &&
          (aidsOf(row).worked === 'shown' || answerPhase(row, now()) === 'released'),
        attempts: rows.filter((attempt) => attempt.stage === stage),
      };
    },
  };
}
