/** An issued assignment gets a corrected revision: what was measured is measured anew, and it is told who is affected. */
import type { AssignmentDetail, Correct, Correction, User } from '#api';
import { stageCount, type Exercise } from '#core/exercise';
import { groupBy } from '#core/group';
import { refuse, succeed, type Result } from '#core/problem';
import type { Audit } from '#server/audit';
import type { Db } from '#server/db';
import { parseExercise } from '#server/exercise';
import type { Queue } from '#server/jobs';

export interface Corrections {
  /** The newest revision of the exercise where it is newer than the one that was issued. */
  newerOf(assignmentId: number): AssignmentDetail['newer'];
  of(assignmentId: number): Correction[];
  /** Puts the newest revision in the place of the one that was issued; call for who may change the assignment. */
  correct(assignmentId: number, by: User, correction: Correct): Result<null>;
}

export interface CorrectionsParts {
  readonly db: Db;
  readonly audit: Audit;
  readonly queue: Pick<Queue, 'add' | 'wake'>;
  readonly now: () => Date;
}

interface Issued {
  readonly courseId: number;
  readonly exercise: string;
  readonly revisionId: number;
  readonly revision: number;
  readonly documentJson: string;
  readonly newestId: number;
  readonly newest: number;
  readonly newestJson: string;
}

interface CorrectedRow {
  readonly correctionId: number;
  readonly attemptId: number;
  readonly student: string;
  readonly before: number;
  readonly after: number | null;
  readonly isWaiting: 0 | 1;
}

const ISSUED = `SELECT exercises.course_id AS courseId, exercises.number AS exercise,
         issued.id AS revisionId, issued.number AS revision, issued.document_json AS documentJson,
         newest.id AS newestId, newest.number AS newest, newest.document_json AS newestJson
  FROM assignments JOIN exercise_revisions AS issued ON issued.id = assignments.revision_id
  JOIN exercises ON exercises.id = issued.exercise_id
  JOIN exercise_revisions AS newest ON newest.exercise_id = exercises.id AND newest.number =
    (SELECT max(number) FROM exercise_revisions WHERE exercise_id = exercises.id)
  WHERE assignments.id = ?`;

/** Why the work on one revision is not work on another one; null where it is. */
function unlike(issued: Exercise, newest: Exercise): string | null {
  if (stageCount(issued) !== stageCount(newest))
    return 'The newest revision has another number of stages. Issue it on its own.';
  const names = ({ variants }: Exercise): string => variants.map(({ name }) => name).join('\n');
  return names(issued) === names(newest)
    ? null
    : 'The newest revision has other variants, so that students would get other values. Issue it on its own.';
}

export function createCorrections({ db, audit, queue, now }: CorrectionsParts): Corrections {
  const issued = db.prepare<[number], Issued>(ISSUED);
  const newer = db
    .prepare<[number], number>(
      `SELECT max(newest.number) FROM assignments JOIN exercise_revisions AS issued ON issued.id = assignments.revision_id
       JOIN exercise_revisions AS newest ON newest.exercise_id = issued.exercise_id AND newest.number > issued.number
       WHERE assignments.id = ? HAVING count(*) > 0`,
    )
    .pluck();
  const measured = db.prepare<[number], { attempts: number; students: number }>(
    `SELECT count(*) AS attempts, count(DISTINCT student_id) AS students FROM attempts
     WHERE assignment_id = ? AND state = 'graded'`,
  );
  const isRunning = db.prepare<[number], 1>(
    "SELECT 1 FROM attempts WHERE assignment_id = ? AND state = 'running' LIMIT 1",
  );
  const replace = db.prepare<[number, number]>('UPDATE assignments SET revision_id = ? WHERE id = ?');
  const add = db.prepare<[number, number, number, string, number, string]>(
    `INSERT INTO corrections (assignment_id, from_revision_id, to_revision_id, reason, made_by, made_at)
     VALUES (?, ?, ?, ?, ?, ?)`,
  );
  const graded = db.prepare<[number], { id: number; score: number }>(
    `SELECT attempts.id, coalesce(score, 0) AS score FROM attempts
     WHERE assignment_id = ? AND state = 'graded' ORDER BY attempts.id`,
  );
  const note = db.prepare<[number, number, number]>(
    'INSERT INTO corrected_attempts (correction_id, attempt_id, score_before) VALUES (?, ?, ?)',
  );
  const wait = db.prepare<[number]>("UPDATE attempts SET state = 'waiting' WHERE id = ?");
  const list = db.prepare<[number], Omit<Correction, 'pending' | 'kept' | 'same' | 'changed'>>(
    `SELECT corrections.id, before.number AS "from", after.number AS "to", reason, users.name AS "by", made_at AS "at"
     FROM corrections JOIN exercise_revisions AS before ON before.id = from_revision_id
     JOIN exercise_revisions AS after ON after.id = to_revision_id JOIN users ON users.id = made_by
     WHERE assignment_id = ? ORDER BY corrections.id DESC`,
  );
  const attempts = db.prepare<[number], CorrectedRow>(
    `SELECT correction_id AS correctionId, attempt_id AS attemptId, users.name AS student, score_before AS before,
            CASE WHEN measured_at IS NULL THEN NULL ELSE attempts.score END AS after, attempts.state IN ('waiting', 'running') AS isWaiting
     FROM corrected_attempts JOIN corrections ON corrections.id = correction_id
     JOIN attempts ON attempts.id = attempt_id JOIN users ON users.id = attempts.student_id
     WHERE corrections.assignment_id = ? ORDER BY users.name, attempt_id`,
  );

  return {
    newerOf(assignmentId) {
      const revision = newer.get(assignmentId);
      return revision === undefined
        ? null
        : { revision, ...(measured.get(assignmentId) ?? { attempts: 0, students: 0 }) };
    },

    of(assignmentId) {
      const rows = groupBy(attempts.all(assignmentId), ({ correctionId }) => String(correctionId));
      return list.all(assignmentId).map((correction) => {
        const own = rows.get(String(correction.id)) ?? [];
        const open = own.filter(({ after }) => after === null);
        const done = own.flatMap(({ attemptId, student, before, after }) =>
          after === null ? [] : [{ attemptId, student, before, after }],
        );
        const changed = done.filter(({ before, after }) => before !== after);
        return {
          ...correction,
          pending: open.filter(({ isWaiting }) => isWaiting === 1).length,
          kept: open.filter(({ isWaiting }) => isWaiting === 0).length,
          same: done.length - changed.length,
          changed,
        };
      });
    },

    correct(assignmentId, by, { revision, reason }) {
      const done = db.transaction((): Result<null> => {
        const found = issued.get(assignmentId);
        if (found === undefined) return refuse('not-found', 'There is no such assignment.');
        if (found.newest <= found.revision) return refuse('conflict', 'The newest revision is issued already.');
        if (found.newest !== revision)
          return refuse('conflict', `Revision ${String(found.newest)} was made meanwhile. Look at it first.`);
        const problem = unlike(parseExercise(found.documentJson), parseExercise(found.newestJson));
        if (problem !== null) return refuse('conflict', problem);
        if (isRunning.get(assignmentId) !== undefined)
          return refuse('not-measured', 'A file of this assignment is being measured. Try again in a minute.');
        const id = Number(
          add.run(assignmentId, found.revisionId, found.newestId, reason, by.id, now().toISOString()).lastInsertRowid,
        );
        replace.run(found.newestId, assignmentId);
        const all = graded.all(assignmentId);
        for (const attempt of all) {
          note.run(id, attempt.id, attempt.score);
          wait.run(attempt.id);
          queue.add(attempt.id);
        }
        const { courseId, exercise } = found;
        const before = { revision: found.revision, scores: Object.fromEntries(all.map((one) => [one.id, one.score])) };
        const after = { revision: found.newest, reason };
        audit.note({ by, courseId, what: 'corrected revision', subject: exercise, before, after });
        return succeed(null);
      })();
      if (done.ok) queue.wake();
      return done;
    },
  };
}
