/** Making revisions: begun by an author, worked off by the server, and taken up again where that ends in the middle. */
import type { Logger } from 'pino';

import type { RevisionJob } from '#api';
import type { Exercise } from '#core/exercise';
import { refuse, succeed, type Problem, type Result } from '#core/problem';
import { isUnwritable, type Db } from '#server/db';

import { parseExercise, type Exercises } from './revisions.ts';

export interface RevisionJobs {
  /** Begins to make a revision. Refuses what cannot become one at once, and a second one beside the first. */
  begin(exerciseId: number, userId: number, document: Exercise): Result<null>;
  /** The last one of an exercise, or null. */
  of(exerciseId: number): RevisionJob | null;
  /** Takes up what ran when the last process ended. */
  resume(): void;
  /** Resolves when none runs. */
  idle(): Promise<void>;
  stop(): void;
}

export interface RevisionJobsParts {
  readonly db: Db;
  readonly exercises: Pick<Exercises, 'save' | 'hindrance' | 'courseOfExercise'>;
  readonly log: Logger;
  readonly now: () => Date;
}

interface JobRow {
  readonly state: 'running' | 'done' | 'failed';
  readonly done: number;
  readonly total: number;
  readonly revision: number | null;
  readonly problemCode: string | null;
  readonly problemMessage: string | null;
}

const BROKEN: Problem = {
  code: 'not-prepared',
  message: 'The revision could not be made: something went wrong on the server. Try again.',
};

export function createRevisionJobs({ db, exercises, log, now }: RevisionJobsParts): RevisionJobs {
  const find = db.prepare<[number], JobRow>(
    `SELECT state, done, total, revision, problem_code AS problemCode, problem_message AS problemMessage
     FROM revision_jobs WHERE exercise_id = ?`,
  );
  const put = db.prepare<[number, string, number, string]>(
    `INSERT INTO revision_jobs (exercise_id, document_json, begun_by, begun_at, state) VALUES (?, ?, ?, ?, 'running')
     ON CONFLICT (exercise_id) DO UPDATE SET document_json = excluded.document_json, begun_by = excluded.begun_by,
       begun_at = excluded.begun_at, state = 'running', done = 0, total = 0, revision = NULL, problem_code = NULL,
       problem_message = NULL`,
  );
  const running = db.prepare<[], { exerciseId: number; documentJson: string }>(
    "SELECT exercise_id AS exerciseId, document_json AS documentJson FROM revision_jobs WHERE state = 'running'",
  );
  const progress = db.prepare<[number, number, number]>(
    'UPDATE revision_jobs SET done = ?, total = ? WHERE exercise_id = ?',
  );
  const finish = db.prepare<[number, number]>(
    "UPDATE revision_jobs SET state = 'done', revision = ? WHERE exercise_id = ?",
  );
  const fail = db.prepare<[string, string, number]>(
    "UPDATE revision_jobs SET state = 'failed', problem_code = ?, problem_message = ? WHERE exercise_id = ?",
  );
  let stopped = false;
  const underWay = new Set<Promise<void>>();

  async function work(exerciseId: number, document: Exercise): Promise<void> {
    const onProgress = (done: number, total: number): void => {
      if (!stopped) progress.run(done, total, exerciseId);
    };
    const onStored = (revision: number): void => {
      finish.run(revision, exerciseId);
    };
    try {
      const course = exercises.courseOfExercise(exerciseId);
      const made = await exercises.save(course, document, { onProgress, onStored, isStopped: () => stopped });
      if (!made.ok && !stopped) fail.run(made.problem.code, made.problem.message, exerciseId);
    } catch (error) {
      log.error({ exerciseId, error: String(error) }, 'revision failed');
      // Where not even that can be written, it stays as running, and the next server takes it up.
      if (!stopped && !isUnwritable(error)) fail.run(BROKEN.code, BROKEN.message, exerciseId);
    }
  }

  function start(exerciseId: number, document: Exercise): void {
    const job = work(exerciseId, document).finally(() => underWay.delete(job));
    underWay.add(job);
  }

  return {
    begin(exerciseId, userId, document) {
      const hindrance = exercises.hindrance(document);
      if (hindrance !== null) return { ok: false, problem: hindrance };
      if (find.get(exerciseId)?.state === 'running')
        return refuse('revision-running', 'A revision of this exercise is being made. Wait until it is there.');
      put.run(exerciseId, JSON.stringify(document), userId, now().toISOString());
      start(exerciseId, document);
      return succeed(null);
    },
    of(exerciseId) {
      const row = find.get(exerciseId);
      if (row === undefined) return null;
      const { problemCode, problemMessage, ...job } = row;
      const problem = problemCode === null ? null : { code: problemCode, message: problemMessage ?? '' };
      return { ...job, problem };
    },
    resume() {
      for (const { exerciseId, documentJson } of running.all()) start(exerciseId, parseExercise(documentJson));
    },
    async idle() {
      await Promise.all(underWay);
    },
    stop() {
      stopped = true;
    },
  };
}
