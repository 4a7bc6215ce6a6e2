/** What the database holds of atlases. */
import { JOIN_EXERCISE, type Db } from '#server/db';

import { JOIN_ATLAS, JOIN_PART, REFERENCE_SHA256 } from '../part.ts';

/** Where an atlas stands. */
export interface AtlasState {
  readonly state: 'none' | 'waiting' | 'running' | 'done' | 'failed';
  /** Mistakes that were built, of how many. */
  readonly done: number;
  readonly total: number;
  readonly atlasSha256: string | null;
  /** Checks that the plan lacks. */
  readonly proposalsJson: string;
  /** Why the last try failed, as a sentence. */
  readonly reason: string | null;
  /** When it is tried again by itself; null where it is not. */
  readonly retryAt: string | null;
}

/** A part of a revision: one variant of one stage. */
export interface PartKey {
  readonly revisionId: number;
  /** Place in the list of variants, -1 for the part as drawn. */
  readonly variant: number;
  /** From 1. */
  readonly stage: number;
}

/** An atlas to make, with the document and the reference that it is made of. */
export interface AtlasRow extends PartKey {
  readonly inputs: string;
  readonly documentJson: string;
  readonly referenceSha256: string;
  /** How often it failed. */
  readonly tries: number;
}

/** An attempt whose atlas is made, and that nobody looked up in it for several mistakes together. */
export interface UndiagnosedRow {
  readonly attemptId: number;
  readonly assignmentId: number;
  readonly studentId: number;
  readonly courseId: number;
  readonly measurementJson: string;
  readonly reportJson: string;
  readonly documentJson: string;
  readonly variant: number;
  readonly stage: number;
  readonly referenceSha256: string;
  readonly atlasSha256: string;
  /** How often the look ended before it was done. */
  readonly tries: number;
}

export interface AtlasStore {
  /** What was being made when the last process ended waits again. */
  recover(): void;
  documentOf(revisionId: number): string | null;
  /** Revisions without an atlas that are issued, or are the newest of their exercise. */
  unplanned(): readonly number[];
  planned(): readonly number[];
  /** Hash of the inputs that an atlas was made of, or null where there is none. */
  inputsOf(part: PartKey): string | null;
  /** Plans an atlas; nothing happens where there is one. */
  add(part: PartKey, inputs: string): void;
  /** An atlas waits again, for other inputs. */
  reset(part: PartKey, inputs: string): void;
  /** The atlas to make next: of parts that somebody may hand in first, of variants of what is not issued last. */
  next(): AtlasRow | null;
  one(part: PartKey): AtlasRow | null;
  stateOf(part: PartKey): AtlasState | null;
  /** A finished atlas of the same inputs. */
  known(inputs: string): { sha256: string; total: number; proposalsJson: string } | null;
  /** It is being made, so far. */
  setRunning(part: PartKey, progress: { readonly done: number; readonly total: number }): void;
  /** It failed; without a time, it is not tried again by itself. */
  setFailed(part: PartKey, reason: string, retryAt: Date | null): void;
  /** What failed of a revision waits again. */
  retry(revisionId: number): void;
  setDone(part: PartKey, made: { sha256: string; total: number; proposalsJson: string }): void;
  undiagnosed(): UndiagnosedRow | null;
  /** A look that ended before it was done is due again at a time. */
  postpone(attemptId: number, retryAt: Date): void;
  setDiagnosis(attemptId: number, diagnosisJson: string): void;
}

export function createAtlasStore(db: Db, now: () => Date): AtlasStore {
  const revision = db.prepare<[number], { documentJson: string }>(
    'SELECT document_json AS documentJson FROM exercise_revisions WHERE id = ?',
  );
  const unplanned = db.prepare<[], { id: number }>(
    `SELECT exercise_revisions.id FROM exercise_revisions
     WHERE NOT EXISTS (SELECT 1 FROM atlases WHERE revision_id = exercise_revisions.id)
       AND (EXISTS (SELECT 1 FROM assignments WHERE revision_id = exercise_revisions.id)
         OR number = (SELECT max(number) FROM exercise_revisions AS other WHERE other.exercise_id = exercise_revisions.exercise_id))
     ORDER BY id`,
  );
  const planned = db.prepare<[], { id: number }>('SELECT DISTINCT revision_id AS id FROM atlases ORDER BY revision_id');
  const inputsStored = db.prepare<[number, number, number], { inputs: string }>(
    'SELECT inputs_sha256 AS inputs FROM atlases WHERE revision_id = ? AND variant = ? AND stage = ?',
  );
  const makeAnew = db.prepare<[string, number, number, number]>(
    `UPDATE atlases SET inputs_sha256 = ?, state = 'waiting', done = 0, total = 0, atlas_sha256 = NULL, proposals_json = '[]',
       reason = NULL, tries = 0, retry_at = NULL
     WHERE revision_id = ? AND variant = ? AND stage = ?`,
  );
  const insert = db.prepare<[number, number, number, string]>(
    `INSERT INTO atlases (revision_id, variant, stage, inputs_sha256, state) VALUES (?, ?, ?, ?, 'waiting')
     ON CONFLICT DO NOTHING`,
  );
  const PART = `SELECT atlases.revision_id AS revisionId, atlases.variant, atlases.stage, inputs_sha256 AS inputs,
       document_json AS documentJson, ${REFERENCE_SHA256} AS referenceSha256, atlases.tries
     FROM atlases JOIN exercise_revisions ON exercise_revisions.id = atlases.revision_id
     LEFT JOIN revision_parts ON revision_parts.revision_id = atlases.revision_id
      AND revision_parts.variant = atlases.variant AND revision_parts.stage = atlases.stage`;
  const next = db.prepare<[string], AtlasRow>(
    `${PART} WHERE (atlases.state = 'waiting' OR (atlases.state = 'failed' AND atlases.retry_at <= ?))
       AND (atlases.variant < 0
         OR EXISTS (SELECT 1 FROM assignments WHERE assignments.revision_id = atlases.revision_id)
         OR exercise_revisions.number = (SELECT max(number) FROM exercise_revisions AS other WHERE other.exercise_id = exercise_revisions.exercise_id))
     ORDER BY atlases.tries, EXISTS (SELECT 1 FROM assignments WHERE assignments.revision_id = atlases.revision_id) DESC,
       atlases.variant >= 0, atlases.revision_id DESC, atlases.variant, atlases.stage LIMIT 1`,
  );
  const one = db.prepare<[number, number, number], AtlasRow>(
    `${PART} WHERE atlases.revision_id = ? AND atlases.variant = ? AND atlases.stage = ?`,
  );
  const state = db.prepare<[number, number, number], AtlasState>(
    `SELECT state, done, total, atlas_sha256 AS atlasSha256, proposals_json AS proposalsJson, reason,
            retry_at AS retryAt FROM atlases
     WHERE revision_id = ? AND variant = ? AND stage = ?`,
  );
  const known = db.prepare<[string], { sha256: string; total: number; proposalsJson: string }>(
    "SELECT atlas_sha256 AS sha256, total, proposals_json AS proposalsJson FROM atlases WHERE inputs_sha256 = ? AND state = 'done' LIMIT 1",
  );
  const setRunning = db.prepare<[number, number, number, number, number]>(
    `UPDATE atlases SET state = 'running', done = ?, total = ?, atlas_sha256 = NULL, retry_at = NULL
     WHERE revision_id = ? AND variant = ? AND stage = ?`,
  );
  const setFailed = db.prepare<[string, string | null, number, number, number]>(
    `UPDATE atlases SET state = 'failed', done = 0, total = 0, reason = ?, retry_at = ?, tries = tries + 1
     WHERE revision_id = ? AND variant = ? AND stage = ?`,
  );
  const retry = db.prepare<[number]>(
    "UPDATE atlases SET state = 'waiting', tries = 0, retry_at = NULL WHERE revision_id = ? AND state = 'failed'",
  );
  const setDone = db.prepare<[number, number, string, string, number, number, number]>(
    `UPDATE atlases SET state = 'done', done = ?, total = ?, atlas_sha256 = ?, proposals_json = ?, reason = NULL,
       retry_at = NULL
     WHERE revision_id = ? AND variant = ? AND stage = ?`,
  );
  const undiagnosed = db.prepare<[string], UndiagnosedRow>(
    `SELECT attempts.id AS attemptId, attempts.assignment_id AS assignmentId, attempts.student_id AS studentId,
            exercises.course_id AS courseId, measurement_json AS measurementJson, report_json AS reportJson,
            document_json AS documentJson, atlases.variant, atlases.stage, atlas_sha256 AS atlasSha256,
            ${REFERENCE_SHA256} AS referenceSha256, reports.diagnosis_tries AS tries
     FROM reports JOIN attempts ON attempts.id = reports.attempt_id
     ${JOIN_EXERCISE}
     ${JOIN_PART}
     ${JOIN_ATLAS}
     WHERE reports.diagnosis_json IS NULL AND attempts.state = 'graded' AND atlases.state = 'done'
       AND coalesce(reports.diagnosis_retry_at, '') <= ?
     ORDER BY reports.diagnosis_tries, attempts.id LIMIT 1`,
  );
  const postpone = db.prepare<[string, number]>(
    'UPDATE reports SET diagnosis_tries = diagnosis_tries + 1, diagnosis_retry_at = ? WHERE attempt_id = ?',
  );
  const setDiagnosis = db.prepare<[string, number]>('UPDATE reports SET diagnosis_json = ? WHERE attempt_id = ?');

  const recover = db.prepare("UPDATE atlases SET state = 'waiting', done = 0 WHERE state = 'running'");

  return {
    recover: () => recover.run(),
    documentOf: (revisionId) => revision.get(revisionId)?.documentJson ?? null,
    unplanned: () => unplanned.all().map(({ id }) => id),
    planned: () => planned.all().map(({ id }) => id),
    inputsOf: ({ revisionId, variant, stage }) => inputsStored.get(revisionId, variant, stage)?.inputs ?? null,
    add: ({ revisionId, variant, stage }, inputs) => insert.run(revisionId, variant, stage, inputs),
    reset: ({ revisionId, variant, stage }, inputs) => makeAnew.run(inputs, revisionId, variant, stage),
    next: () => next.get(now().toISOString()) ?? null,
    one: ({ revisionId, variant, stage }) => one.get(revisionId, variant, stage) ?? null,
    stateOf: ({ revisionId, variant, stage }) => state.get(revisionId, variant, stage) ?? null,
    known: (inputs) => known.get(inputs) ?? null,
    setRunning: ({ revisionId, variant, stage }, { done, total }) =>
      setRunning.run(done, total, revisionId, variant, stage),
    setFailed: ({ revisionId, variant, stage }, reason, retryAt) =>
      setFailed.run(reason, retryAt?.toISOString() ?? null, revisionId, variant, stage),
    retry: (revisionId) => retry.run(revisionId),
    postpone: (attemptId, retryAt) => postpone.run(retryAt.toISOString(), attemptId),
    setDone: ({ revisionId, variant, stage }, { sha256, total, proposalsJson }) =>
      setDone.run(total, total, sha256, proposalsJson, revisionId, variant, stage),
    undiagnosed: () => undiagnosed.get(now().toISOString()) ?? null,
    setDiagnosis: (attemptId, diagnosisJson) => setDiagnosis.run(diagnosisJson, attemptId),
  };
}
