import { setImmediate } from 'node:timers/promises';

import type { Logger } from 'pino';
import * as v from 'valibot';

import { MeasurementSchema } from '#core/check';
import { exerciseOfStage, parseExercise, stageCount, type Exercise } from '#core/exercise';
import { ReportSchema } from '#core/grade';
import { catalogueContent, NO_DIAGNOSIS, type MadeMistake } from '#core/mistake';
import { unwrap } from '#core/problem';
import type { Db } from '#server/db';
import type { Events } from '#server/events';
import { hashOf, type FileStore } from '#server/files';

import { JOIN_ATLAS, JOIN_PART, partOf } from './part.ts';
import type { Queue } from './queue.ts';
import type { Runner } from './task.ts';

/** Where an atlas stands. */
export interface AtlasState {
  readonly state: 'none' | 'waiting' | 'running' | 'done' | 'failed';
  /** Mistakes that were built, of how many. */
  readonly done: number;
  readonly total: number;
  readonly atlasSha256: string | null;
  /** Checks that the plan lacks. */
  readonly proposalsJson: string;
}

/** Atlases of mistakes: made in the background, one part after the other, while nobody waits for a grade. */
export interface Atlases {
  /** Notes what a new revision needs; call after the revision is stored. */
  plan(revisionId: number): void;
  /** Begins to work off what is planned, and goes on with every new plan. */
  start(): void;
  /** An attempt waits for a closer look. */
  wake(): void;
  /** Takes the closer look now. */
  lookAgain(): Promise<void>;
  /** Makes the atlas of one part now. */
  make(revisionId: number, variant?: number, stage?: number): Promise<void>;
  stateOf(revisionId: number, variant?: number, stage?: number): AtlasState;
  stop(): void;
}

export interface AtlasesParts {
  readonly db: Db;
  readonly files: FileStore;
  readonly events: Events;
  readonly runner: Runner;
  readonly queue: Queue;
  readonly log: Logger;
  /** Scores an attempt anew, with what is known of its mistakes. */
  readonly rescore: (attemptId: number) => Promise<void>;
}

interface PartRow {
  readonly revisionId: number;
  readonly variant: number;
  readonly stage: number;
  readonly inputs: string;
  readonly documentJson: string;
  readonly referenceSha256: string;
}

interface AttemptRow {
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
}

/** Mistakes that are built in one go, so that a grade never waits long. */
const CHUNK = 5;

/** The parts of a document, the one as drawn first. */
const partsOf = (document: Exercise): readonly { readonly variant: number; readonly stage: number }[] =>
  Array.from({ length: stageCount(document) }, (_, i) => i + 1)
    .flatMap((stage) =>
      [-1, ...exerciseOfStage(document, stage).variants.keys()].map((variant) => ({ variant, stage })),
    )
    .sort((a, b) => a.variant - b.variant || a.stage - b.stage);

/** What an atlas is made of, the mistakes themselves among it: the same inputs give the same atlas. */
function inputsOf(document: Exercise, variant: number, stage: number): string {
  const { exercise, values = {} } = partOf(document, { variant, stage });
  const { recipe, checks, scoring, variants, likelihoods, model } = exerciseOfStage(exercise, stage);
  const inputs = [
    catalogueContent(exercise, values, stage),
    recipe,
    checks,
    scoring,
    variants,
    values,
    likelihoods,
    model,
  ];
  return hashOf(Buffer.from(JSON.stringify(inputs)));
}

export function createAtlases({ db, files, events, runner, queue, log, rescore }: AtlasesParts): Atlases {
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
    `UPDATE atlases SET inputs_sha256 = ?, state = 'waiting', done = 0, total = 0, atlas_sha256 = NULL, proposals_json = '[]'
     WHERE revision_id = ? AND variant = ? AND stage = ?`,
  );
  const insert = db.prepare<[number, number, number, string]>(
    `INSERT INTO atlases (revision_id, variant, stage, inputs_sha256, state) VALUES (?, ?, ?, ?, 'waiting')
     ON CONFLICT DO NOTHING`,
  );
  const PART = `SELECT atlases.revision_id AS revisionId, atlases.variant, atlases.stage, inputs_sha256 AS inputs,
       document_json AS documentJson, coalesce(revision_parts.reference_sha256, exercise_revisions.reference_sha256) AS referenceSha256
     FROM atlases JOIN exercise_revisions ON exercise_revisions.id = atlases.revision_id
     LEFT JOIN revision_parts ON revision_parts.revision_id = atlases.revision_id
      AND revision_parts.variant = atlases.variant AND revision_parts.stage = atlases.stage`;
  // Parts that somebody may hand in come before those that nobody has; variants of what is not issued come last.
  const next = db.prepare<[], PartRow>(
    `${PART} WHERE atlases.state = 'waiting'
       AND (atlases.variant < 0
         OR EXISTS (SELECT 1 FROM assignments WHERE assignments.revision_id = atlases.revision_id)
         OR exercise_revisions.number = (SELECT max(number) FROM exercise_revisions AS other WHERE other.exercise_id = exercise_revisions.exercise_id))
     ORDER BY EXISTS (SELECT 1 FROM assignments WHERE assignments.revision_id = atlases.revision_id) DESC,
       atlases.variant >= 0, atlases.revision_id DESC, atlases.variant, atlases.stage LIMIT 1`,
  );
  const one = db.prepare<[number, number, number], PartRow>(
    `${PART} WHERE atlases.revision_id = ? AND atlases.variant = ? AND atlases.stage = ?`,
  );
  const state = db.prepare<[number, number, number], AtlasState>(
    `SELECT state, done, total, atlas_sha256 AS atlasSha256, proposals_json AS proposalsJson FROM atlases
     WHERE revision_id = ? AND variant = ? AND stage = ?`,
  );
  const known = db.prepare<[string], { sha256: string; total: number; proposalsJson: string }>(
    "SELECT atlas_sha256 AS sha256, total, proposals_json AS proposalsJson FROM atlases WHERE inputs_sha256 = ? AND state = 'done' LIMIT 1",
  );
  const setState = db.prepare<[string, number, number, string | null, number, number, number]>(
    'UPDATE atlases SET state = ?, done = ?, total = ?, atlas_sha256 = ? WHERE revision_id = ? AND variant = ? AND stage = ?',
  );
  const setProposals = db.prepare<[string, number, number, number]>(
    'UPDATE atlases SET proposals_json = ? WHERE revision_id = ? AND variant = ? AND stage = ?',
  );
  // Attempts whose atlas is made, and that nobody looked up in it for several mistakes together.
  const undiagnosed = db.prepare<[], AttemptRow>(
    `SELECT attempts.id AS attemptId, attempts.assignment_id AS assignmentId, attempts.student_id AS studentId,
            exercises.course_id AS courseId, measurement_json AS measurementJson, report_json AS reportJson,
            document_json AS documentJson, atlases.variant, atlases.stage, atlas_sha256 AS atlasSha256,
            coalesce(revision_parts.reference_sha256, exercise_revisions.reference_sha256) AS referenceSha256
     FROM reports JOIN attempts ON attempts.id = reports.attempt_id
     JOIN assignments ON assignments.id = attempts.assignment_id
     JOIN exercise_revisions ON exercise_revisions.id = assignments.revision_id
     JOIN exercises ON exercises.id = exercise_revisions.exercise_id
     ${JOIN_PART}
     ${JOIN_ATLAS}
     WHERE reports.diagnosis_json IS NULL AND attempts.state = 'graded' AND atlases.state = 'done'
     ORDER BY attempts.id LIMIT 1`,
  );
  const setDiagnosis = db.prepare<[string, number]>('UPDATE reports SET diagnosis_json = ? WHERE attempt_id = ?');

  // What was being made when the last process ended is begun anew.
  db.prepare("UPDATE atlases SET state = 'waiting', done = 0 WHERE state = 'running'").run();

  const life = { stopped: false };
  const stopped = (): boolean => life.stopped;
  let started = false;
  let working = false;

  function plan(revisionId: number): void {
    const row = revision.get(revisionId);
    if (row === undefined) return;
    const document = unwrap(parseExercise(JSON.parse(row.documentJson)));
    if (document.recipe.steps.length === 0 && document.model === undefined) return;
    for (const { variant, stage } of partsOf(document))
      insert.run(revisionId, variant, stage, inputsOf(document, variant, stage));
    if (started) void work();
  }

  /** Atlases that were made of other mistakes, or of another reading of the document, are made anew. */
  function renew(revisionId: number): void {
    const row = revision.get(revisionId);
    if (row === undefined) return;
    const document = unwrap(parseExercise(JSON.parse(row.documentJson)));
    for (const { variant, stage } of partsOf(document)) {
      const inputs = inputsOf(document, variant, stage);
      const stored = inputsStored.get(revisionId, variant, stage);
      if (stored !== undefined && stored.inputs !== inputs) makeAnew.run(inputs, revisionId, variant, stage);
    }
  }

  /** Looks at all of them, one at a time between what the server answers: each takes some tens of milliseconds. */
  async function renewAll(): Promise<void> {
    for (const { id } of planned.all()) {
      if (stopped()) return;
      try {
        renew(id);
      } catch (error) {
        log.error({ revisionId: id, error: String(error) }, 'atlas could not be looked at');
      }
      await setImmediate();
    }
  }

  const pathsOf = ({ model }: Exercise, referenceSha256: string) => ({
    referencePath: files.pathOf(referenceSha256),
    ...(model === undefined ? {} : { modelPath: files.pathOf(model.sha256) }),
  });

  /** Makes an atlas: all at once where somebody waits for it, else a little at a time while nobody waits for a grade. */
  async function make(part: PartRow, waitedFor: boolean): Promise<void> {
    const { revisionId, variant, stage, inputs } = part;
    const put = (name: AtlasState['state'], done: number, total: number, sha256: string | null = null): void => {
      setState.run(name, done, total, sha256, revisionId, variant, stage);
    };
    const shared = known.get(inputs);
    if (shared !== undefined) {
      put('done', shared.total, shared.total, shared.sha256);
      setProposals.run(shared.proposalsJson, revisionId, variant, stage);
      return;
    }
    const document = unwrap(parseExercise(JSON.parse(part.documentJson)));
    const task = { ...partOf(document, part), ...pathsOf(document, part.referenceSha256) };
    put('running', 0, 0);
    const made: MadeMistake[] = [];
    const first = await runner.atlas({ ...task, from: 0, count: CHUNK });
    if (stopped()) return;
    if (first.kind !== 'done') {
      log.warn({ revisionId, variant, stage, outcome: first.kind }, 'mistakes could not be built');
      put('failed', 0, 0);
      return;
    }
    const { total } = first.value;
    made.push(...first.value.made);
    let from = CHUNK;
    let done = Math.min(CHUNK, total);
    const one = async (): Promise<void> => {
      while (from < total && !stopped()) {
        const start = from;
        from += CHUNK;
        if (!waitedFor) await queue.idle();
        if (stopped()) return;
        const outcome = await runner.atlas({ ...task, from: start, count: CHUNK });
        if (outcome.kind === 'done') made.push(...outcome.value.made);
        // A mistake that ends its worker takes those beside it along; the atlas goes on without them.
        else
          log.warn({ revisionId, variant, stage, from: start, outcome: outcome.kind }, 'mistakes could not be built');
        done = Math.min(done + CHUNK, total);
        if (!stopped()) put('running', done, total);
      }
    };
    await Promise.all(Array.from({ length: waitedFor ? runner.width : 1 }, one));
    if (stopped()) return;
    const gathered = await runner.gather({ ...task, made });
    if (stopped()) return;
    if (gathered.kind !== 'done') {
      put('failed', 0, 0);
      return;
    }
    const { sha256 } = await files.put(Buffer.from(gathered.value.atlasJson));
    db.transaction(() => {
      put('done', made.length, made.length, sha256);
      setProposals.run(JSON.stringify(gathered.value.proposals), revisionId, variant, stage);
    })();
  }

  /** Attempts that came before their atlas, or that no single mistake explained, are looked up in it. */
  async function lookAgain(): Promise<void> {
    for (let row = undiagnosed.get(); row !== undefined; row = undiagnosed.get()) {
      await queue.idle();
      if (stopped()) return;
      const { attemptId, assignmentId, studentId, courseId } = row;
      const document = unwrap(parseExercise(JSON.parse(row.documentJson)));
      const outcome = await runner.diagnose({
        ...partOf(document, row),
        ...pathsOf(document, row.referenceSha256),
        measurement: v.parse(MeasurementSchema, JSON.parse(row.measurementJson)),
        report: v.parse(ReportSchema, JSON.parse(row.reportJson)),
        atlasPath: files.pathOf(row.atlasSha256),
      });
      if (stopped()) return;
      if (outcome.kind !== 'done') {
        log.warn({ attemptId, outcome: outcome.kind }, 'an attempt could not be explained');
        setDiagnosis.run(JSON.stringify(NO_DIAGNOSIS), attemptId);
        continue;
      }
      setDiagnosis.run(JSON.stringify(outcome.value), attemptId);
      await rescore(attemptId);
      events.publish({ event: { attemptId, assignmentId, state: 'graded', stage: null }, studentId, courseId });
    }
  }

  async function work(): Promise<void> {
    if (working) return;
    working = true;
    try {
      await lookAgain();
      for (let part = next.get(); part !== undefined && !stopped(); part = next.get()) {
        try {
          await make(part, false);
        } catch (error) {
          log.error({ revisionId: part.revisionId, error: String(error) }, 'atlas failed');
          if (!stopped()) setState.run('failed', 0, 0, null, part.revisionId, part.variant, part.stage);
        }
        await lookAgain();
      }
    } finally {
      working = false;
    }
  }

  return {
    plan,
    lookAgain,
    wake() {
      if (started) void work();
    },
    start() {
      started = true;
      void renewAll().then(() => {
        if (stopped()) return;
        for (const { id } of unplanned.all()) plan(id);
        void work();
      });
    },
    async make(revisionId, variant = -1, stage = 1) {
      plan(revisionId);
      const part = one.get(revisionId, variant, stage);
      if (part !== undefined) await make(part, true);
      await lookAgain();
    },
    stateOf: (revisionId, variant = -1, stage = 1) =>
      state.get(revisionId, variant, stage) ?? {
        state: 'none',
        done: 0,
        total: 0,
        atlasSha256: null,
        proposalsJson: '[]',
      },
    stop() {
      life.stopped = true;
    },
  };
}
