/** The stages of an assignment: what they are called, and which of them a student may hand in. */
import { stageCount, type Exercise } from '#core/exercise';
import { documentOf, type AssignmentRow } from '#server/assignment';

import type { AttemptStore } from './rows.ts';

const FIRST_PART = 'First part';

/** The title of each stage, the first one included; none for an exercise of one stage. */
export const stageTitles = ({ stages }: Pick<Exercise, 'stages'>): readonly string[] =>
  stages.length === 0 ? [] : [FIRST_PART, ...stages.map(({ title }) => title)];

/** The title of a stage, "First part" for the first one; null for an exercise of one stage. */
export const stageTitle = (exercise: Pick<Exercise, 'stages'>, stage: number): string | null =>
  exercise.stages.length === 0 ? null : (stageTitles(exercise)[stage - 1] ?? FIRST_PART);

/** The highest stage that a student may hand in: the first, and each whose predecessor was graded. */
export function lastOpenStage(store: AttemptStore, row: AssignmentRow, studentId: number): number {
  const graded = store.gradedStages(row.id, studentId);
  const count = stageCount(documentOf(row));
  let stage = 1;
  while (stage < count && graded.has(stage)) stage++;
  return stage;
}

/** The stage that was asked for, or the last open one where none was; null where it is not open to the student. */
export function openStage(
  store: AttemptStore,
  row: AssignmentRow,
  studentId: number,
  asked: number | undefined,
): { readonly stage: number; readonly lastOpen: number } | null {
  const lastOpen = lastOpenStage(store, row, studentId);
  const stage = asked ?? lastOpen;
  return stage < 1 || stage > lastOpen ? null : { stage, lastOpen };
}
