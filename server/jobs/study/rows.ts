/** What the database holds of studies. */
import type { Db } from '#server/db';

/** Where the study of a stage stands. */
export type StudyState = 'waiting' | 'running' | 'done' | 'failed';

/** A stage of a revision. */
export interface StageKey {
  readonly revisionId: number;
  /** From 1. */
  readonly stage: number;
}

export interface StudyRow extends StageKey {
  readonly inputs: string;
  readonly documentJson: string;
}

export interface StoredStudy {
  readonly stage: number;
  readonly state: StudyState;
  readonly openJson: string | null;
}

export interface StudyStore {
  /** What was being worked out when the last process ended waits again. */
  recover(): void;
  documentOf(revisionId: number): string | null;
  /** Revisions without a study that are the newest of their exercise: older ones are not issued any more. */
  unplanned(): readonly number[];
  add(stage: StageKey, inputs: string): void;
  next(): StudyRow | null;
  of(revisionId: number): readonly StoredStudy[];
  /** What a finished study of the same inputs found. */
  known(inputs: string): string | null;
  setState(stage: StageKey, state: Exclude<StudyState, 'done'>): void;
  setDone(stage: StageKey, openJson: string): void;
}

export function createStudyStore(db: Db): StudyStore {
  const revision = db.prepare<[number], { documentJson: string }>(
    'SELECT document_json AS documentJson FROM exercise_revisions WHERE id = ?',
  );
  const unplanned = db.prepare<[], { id: number }>(
    `SELECT exercise_revisions.id FROM exercise_revisions
     WHERE NOT EXISTS (SELECT 1 FROM studies WHERE revision_id = exercise_revisions.id)
       AND number = (SELECT max(number) FROM exercise_revisions AS other WHERE other.exercise_id = exercise_revisions.exercise_id)
     ORDER BY id`,
  );
  const insert = db.prepare<[number, number, string]>(
    `INSERT INTO studies (revision_id, stage, inputs_sha256, state) VALUES (?, ?, ?, 'waiting') ON CONFLICT DO NOTHING`,
  );
  const next = db.prepare<[], StudyRow>(
    `SELECT revision_id AS revisionId, stage, inputs_sha256 AS inputs, document_json AS documentJson
     FROM studies JOIN exercise_revisions ON exercise_revisions.id = studies.revision_id
     WHERE state = 'waiting' ORDER BY revision_id DESC, stage LIMIT 1`,
  );
  const ofRevision = db.prepare<[number], StoredStudy>(
    'SELECT stage, state, open_json AS openJson FROM studies WHERE revision_id = ? ORDER BY stage',
  );
  const known = db.prepare<[string], { openJson: string }>(
    "SELECT open_json AS openJson FROM studies WHERE inputs_sha256 = ? AND state = 'done' LIMIT 1",
  );
  const update = db.prepare<[string, string | null, number, number]>(
    'UPDATE studies SET state = ?, open_json = ? WHERE revision_id = ? AND stage = ?',
  );

  const recover = db.prepare("UPDATE studies SET state = 'waiting' WHERE state = 'running'");

  return {
    recover: () => recover.run(),
    documentOf: (revisionId) => revision.get(revisionId)?.documentJson ?? null,
    unplanned: () => unplanned.all().map(({ id }) => id),
    add: ({ revisionId, stage }, inputs) => insert.run(revisionId, stage, inputs),
    next: () => next.get() ?? null,
    of: (revisionId) => ofRevision.all(revisionId),
    known: (inputs) => known.get(inputs)?.openJson ?? null,
    setState: ({ revisionId, stage }, state) => update.run(state, null, revisionId, stage),
    setDone: ({ revisionId, stage }, openJson) => update.run('done', openJson, revisionId, stage),
  };
}
