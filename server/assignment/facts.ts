import * as v from 'valibot';

import { AidsSchema, USUAL_AIDS, type Aids, type Answers, type AttemptRow, type Release } from '#api';
import { stageCount, type Exercise } from '#core/exercise';
import {
  countingScore,
  FeedbackSchema,
  policyIn,
  type AnswerPhase,
  type FeedbackDegree,
  type ScoringPolicy,
} from '#core/grade';
import { JOIN_ISSUED } from '#server/db';
import { parseExercise } from '#server/exercise';

/** An assignment with the exercise and section it belongs to, as the database has it. */
export interface AssignmentRow {
  readonly id: number;
  readonly exerciseId: number;
  readonly exerciseNumber: string;
  readonly exerciseTitle: string;
  readonly revision: number;
  readonly documentJson: string;
  readonly sheetSha256: string;
  readonly section: string;
  readonly sectionId: number;
  readonly course: string;
  readonly courseId: number;
  readonly fileNameRule: string | null;
  /** Filled when the server starts. */
  readonly timeZone: string;
  readonly opensAt: string;
  readonly dueAt: string;
  readonly attemptsAllowed: number;
  readonly answers: Answers;
  readonly lateUntil: string | null;
  readonly release: Release;
  readonly feedbackJson: string;
  readonly aidsJson: string;
  readonly policyJson: string | null;
  readonly openReason: string | null;
  readonly withdrawnAt: string | null;
}

/** FROM and columns of `AssignmentRow`; WHERE is the caller's. */
export const SELECT_ASSIGNMENT = `
  SELECT assignments.id, exercises.id AS exerciseId, exercises.number AS exerciseNumber,
         exercises.title AS exerciseTitle, exercise_revisions.number AS revision,
         exercise_revisions.document_json AS documentJson, exercise_revisions.sheet_sha256 AS sheetSha256,
         sections.name AS section, sections.id AS sectionId, courses.title AS course, courses.id AS courseId, courses.file_name_rule AS fileNameRule, coalesce(courses.time_zone, 'UTC') AS timeZone,
         assignments.opens_at AS opensAt, assignments.due_at AS dueAt,
         assignments.attempts_allowed AS attemptsAllowed, assignments.answers, assignments.late_until AS lateUntil,
         assignments.release, assignments.feedback_json AS feedbackJson, assignments.aids_json AS aidsJson, assignments.policy_json AS policyJson,
         assignments.open_reason AS openReason, assignments.withdrawn_at AS withdrawnAt
  FROM assignments
  ${JOIN_ISSUED}
  JOIN sections ON sections.id = assignments.section_id
  JOIN courses ON courses.id = sections.course_id`;

const documents = new Map<string, Exercise>();

/** The exercise document of a row; documents of issued revisions never change, so they are parsed once. */
export function documentOf(row: Pick<AssignmentRow, 'documentJson' | 'exerciseId' | 'revision'>): Exercise {
  const key = `${String(row.exerciseId)}/${String(row.revision)}/${String(row.documentJson.length)}`;
  const known = documents.get(key);
  if (known) return known;
  const document = parseExercise(row.documentJson);
  if (documents.size > 200) documents.clear();
  documents.set(key, document);
  return document;
}

/** The facts that every page about an assignment shows. */
export function factsOf(row: AssignmentRow) {
  const document = documentOf(row);
  return {
    id: row.id,
    exerciseId: row.exerciseId,
    exerciseNumber: row.exerciseNumber,
    exerciseTitle: row.exerciseTitle,
    revision: row.revision,
    stageCount: stageCount(document),
    unit: document.recipe.unit,
    material: document.material.name,
    section: row.section,
    course: row.course,
    fileNameRule: row.fileNameRule,
    timeZone: row.timeZone,
    opensAt: row.opensAt,
    dueAt: row.dueAt,
    attemptsAllowed: row.attemptsAllowed,
    answers: row.answers,
    lateUntil: row.lateUntil,
    release: row.release,
    feedback: feedbackOf(row),
    aids: aidsOf(row),
  };
}

/** How much the reports of an assignment tell. */
export const feedbackOf = ({ feedbackJson }: Pick<AssignmentRow, 'feedbackJson'>): FeedbackDegree[] =>
  v.parse(FeedbackSchema, JSON.parse(feedbackJson));

/** What students may use while they work on an assignment. */
export const aidsOf = ({ aidsJson }: Pick<AssignmentRow, 'aidsJson'>): Aids =>
  // What an earlier program issued says nothing of newer aids.
  v.parse(AidsSchema, { ...USUAL_AIDS, ...(JSON.parse(aidsJson) as object) });

/** How an assignment is scored: its own way, or that of its exercise. */
export const policyOf = (
  row: Pick<AssignmentRow, 'policyJson' | 'documentJson' | 'exerciseId' | 'revision'>,
): ScoringPolicy => policyIn(row.policyJson, documentOf(row).scoring);

/** The score that counts of each stage that has one, from attempts in any order. */
export function countingOfStages(
  rows: readonly Pick<AttemptRow, 'id' | 'stage' | 'score'>[],
  policy: ScoringPolicy,
): ReadonlyMap<number, number> {
  const scores = new Map<number, number[]>();
  for (const { stage, score } of [...rows].sort((a, b) => a.id - b.id))
    if (score !== null) scores.set(stage, [...(scores.get(stage) ?? []), score]);
  return new Map(
    [...scores].flatMap(([stage, all]) => {
      const counting = countingScore(all, policy);
      return counting === null ? [] : [[stage, counting] as const];
    }),
  );
}

/** When nothing can be handed in any more. */
export const endOf = (row: Pick<AssignmentRow, 'dueAt' | 'lateUntil'>): string => row.lateUntil ?? row.dueAt;

/** What was given to one student beyond the dates and attempts of all. */
export interface GivenDates {
  /** ISO 8601; null where the due time of the others holds. */
  readonly dueAt: string | null;
  readonly extraAttempts: number;
}

/** An assignment as it is for a student who was given something, or nothing. */
export function extendedBy<T extends Pick<AssignmentRow, 'dueAt' | 'lateUntil' | 'attemptsAllowed'>>(
  row: T,
  given: GivenDates | undefined,
): T {
  if (given === undefined) return row;
  const dueAt = given.dueAt ?? row.dueAt;
  // A due time beyond the end of late work is the end.
  const lateUntil = row.lateUntil !== null && row.lateUntil > dueAt ? row.lateUntil : null;
  return { ...row, dueAt, lateUntil, attemptsAllowed: row.attemptsAllowed + given.extraAttempts };
}

/** The score of an exercise: the mean of what counts of each stage, none of a stage that was not reached; null without any. */
export const scoreOfStages = (best: ReadonlyMap<number, number>, stages: number): number | null =>
  best.size === 0
    ? null
    : meanOverStages(
        [...best.values()].reduce((sum, score) => sum + score, 0),
        stages,
      );

/** The mean over the stages of an exercise of what was earned in all of them, to a tenth. */
export const meanOverStages = (sum: number, stages: number): number => Math.round((sum / stages) * 10) / 10;

/** Whether students may see the answers that are not on the sheet, and whether something can still be handed in. */
export function answerPhase(row: Pick<AssignmentRow, 'answers' | 'dueAt' | 'lateUntil'>, now: Date): AnswerPhase {
  const hasEnded = endOf(row) <= now.toISOString();
  if (row.answers === 'at-once' || (row.answers === 'after-due' && hasEnded)) return 'released';
  return hasEnded ? 'ended' : 'open';
}
