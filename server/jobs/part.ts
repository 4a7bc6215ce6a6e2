import { readBuildLog } from '#core/buildlog';
import { exerciseOfStage, type Exercise } from '#core/exercise';
import { lateMsOf, type Circumstances, type KnownPart } from '#core/grade';
import type { Db } from '#server/db';

import type { PartOfExercise } from './task.ts';

/** The part of an exercise that a student has: by the place of the variant in the list, -1 as drawn, and the stage. */
export function partOf(
  exercise: Exercise,
  { variant, stage }: { readonly variant: number; readonly stage: number },
): PartOfExercise {
  const values = exerciseOfStage(exercise, stage).variants[variant]?.values;
  return { exercise, stage, ...(values === undefined ? {} : { values }) };
}

/**
 * SQL that joins the part that the student of an attempt has, as `revision_parts`, to "attempts" and "assignments"; there
 * is no row for the first stage as drawn, which the revision itself has.
 */
export const JOIN_PART = `
  LEFT JOIN assigned_variants ON assigned_variants.assignment_id = assignments.id
   AND assigned_variants.student_id = attempts.student_id
  LEFT JOIN revision_parts ON revision_parts.revision_id = assignments.revision_id
   AND revision_parts.variant = coalesce(assigned_variants.variant, -1) AND revision_parts.stage = attempts.stage`;
/** Hash of the reference of that part, where it and its revision are joined. */
export const REFERENCE_SHA256 = 'coalesce(revision_parts.reference_sha256, exercise_revisions.reference_sha256)';
/** Joins the extension of the student of an attempt, as `extensions`. */
export const JOIN_EXTENSION = `
  LEFT JOIN extensions ON extensions.assignment_id = attempts.assignment_id AND extensions.student_id = attempts.student_id`;
/** When the attempt was due, where its assignment and extension are joined. */
export const DUE_AT = 'coalesce(extensions.due_at, assignments.due_at)';
/** Joins the atlas of that part, as `atlases`. */
export const JOIN_ATLAS = `
  LEFT JOIN atlases ON atlases.revision_id = assignments.revision_id
   AND atlases.variant = coalesce(assigned_variants.variant, -1) AND atlases.stage = attempts.stage`;

/** What is stored of an attempt beside its file. */
export interface StoredCircumstances {
  readonly buildLog: string;
  readonly handedInAt: string;
  readonly dueAt: string;
  readonly courseId: number;
  readonly exerciseId: number;
  /** Dimensions that were not measured before the hand-in, of how many; null where that does not count. */
  readonly roundOpen: number | null;
  readonly roundAll: number | null;
}
export type KnownCircumstances = Required<Pick<Circumstances, 'log' | 'lateMs' | 'round' | 'others'>>;

/** Reads what an attempt is scored with beside what was measured: list of build steps, lateness, parts of other exercises. */
export function createCircumstances(db: Db): (stored: StoredCircumstances) => KnownCircumstances {
  const parts = db.prepare<[number, number], KnownPart>(
    `SELECT DISTINCT exercises.number || ' ' || exercises.title AS name, volume_mm3 AS volumeMm3, area_mm2 AS areaMm2
     FROM exercises JOIN exercise_revisions ON exercise_revisions.exercise_id = exercises.id
     LEFT JOIN revision_parts ON revision_parts.revision_id = exercise_revisions.id
     JOIN part_sizes ON part_sizes.reference_sha256 IN (exercise_revisions.reference_sha256, revision_parts.reference_sha256)
     WHERE exercises.course_id = ? AND exercises.id <> ?`,
  );
  return ({ buildLog, handedInAt, dueAt, courseId, exerciseId, roundOpen, roundAll }) => {
    const log = readBuildLog(buildLog);
    return {
      log: log.ok ? log.value : null,
      lateMs: lateMsOf(new Date(handedInAt), new Date(dueAt)),
      round: roundOpen === null || roundAll === null ? null : { open: roundOpen, all: roundAll },
      others: parts.all(courseId, exerciseId),
    };
  };
}
